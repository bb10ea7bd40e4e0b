<script lang="ts">
	import { tick, untrack } from 'svelte';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { firmFacts } from '$lib/core/facts/fact-definition';
	import { knownAnswers, minutesOf, partsOf, whichApply } from '$lib/core/items/which-apply';
	import { PRETEND_CLIENTS } from '$lib/core/questionnaires/pretend-clients';
	import { troublesOf } from '$lib/core/questionnaires/troubles';
	import { askBeforeLeaving } from '$lib/ui/asking/list-in-hand.svelte';
	import EndFields from '$lib/ui/asking/EndFields.svelte';
	import QuestionSheet from '$lib/ui/asking/QuestionSheet.svelte';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import EarlierVersions from '$lib/ui/library/EarlierVersions.svelte';
	import FieldProblem from '$lib/ui/forms/FieldProblem.svelte';
	import ChooseClient from '$lib/ui/questionnaires/ChooseClient.svelte';
	import PublicPage from '$lib/ui/questionnaires/PublicPage.svelte';
	import PlanOfQuestionnaire from './PlanOfQuestionnaire.svelte';
	import TryOut from '$lib/ui/questionnaires/TryOut.svelte';

	let { data } = $props();
	const given = untrack(() => data.questionnaire);
	let name = $state(given.name);
	let about = $state(given.about);
	let files = $state(given.files);
	let signed = $state(given.signed);
	let year = $state(given.year === null ? '' : String(given.year));
	let questions = $state(structuredClone(given.questions));
	let ends = $state(structuredClone(given.ends));
	let version = $state(given.version);
	let problem = $state('');
	let fields = $state<Record<string, string>>({});
	let pending = $state(false);
	let leaving = false;
	let pretend = $state('sole-trader');
	let moving = $state(false);
	let moved = $state('');
	let sure = $state(false);

	const facts = $derived(firmFacts(data.place.facts));
	/** a line that is still empty is not kept */
	const kept = $derived(questions.filter(({ title }) => title.trim() !== ''));
	const payload = $derived(
		JSON.stringify({ name, about, files, signed, ends, year: /^\d{4}$/.test(year.trim()) ? Number(year) : null, questions: kept })
	);
	let saved = $state(untrack(() => payload));
	const changed = $derived(payload !== saved);
	askBeforeLeaving(() => changed && !leaving, 'This questionnaire has changes that are not saved. Leave without saving?');

	const asClient = $derived(page.url.searchParams.get('as'));
	const pretended = $derived(PRETEND_CLIENTS.find(({ key }) => key === pretend) ?? PRETEND_CLIENTS[0]);
	const tried = $derived(asClient && data.triedAs ? data.triedAs : { name: pretended.words, known: { ...pretended.known, today: data.today } });
	/** how many a client with these facts is asked before they answer anything that is not known */
	const asked = $derived(whichApply(kept, knownAnswers(kept, { known: tried.known, facts }), { known: tried.known, facts }, data.today));
	const seen = $derived(kept.filter(({ key }) => asked.get(key) === 'yes').length);
	const parts = $derived(partsOf(kept).length);
	const minutes = $derived(minutesOf(kept));
	const wrong = $derived(troublesOf(kept, facts).filter((trouble) => trouble.wrong));
	const answering = $derived(data.out.filter((one) => one.begun + one.notBegun > 0));
	const clients = (n: number) => (n === 1 ? 'one client' : `${n} clients`);

	async function tryAs(client: string | null) {
		// what is being written stays: the page is the same one
		await goto(client ? `?as=${client}` : '?', { keepFocus: true, noScroll: true, replaceState: true });
	}
	/** Brings the first question that was refused before the eyes. */
	async function showWrong() {
		await tick();
		const at = Object.keys(fields)
			.map((path) => /^questions\.(\d+)/.exec(path)?.[1])
			.find((n) => n !== undefined);
		if (at !== undefined) document.querySelector<HTMLElement>(`[aria-label^="Question ${Number(at) + 1}"]`)?.focus();
	}
</script>

<svelte:head><title>{name} · {data.firm.name}</title></svelte:head>

<main id="sheet" class="writing" tabindex="-1">
	<header>
		<p class="text-sm"><a class="act-link" href="/desk/library/questionnaires">Back to the Library</a></p>
		<h1 class="text-[1.65rem] leading-tight">{name || 'Untitled questionnaire'}</h1>
		<p class="mt-1 max-w-3xl text-[0.9rem] text-(--half)">
			{kept.length === 1 ? 'One question' : `${kept.length} questions`}{parts > 1 ? ` in ${parts} parts` : ''}, about {minutes === 1
				? 'a minute'
				: `${minutes} minutes`}.
			{tried.name[0].toUpperCase()}{tried.name.slice(1)}
			{seen === kept.length ? 'sees all of them' : `begins with ${seen} of them`}. Version {version}{#each answering as out (out.version)}, {clients(
					out.begun + out.notBegun
				)}
				{out.begun + out.notBegun === 1 ? 'is' : 'are'} answering {out.version === version ? 'it' : `version ${out.version}`}{/each}.
		</p>
	</header>
	<div class="mt-4 grid gap-x-8 gap-y-6 lg:grid-cols-[minmax(0,1fr)_340px]">
		<div class="min-w-0">
			<fieldset disabled={!data.mayKeep} class="min-w-0">
				<legend class="sr">Questions</legend>
				<QuestionSheet
					bind:questions
					{facts}
					currency={data.place.currency}
					services={data.place.services}
					staff={data.place.staff}
					lists={data.place.lists}
					alwaysKnown={data.alwaysKnown}
					head={false}
				/>
			</fieldset>
			<div class="under">
				{#if data.mayKeep}<p class="mt-2 text-[0.8rem] text-(--half)">
						Enter makes the next question, Tab a follow-up of the one above; “# …” begins a part.
					</p>{/if}
				<fieldset disabled={!data.mayKeep} class="mt-6 min-w-0">
					<legend class="text-[1rem] font-semibold">When all answers are accepted</legend>
					<EndFields bind:ends questions={kept} {facts} staff={data.place.staff} lists={data.place.lists} services={data.place.services} />
				</fieldset>
				{#if data.mayKeep}
					{#if problem}<p class="notice-wrong mt-3" role="alert">{problem}</p>{/if}
					<form
						method="post"
						action="?/save"
						class="mt-3 flex flex-wrap items-center gap-3"
						{@attach enhancedForm({
							onPending: (p) => (pending = p),
							onProblem: (p) => {
								problem = p.message;
								fields = p.fields;
								void showWrong();
							},
							onSuccess: () => {
								problem = '';
								fields = {};
								saved = payload;
								version++;
							}
						})}
					>
						<input type="hidden" name="version" value={version} /><input type="hidden" name="questionnaire" value={payload} />
						<button class="act" disabled={pending || !changed || wrong.length > 0}>{changed ? 'Save as a new version' : 'Saved'}</button>
						<span class="text-[0.8rem] text-(--half)"
							>{wrong.length > 0
								? `Question ${kept.findIndex(({ key }) => key === wrong[0].key) + 1} ${wrong[0].words}.`
								: 'What is out with clients stays as it was.'}</span
						>
					</form>
				{/if}
				{#if data.notBegun.length > 0 && data.maySend && !changed}
					<section class="notice-lamp mt-4">
						<p>
							{clients(data.notBegun.length)[0].toUpperCase()}{clients(data.notBegun.length).slice(1)}
							{data.notBegun.length === 1 ? 'has' : 'have'} an earlier version and {data.notBegun.length === 1 ? 'has' : 'have'} not begun with it.
							<button type="button" class="act-link" aria-expanded={moving} onclick={() => (moving = !moving)}
								>Move them to version {version} …</button
							>
						</p>
						{#if moving}
							<ul class="mt-1 text-sm">
								{#each data.notBegun as one (one.itemId)}<li>
										<a class="act-link" href="/desk/clients/{one.clientId}/item/{one.itemId}">{one.clientName}</a>, {one.contactName}: version {one.version}
										becomes {version}
									</li>{/each}
							</ul>
							<form
								method="post"
								action="?/move"
								class="mt-2"
								{@attach enhancedForm({
									onProblem: (p) => (problem = p.message),
									onSuccess: (answer) => {
										moving = false;
										moved = `${clients(Number(answer?.moved))} now ${Number(answer?.moved) === 1 ? 'has' : 'have'} version ${version}.`;
									}
								})}
							>
								<input type="hidden" name="move" value={JSON.stringify({ itemIds: data.notBegun.map(({ itemId }) => itemId), version })} />
								<button class="act-quiet">Move them</button>
								<span class="text-sm text-(--half)">Nobody is written to; whoever has begun goes on with theirs.</span>
							</form>
						{/if}
					</section>
				{/if}
				{#if moved}<p class="mt-2 text-sm" role="status">{moved[0].toUpperCase()}{moved.slice(1)}</p>{/if}
				{#if data.publicPage || data.mayKeep}<PublicPage
						page={data.publicPage}
						at={data.publicAt}
						name={given.name}
						mayKeep={data.mayKeep}
						answersAt="/desk/library/questionnaires/{given.id}/answers"
					/>{/if}
				<div class="mt-6 grid gap-x-8 gap-y-5 border-t border-(--rule-strong) pt-4 sm:grid-cols-2">
					<fieldset disabled={!data.mayKeep} class="space-y-3">
						<legend class="mb-1 text-[1rem] font-semibold">About it</legend>
						<label class="field"
							><span>Name, as clients read it</span><input bind:value={name} maxlength="120" aria-invalid={fields.name ? 'true' : undefined} /></label
						>
						<FieldProblem id="questionnaire-name" message={fields.name} />
						<label class="field"><span>What it is for</span><textarea rows="2" bind:value={about} maxlength="400"></textarea></label>
						<label class="field"
							><span>The year it asks about, if there is one for every year</span><input
								class="!w-24"
								inputmode="numeric"
								bind:value={year}
								maxlength="4"
							/></label
						>
						<label class="flex items-center gap-2 text-sm"><input type="checkbox" bind:checked={files} /> files may be added to the answers</label>
						<label class="flex items-center gap-2 text-sm"
							><input type="checkbox" bind:checked={signed} /> whoever is asked signs the answers; they are sealed like a letter</label
						>
					</fieldset>
					<div class="space-y-3 text-sm">
						<PlanOfQuestionnaire questionnaire={data.questionnaire} plans={data.place.plans} mayKeep={data.mayKeep} />
						<div class="flex flex-wrap gap-x-5 gap-y-2">
							{#if data.maySend && data.mayKeep}
								<form method="post" action="?/askMany" {@attach enhancedForm({ onProblem: (p) => (problem = p.message) })}>
									<button class="act-link">Ask many clients …</button>
								</form>
							{/if}
							<a class="act-link" href="/desk/library/questionnaires/{given.id}/answers">Answers of all clients</a>
							<a class="act-link" href="/desk/library/questionnaires/{given.id}/file" download>Download as a file</a>
							<a class="act-link" href="/desk/library/questionnaires/{given.id}/pdf" target="_blank" rel="noopener">Blank as PDF</a>
							<a class="act-link" href="/desk/library/questionnaires/{given.id}/pdf?explanations=no" target="_blank" rel="noopener"
								>without explanations</a
							>
						</div>
						{#if data.mayKeep}
							<div class="flex flex-wrap gap-x-5 gap-y-2">
								<form method="post" action="?/copy" {@attach enhancedForm({ onProblem: (p) => (problem = p.message) })}>
									<button class="act-link">Make a copy</button>
								</form>
								<form method="post" action="?/copy" {@attach enhancedForm({ onProblem: (p) => (problem = p.message) })}>
									<input type="hidden" name="for" value="next_year" /><button class="act-link">Copy for the next year</button>
								</form>
							</div>
							<p class="text-(--half)">In the copy for the next year what somebody answered this year is proposed, to be confirmed.</p>
							{#if sure}
								<form
									method="post"
									action="?/remove"
									class="notice-lamp"
									{@attach enhancedForm({
										onPending: (p) => {
											if (p) leaving = true;
										},
										onProblem: (p) => {
											leaving = false;
											problem = p.message;
										}
									})}
								>
									It can no longer be asked; what clients have stays. <button class="act-quiet ml-2">Remove it</button>
								</form>
							{:else}<button class="act-link" onclick={() => (sure = true)}>Remove it from the Library …</button>{/if}
						{/if}
						<EarlierVersions
							versions={data.versions.map((old) => ({ ...old, what: `${old.questions} questions` }))}
							{version}
							mayKeep={data.mayKeep}
							onPending={() => (leaving = true)}
							onProblem={(message) => (problem = message)}
						/>
					</div>
				</div>
			</div>
		</div>
		<aside class="min-w-0" aria-label="Trying it">
			<div class="sticky top-4">
				<h2 class="text-[1.1rem]">Answer it as</h2>
				<ChooseClient
					{pretend}
					client={asClient ? (data.triedAs?.name ?? null) : null}
					onPretend={(key) => {
						pretend = key;
						if (asClient) void tryAs(null);
					}}
					onClient={tryAs}
				/>
				<p class="mt-1 mb-2 text-[0.84rem] text-(--half)">Nothing you answer here is kept.</p>
				{#key `${asClient} ${pretend}`}<TryOut
						questions={kept}
						{facts}
						known={tried.known}
						today={data.today}
						firm={data.firm.name}
						color={data.brandColor}
					/>{/key}
			</div>
		</aside>
	</div>
</main>

<style>
	.writing {
		min-height: calc(100dvh - 47px);
		padding: 18px 28px 40px 0;
		background: var(--sheet);
		outline: none;
	}
	header,
	.under {
		padding-left: 136px;
	}
	@media (max-width: 640px) {
		.writing {
			padding: 18px;
		}
		header,
		.under {
			padding-left: 0;
		}
	}
</style>
