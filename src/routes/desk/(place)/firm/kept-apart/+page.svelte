<script lang="ts">
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';

	let { data } = $props();
	let problem = $state('');
	let pending = $state(false);
	const handling = {
		onPending: (begins: boolean) => (pending = begins),
		onProblem: (what: { message: string }) => void (problem = what.message),
		onSuccess: () => void (problem = '')
	};
</script>

<svelte:head><title>Papers kept apart · {data.firm.name}</title></svelte:head>

<main id="sheet" class="sheet choosing" tabindex="-1">
	<div class="masthead">
		<p class="text-sm"><a class="act-link" href="/desk/firm">Firm</a></p>
		<h1 class="text-[1.65rem] leading-tight">Papers kept apart</h1>
		<p class="max-w-[44rem] text-[0.88rem] text-(--half)">
			{#if !data.scanning}No scanner for harmful content is set up, so papers are handed out as they come. Whoever runs the product sets one up with
				CLAMD.
			{:else if data.waiting > 0}Every paper is looked through before anybody can open it. {data.waiting === 1 ? 'One waits' : `${data.waiting} wait`} for
				it, the oldest since {data.since}; if that is long ago, the scanner does not answer.
			{:else}Every paper is looked through before anybody can open it. None waits for it.{/if}
		</p>
		{#if problem}<p class="notice-wrong mt-2" role="alert">{problem}</p>{/if}
	</div>
	{#if data.papers.length === 0}<p class="py-4 pr-4 pl-4 text-(--half) md:pl-[104px]">Nothing is kept apart.</p>{/if}
	<ul class="pl-4 md:pl-[104px]">
		{#each data.papers as paper (paper.id)}
			<li class="flex flex-wrap items-baseline gap-x-4 border-b border-(--rule) py-2 pr-4">
				<a class="act-link font-semibold wrap-anywhere" href="/desk/clients/{paper.clientId}/papers/{paper.id}">{paper.name}</a>
				<span>{paper.clientName}</span>
				<span class="text-(--lamp-deep)"
					>{paper.found ? `${paper.found} was found in it` : 'the scanner could not look through it: too large, as a rule'}</span
				>
				<span class="text-[0.88rem] text-(--half)">{paper.sender ? `from ${paper.sender}, ` : ''}{paper.came}</span>
				<form method="post" action="?/remove" class="ml-auto flex gap-3" {@attach enhancedForm(handling)}>
					<input type="hidden" name="paperId" value={paper.id} />
					<button class="act-quiet" disabled={pending} aria-label="Remove {paper.name}">Remove</button>
					<button class="act-link text-sm" formaction="?/letOut" disabled={pending} aria-label="Let {paper.name} out all the same"
						>Let it out all the same</button
					>
				</form>
			</li>
		{/each}
	</ul>
</main>
