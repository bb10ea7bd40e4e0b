<script lang="ts">
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import LibraryShelves from '$lib/ui/library/LibraryShelves.svelte';
	import ReadyMade from '$lib/ui/library/ReadyMade.svelte';

	let { data } = $props();
	let problem = $state('');
	const taken = $derived(new Set(data.forms.map((form) => form.name)));
	const questions = (n: number) => (n === 1 ? 'one question' : `${n} questions`);
</script>

<svelte:head><title>Forms for clients · {data.firm.name}</title></svelte:head>

<main id="sheet" class="sheet shelf" tabindex="-1">
	<div class="masthead">
		<div class="flex flex-wrap items-baseline gap-x-4 gap-y-2">
			<h1 class="text-[1.65rem] leading-tight">Library</h1>
			<p class="text-[0.88rem] text-(--half)">Forms with which clients ask for something by themselves. What they send comes into Rounds.</p>
			{#if data.mayKeep}
				<form method="post" action="?/make" class="ml-auto" {@attach enhancedForm({ onProblem: (p) => (problem = p.message) })}>
					<button class="act">New form</button>
				</form>
			{/if}
		</div>
		<LibraryShelves at="forms" />
		{#if problem}<p class="notice-wrong mt-2" role="alert">{problem}</p>{/if}
	</div>
	{#if data.forms.length === 0}<p class="py-6 pl-[136px] text-(--half)">
			Clients find no form yet, so this part of their page is not shown. Copy a ready-made one.
		</p>{:else}<h2 class="section-head">The firm’s own</h2>{/if}
	<ul>
		{#each data.forms as form (form.id)}
			<li>
				<a class="ledger-row kind-row" href="/desk/library/forms/{form.id}" data-row>
					<span class="kind">{questions(form.questions)}</span>
					<span class="min-w-0 truncate"><b>{form.name}</b> <span class="text-(--half)">{form.about}</span></span>
					<span class="aside"
						>{form.services.length > 0 ? `only with ${form.services.join(', ')}` : ''}{form.used > 0
							? ` · used ${form.used} ${form.used === 1 ? 'time' : 'times'}`
							: ''}</span
					>
					<span class="aside">{form.changedBy}, {form.changedAt}</span>
				</a>
			</li>
		{/each}
	</ul>
	<ReadyMade all={data.ready} {taken} mayKeep={data.mayKeep} onProblem={(message) => (problem = message)} />
</main>
