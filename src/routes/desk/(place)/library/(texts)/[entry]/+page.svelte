<script lang="ts">
	import { MESSAGE_TEXT_KIND } from '$lib/core/messages/message-texts';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import LibraryText from '$lib/ui/library/LibraryText.svelte';
	import WordsShown from '$lib/ui/library/WordsShown.svelte';

	let { data } = $props();
	const text = $derived(data.text);
	let problem = $state('');
	let removing = $state(false);
	const act = enhancedForm({ onProblem: (p) => (problem = p.message) });
</script>

<div class="space-y-4 p-5 pr-10">
	<header>
		<h2 class="text-[1.2rem]">{text.name}</h2>
		<p class="text-sm text-(--half)">
			{MESSAGE_TEXT_KIND[text.kind].words}, by {text.mine ? 'you' : text.madeBy}, as of {data.changedAt}{text.tags.length > 0
				? ` · ${text.tags.join(', ')}`
				: ''}
		</p>
	</header>
	{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
	{#if MESSAGE_TEXT_KIND[text.kind].byItself}
		<form method="post" action="?/use" class="notice-lamp flex flex-wrap items-center justify-between gap-3" {@attach act}>
			<span
				>{text.inUse
					? 'Used automatically, instead of the product’s own words.'
					: 'Not in use: the product’s own words go out, or another text.'}</span
			>
			<input type="hidden" name="use" value={text.inUse ? 'no' : 'yes'} />
			{#if data.mayKeep}<button class="act-quiet">{text.inUse ? 'Stop using it' : 'Use it automatically'}</button>{/if}
		</form>
	{/if}
	{#if data.mayKeep}
		{#key `${text.id} ${text.version}`}
			<LibraryText {text} version={text.version} action="?/change" groups={data.groups} shelves={data.shelves} words="Save the text" fixedKind />
		{/key}
		<div class="flex flex-wrap gap-x-5 gap-y-2 border-t border-(--rule-strong) pt-3">
			<form method="post" action="?/copy" {@attach act}><button class="act-link">Make a copy</button></form>
			{#if removing}
				<form method="post" action="?/remove" class="flex flex-wrap gap-x-3" {@attach act}>
					<span>“{text.name}” is removed from the Library; what was sent with it stays.</span>
					<button class="act-link">Remove it</button><button type="button" class="act-link" onclick={() => (removing = false)}>Cancel</button>
				</form>
			{:else}<button class="act-link" onclick={() => (removing = true)}>Remove it from the Library …</button>{/if}
		</div>
	{:else}<WordsShown subject={text.subject} body={text.body} />{/if}
</div>
