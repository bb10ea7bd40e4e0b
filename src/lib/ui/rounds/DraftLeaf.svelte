<script lang="ts">
	import { DRAFT_STANDS } from '$lib/core/requests/many-acts';
	import { enhancedForm } from '../forms/enhanced-form';
	import { leafKeys } from '../desk/leaf-keys';
	import type { LeafProps } from './leaf-props';

	let { leaf, mine, pending, problem, handling }: LeafProps<'draft'> = $props();
</script>

<div class="space-y-4 p-5 pr-10" {@attach leafKeys}>
	<header>
		<h2 class="text-[1.2rem]">{leaf.draft.title || 'Untitled request'} waits to be sent</h2>
		<p class="text-sm text-(--half)">
			<a class="underline decoration-dotted" href="/desk/clients/{leaf.draft.clientId}">{leaf.draft.clientName}</a>{leaf.draft.listName
				? ` · from “${leaf.draft.listName}”`
				: ''} · {leaf.draft.contactName ? `to ${leaf.draft.contactName}` : 'to nobody yet'}
		</p>
	</header>
	{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
	{#if leaf.draft.problem && !problem}<p class="notice-lamp">It did not go by itself: {leaf.draft.problem}</p>{/if}
	{#if leaf.draft.stands}<p class="notice-lamp">{DRAFT_STANDS[leaf.draft.stands]}</p>{/if}
	<ul class="text-sm">
		{#each leaf.draft.content.lines as line (line.key)}<li class="border-b border-(--rule-strong) py-1.5" class:out={line.out}>
				{line.title}{#if line.out && line.because}<span class="text-(--lamp-deep)">&nbsp;{line.because}</span>{/if}
			</li>{/each}
	</ul>
	{#if mine('send_request')}<div class="flex flex-wrap gap-2" data-acts>
			<form method="post" action="/desk/drafts?/send" {@attach enhancedForm(handling)}>
				<input type="hidden" name="draftId" value={leaf.draft.id} />
				<button class="act" disabled={pending || leaf.draft.stands !== null}>Send it and open next</button>
			</form>
			<a class="act-quiet" href="/desk/clients/{leaf.draft.clientId}/ask?draft={leaf.draft.id}">Change it first</a>
			<form method="post" action="/desk/drafts?/remove" {@attach enhancedForm(handling)}>
				<input type="hidden" name="draftId" value={leaf.draft.id} /><button class="act-quiet" disabled={pending}>Delete the draft</button>
			</form>
		</div>{/if}
</div>

<style>
	.out {
		color: var(--half);
		text-decoration: line-through;
	}
</style>
