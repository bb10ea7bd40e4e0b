<script lang="ts">
	import type { Snippet } from 'svelte';
	import { enhancedForm } from '../forms/enhanced-form';

	let {
		title,
		action,
		mayChange,
		stays = false,
		shown,
		beside,
		fields
	}: {
		title: string;
		/** the form action that takes the change */ action: string;
		mayChange: boolean;
		/** adds one of several, and stays open for the next */ stays?: boolean;
		/** how it stands */ shown: Snippet;
		/** what is changed apart from the form, above it */ beside?: Snippet;
		/** the fields of the form, given what is wrong with which */ fields: Snippet<[Record<string, string>]>;
	} = $props();
	let open = $state(false);
	let pending = $state(false);
	let problem = $state('');
	let wrong = $state<Record<string, string>>({});
	const close = () => {
		open = false;
		problem = '';
		wrong = {};
	};
</script>

<section class={open ? 'md:col-span-2' : ''}>
	<div class="flex items-baseline justify-between gap-3">
		<h2 class="text-[1.05rem]">{title}</h2>
		{#if mayChange}<button class="act-link text-sm" aria-expanded={open} aria-label="Change {title}" onclick={() => (open ? close() : (open = true))}
				>{open ? (stays ? 'Done' : 'Cancel') : 'Change …'}</button
			>{/if}
	</div>
	{#if open}
		{@render beside?.()}
		<form
			method="post"
			action="?/{action}"
			class="mt-3 max-w-3xl space-y-3"
			{@attach enhancedForm({
				onPending: (p) => (pending = p),
				onProblem: (p) => {
					problem = p.message;
					wrong = p.fields;
				},
				onSuccess: () => {
					if (!stays) return close();
					problem = '';
					wrong = {};
				}
			})}
		>
			{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
			{@render fields(wrong)}
			<button class="act" disabled={pending}>{stays ? 'Add' : 'Save'}</button>
		</form>
	{:else}{@render shown()}{/if}
</section>
