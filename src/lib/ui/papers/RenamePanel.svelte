<script lang="ts">
	import { NAME_PARTS, namesByPattern, whatIsWrong, type PaperToName } from '$lib/core/papers/name-pattern';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';

	/** Names several papers by a pattern, and shows beforehand what they will be called. */
	let {
		papers,
		action,
		called,
		pending,
		handling,
		leave
	}: {
		papers: readonly (PaperToName & { id: string })[];
		/** where the form goes */ action: string;
		/** how many there are, in words */ called: string;
		pending: boolean;
		handling: Parameters<typeof enhancedForm>[0];
		leave: () => void;
	} = $props();
	let pattern = $state('{name}');
	const wrong = $derived(whatIsWrong(pattern));
	const names = $derived(wrong ? [] : namesByPattern(pattern, papers));
</script>

<form method="post" {action} class="panel" {@attach enhancedForm(handling)}>
	{#each papers as paper (paper.id)}<input type="hidden" name="paper" value={paper.id} />{/each}
	<label class="field grow"><span>Call {called}</span><input name="pattern" bind:value={pattern} maxlength="200" autocomplete="off" /></label>
	<button class="act" disabled={pending || wrong !== null}>Rename</button>
	<button type="button" class="act-link" onclick={leave}>Leave it</button>
	<p class="w-full text-sm text-(--half)">
		{#each Object.entries(NAME_PARTS) as [part, words] (part)}<button
				type="button"
				class="act-link mr-3"
				title={words}
				onclick={() => (pattern += `{${part}}`)}>{`{${part}}`}</button
			>{/each}
	</p>
	<p class="w-full text-sm" aria-live="polite">
		{#if wrong}{wrong}{:else}{names.slice(0, 3).join(', ')}{names.length > 3 ? ` and ${names.length - 3} more` : ''}{/if}
	</p>
</form>
