<script lang="ts">
	import { answerOfFact } from '$lib/core/items/questions';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import FactField from '$lib/ui/record/FactField.svelte';
	import type { Asking } from './asking.svelte';

	/** The facts that decide what is asked. What is not known is said here, or asked of the client. */
	let { asking }: { asking: Asking } = $props();
	let saying = $state<string | null>(null);
	const firstOf = (name: string) => name.split(' ')[0];
</script>

<h2 class="text-[1.1rem]">Why it looks like this</h2>
<dl class="facts mt-2 mb-5">
	{#each asking.deciding as { name, definition, fact } (name)}
		<div>
			<dt>{definition.label}</dt>
			<dd>
				{#if fact}{fact.words}{fact.saidBy ? `, said ${firstOf(fact.saidBy)}` : ''}
				{:else if saying === name}
					<form
						method="post"
						action="?/sayFact"
						class="space-y-2"
						{@attach enhancedForm({
							onProblem: (p) => (asking.problem = p.message),
							onSuccess: () => {
								saying = null;
								return asking.fitAgain();
							}
						})}
					>
						<input type="hidden" name="name" value={name} />
						<FactField is={definition.is} value="" label={definition.label} />
						<button class="act-quiet">Note it</button>
					</form>
				{:else}
					<b class="text-(--lamp-deep)">not known</b>
					<span class="block"
						>{#if answerOfFact(definition)}<button class="act-link" onclick={() => asking.askThem(definition)}>Ask them</button> ·
						{/if}<button class="act-link" onclick={() => (saying = name)}>I know it</button></span
					>
				{/if}
			</dd>
		</div>
	{/each}
</dl>
