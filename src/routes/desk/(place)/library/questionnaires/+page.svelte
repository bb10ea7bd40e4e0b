<script lang="ts">
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import LibraryShelves from '$lib/ui/library/LibraryShelves.svelte';
	import ReadyMade from '$lib/ui/library/ReadyMade.svelte';

	let { data } = $props();
	let problem = $state('');
	let file = $state('');
	let brought = $state<{ id: string; leftOut: string[] } | null>(null);
	let bring = $state<HTMLFormElement>();
	const taken = $derived(new Set(data.questionnaires.map(({ name }) => name)));
	const count = (n: number) => (n === 1 ? 'one question' : `${n} questions`);
	const outWords = ({ open, toLookAt, settled, isPublic }: (typeof data.questionnaires)[number]) =>
		[
			isPublic ? 'open to anybody' : '',
			open > 0 ? `${open} answering` : '',
			toLookAt > 0 ? `${toLookAt} to look at` : '',
			settled > 0 ? `${settled} accepted` : ''
		]
			.filter(Boolean)
			.join(' · ');
	async function read(input: HTMLInputElement) {
		const [chosen] = input.files ?? [];
		if (!chosen) return;
		problem = '';
		// larger ones are refused by their size, unread
		if (chosen.size > 1_500_000) problem = 'This file is too large for a questionnaire.';
		else {
			file = await chosen.text();
			queueMicrotask(() => bring?.requestSubmit());
		}
		input.value = '';
	}
</script>

<svelte:head><title>Questionnaires · {data.firm.name}</title></svelte:head>

<main id="sheet" class="sheet shelf" tabindex="-1">
	<div class="masthead">
		<div class="flex flex-wrap items-baseline gap-x-4 gap-y-2">
			<h1 class="text-[1.65rem] leading-tight">Library</h1>
			<p class="text-[0.88rem] text-(--half)">
				What you ask clients about themselves. Every answer can become a fact, and a fact is not asked twice.
			</p>
			{#if data.mayKeep}
				<div class="ml-auto flex items-center gap-4">
					<form
						method="post"
						action="?/bring"
						bind:this={bring}
						{@attach enhancedForm({
							onProblem: (p) => (problem = p.message),
							onSuccess: (answer) => {
								problem = '';
								file = '';
								brought = answer as unknown as typeof brought;
							}
						})}
					>
						<input type="hidden" name="file" value={file} />
						<label class="act-link cursor-pointer focus-within:outline-2"
							>Add from a file …<input
								class="sr"
								type="file"
								accept="application/json,.json"
								onchange={(event) => read(event.currentTarget)}
							/></label
						>
					</form>
					<form method="post" action="?/make" {@attach enhancedForm({ onProblem: (p) => (problem = p.message) })}>
						<button class="act">New questionnaire</button>
					</form>
				</div>
			{/if}
		</div>
		<LibraryShelves at="questionnaires" />
		{#if problem}<p class="notice-wrong mt-2" role="alert">{problem}</p>{/if}
		{#if brought}
			<div class="notice-lamp mt-2" role="status">
				Added. <a class="act-link" href="/desk/library/questionnaires/{brought.id}">Look at it</a>
				{#each brought.leftOut as words (words)}<p>{words}</p>{/each}
			</div>
		{/if}
	</div>
	{#if data.questionnaires.length === 0}<p class="py-6 pl-[136px] text-(--half)">
			No questionnaire yet. Copy a ready-made one below, or write your own.
		</p>{:else}<h2 class="section-head">The firm’s own</h2>{/if}
	<ul>
		{#each data.questionnaires as one (one.id)}
			<li>
				<a class="ledger-row kind-row" href="/desk/library/questionnaires/{one.id}" data-row>
					<span class="kind">{count(one.questions)}</span>
					<span class="min-w-0 truncate"><b>{one.name}</b> <span class="text-(--half)">{one.about}</span></span>
					<span class="aside">{outWords(one)}</span>
					<span class="aside">{one.changedBy}, {one.changedAt}</span>
				</a>
			</li>
		{/each}
	</ul>
	<ReadyMade all={data.ready} {taken} mayKeep={data.mayKeep} onProblem={(message) => (problem = message)} />
</main>
