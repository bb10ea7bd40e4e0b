<script lang="ts">
	import { tick, untrack } from 'svelte';
	import { beforeNavigate, goto, invalidateAll, replaceState } from '$app/navigation';
	import { page } from '$app/state';
	import { FACTS, type FactDefinition, type FactName } from '$lib/core/clients/facts';
	import { fillLetter, mergeFieldsOf } from '$lib/core/letters/letter-document';
	import { AUTOMATIC_FIELDS, fillText, mergeFieldWords, unfilledFields } from '$lib/core/letters/merge-fields';
	import { answerOfFact } from '$lib/core/items/questions';
	import { askedAlready } from '$lib/core/requests/asked-already';
	import { asRequestLine, keyOfWrongLine, newLine, type DraftContent, type LineInHand } from '$lib/core/requests/request-list';
	import { dateWords, periodWords } from '$lib/words/dates';
	import { askDesk } from '$lib/ui/desk/ask-desk';
	import LineList from '$lib/ui/asking/LineList.svelte';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import FactField from '$lib/ui/record/FactField.svelte';
	import PreviewAsking from '$lib/ui/asking/PreviewAsking.svelte';
	import TextChoice from '$lib/ui/library/TextChoice.svelte';
	import WordsField from '$lib/ui/library/WordsField.svelte';

	let { data } = $props();
	const given = untrack(() => data);
	const kept = given.draft?.content as (Omit<DraftContent, 'lines'> & { lines: LineInHand[] }) | undefined;
	const firstContact = given.client.contacts.find((c) => c.hasAccess)?.id ?? given.client.contacts[0].id;

	let writing = $state(given.draft !== null || given.begun !== null);
	let title = $state(kept?.title ?? given.begun?.title ?? '');
	let contactId = $state(kept?.contactId && given.values[kept.contactId] ? kept.contactId : firstContact);
	let message = $state(kept?.message || given.begun?.message || given.messages[firstContact]);
	let others = $state<string[]>(kept?.others ?? []);
	let each = $state(kept?.each ?? false);
	let quiet = $state(kept?.quiet ?? false);
	let tellNow = $state(kept?.tellNow ?? false);
	let chasePlan = $state(kept?.chasePlan ?? '');
	let withInvitation = $state(kept?.withInvitation ?? true);
	let lines = $state<LineInHand[]>(kept?.lines ?? given.begun?.lines ?? []);
	let files = $state({ ...given.files });
	let letterValues = $state<Record<string, string>>({ ...given.fromRecord, ...(kept?.values ?? {}) });
	const list = given.draft
		? given.draft.listId
			? { id: given.draft.listId, version: given.draft.listVersion! }
			: null
		: (given.begun?.list ?? null);
	const listName = given.draft?.listName ?? given.begun?.name ?? null;
	const draftId = given.draft?.id ?? crypto.randomUUID();
	let version = $state(given.draft?.version ?? null);
	let keptWords = $state(given.draft ? 'Saved as a draft.' : '');
	let open = $state<string | null>(null);
	let problem = $state('');
	let fields = $state<Record<string, string>>({});
	let pending = $state(false);
	let askingFact = $state<FactName | null>(null);
	let previewing = $state(false);
	let leaving = false;
	let first = $state<{ add(kind: 'paper'): void }>();

	const contact = $derived(data.client.contacts.find((c) => c.id === contactId)!);
	const going = $derived(lines.filter((l) => !l.out));
	const left = $derived(lines.length - going.length);
	/** lines that would ask for something that is open with them already */
	const twice = $derived(
		going.flatMap((line) => {
			const thing = askedAlready(line, data.openNow);
			return thing ? [{ line, thing }] : [];
		})
	);
	function leaveOut(several: typeof twice) {
		for (const { line, thing } of several) {
			line.out = true;
			line.overridden = true;
			line.because = `left out: asked for already in “${thing.requestTitle}”`;
		}
	}
	const missing = $derived([...new Set(going.flatMap((l) => l.missing))] as FactName[]);
	const told = $derived([contact, ...data.client.contacts.filter((c) => others.includes(c.id))]);
	const without = $derived(told.filter((c) => !c.hasAccess));
	/** of those who are told, who was told of something today already */
	const already = $derived(told.filter((c) => data.toldToday.includes(c.id)));
	const values = $derived({ ...letterValues, ...data.values[contactId] });
	const asked = $derived(
		[...new Set(going.flatMap((l) => (l.document ? mergeFieldsOf(l.document) : [])))].filter(
			(name) => !(AUTOMATIC_FIELDS as readonly string[]).includes(name)
		)
	);
	const unfilled = $derived(unfilledFields(asked, values));
	const payload = $derived(
		JSON.stringify({
			contactId,
			others,
			each: each && others.length > 0,
			title,
			message,
			quiet,
			tellNow,
			chasePlan: chasePlan || null,
			withInvitation: without.length > 0 && withInvitation,
			idempotencyKey: draftId,
			list,
			lines: going.map((l) => asRequestLine(l, letterValues))
		})
	);
	const content = $derived(
		JSON.stringify({
			contactId,
			others,
			each,
			title,
			message,
			quiet,
			tellNow,
			chasePlan: chasePlan || null,
			withInvitation,
			values: letterValues,
			lines
		})
	);
	/** Facts that decide lines of this list, known or not. */
	const deciding = $derived(
		[...new Set(lines.flatMap((l) => factsIn(l.condition)))].map((name) => ({ name, fact: data.facts.find((fact) => fact.name === name) ?? null }))
	);
	function factsIn(condition: LineInHand['condition']): FactName[] {
		if (!condition) return [];
		if (condition.kind === 'all' || condition.kind === 'any') return condition.of.flatMap(factsIn);
		return condition.kind === 'fact' ? [condition.fact] : [];
	}

	// looking at a list makes no draft: it begins with the first change
	let lastKept = untrack(() => content);
	let keeping: Promise<void> | null = null;
	async function keep(): Promise<void> {
		if (keeping) await keeping;
		const now = content;
		if (leaving || pending || !writing || now === lastKept || lines.length === 0) return;
		keeping = (async () => {
			const answer = await askDesk<{ version: number }>(`${page.url.pathname}?/keep`, {
				draftId,
				version: version === null ? '' : String(version),
				list: JSON.stringify(list),
				content: now
			});
			if (answer) {
				version = answer.version;
				lastKept = now;
				keptWords = 'Saved as a draft.';
				// it has its address from now on: loaded again, the page comes back with it
				if (page.url.searchParams.get('draft') !== draftId) replaceState(`?draft=${draftId}`, {});
			} else keptWords = 'Not saved: it did not reach us, or somebody else is working on it. Your words are still here.';
		})();
		await keeping;
		keeping = null;
	}
	$effect(() => {
		if (!writing || content === lastKept) return;
		keptWords = '';
		const timer = setTimeout(() => void keep(), 1200);
		return () => clearTimeout(timer);
	});
	beforeNavigate((navigation) => {
		if (leaving || !writing || pending || content === lastKept || lines.length === 0) return;
		if (navigation.willUnload) return navigation.cancel();
		void keep();
	});

	async function fromScratch() {
		writing = true;
		await tick();
		first?.add('paper');
		lastKept = content;
	}
	/** The list as it fits now that more is known. Lines that a person decided stay as they are. */
	async function fitAgain() {
		askingFact = null;
		await invalidateAll();
		if (!data.begun) return;
		for (const line of lines) {
			const fresh = data.begun.lines.find((other) => other.key === line.key);
			if (!fresh || line.overridden) continue;
			line.out = fresh.out;
			line.because = fresh.because;
			line.missing = fresh.missing;
		}
	}
	function askThem(name: FactName) {
		const known = lines.find((line) => line.kind === 'question' && line.spec.fact === name);
		if (known) {
			known.out = false;
			known.required = true;
			open = known.key;
			return;
		}
		const label = (FACTS[name] as FactDefinition).label;
		lines.unshift(
			newLine({
				key: crypto.randomUUID(),
				kind: 'question',
				heading: lines[0]?.heading ?? '',
				title: (FACTS[name] as FactDefinition).is.kind === 'yes_no' ? `${label}?` : label,
				why: 'What else we need from you depends on it.',
				acceptsItself: true,
				spec: { answer: answerOfFact(name), fact: name },
				due: lines[0]?.due ?? { from: 'asked', offset: 5, unit: 'business_days', roll: 'none' },
				dueOn: lines[0]?.dueOn || data.inTen
			})
		);
	}
	async function remember(line: LineInHand) {
		if (!list) return;
		const done = await askDesk(`${page.url.pathname}?/remember`, { listId: list.id, lineKey: line.key, decision: line.out ? 'out' : 'in' });
		if (done) {
			line.overridden = false;
			line.because = 'you decided so for this client';
		}
	}
	/** The months whose statements are asked for afterwards, this one first: five years, as YYYY-MM. */
	const months = Array.from({ length: 61 }, (_, back) => {
		const month = Number(given.today.slice(0, 4)) * 12 + Number(given.today.slice(5, 7)) - 1 - back;
		return `${Math.floor(month / 12)}-${String((month % 12) + 1).padStart(2, '0')}`;
	});
	let to = $state(months[1]);
	let from = $state(`${months[1].slice(0, 4)}-01`);
	/** One line for each account and month that was never asked for. */
	async function addStatements(event: SubmitEvent) {
		event.preventDefault();
		const answer = await askDesk<{ statements: { title: string; heading: string; account: { id: string; from: string; to: string } }[] }>(
			`${page.url.pathname}?/spreadStatements`,
			{ from, to }
		);
		if (!answer) return void (problem = 'Choose a first and a last month, the first one earlier.');
		problem = answer.statements.length === 0 ? 'Every statement of that time was asked for already.' : '';
		for (const one of answer.statements) {
			if (lines.some((line) => line.account?.id === one.account.id && line.account.to === one.account.to)) continue;
			lines.push(
				newLine({
					key: `${one.account.id.slice(0, 8)} ${one.account.to}`,
					kind: 'paper',
					heading: one.heading,
					title: one.title,
					why: 'All pages, as the bank gives it out.',
					spec: { slots: [], statementsOf: 'none' },
					due: { from: 'asked', offset: 10, unit: 'business_days', roll: 'none' },
					dueOn: data.inTen,
					account: one.account
				})
			);
		}
	}
	async function dropDraft() {
		leaving = true;
		if (version !== null) await askDesk(`${page.url.pathname}?/drop`, { draftId });
		await goto(`/desk/clients/${data.client.id}`, { invalidateAll: true });
	}
	/** Server messages name a line among those that go; shown with its title. */
	const problemLine = $derived(keyOfWrongLine(fields, going));
	const firstOf = (name: string) => name.split(' ')[0];
	const sendWords = $derived(quiet ? 'Put it up' : told.length === 1 ? `Send to ${firstOf(contact.name)}` : `Send to ${told.length} people`);
</script>

{#snippet choosingMonth()}
	{#each months as month (month)}<option value={month}>{periodWords('en', { kind: 'month', from: `${month}-01` })}</option>{/each}
{/snippet}

<svelte:head><title>Asking {data.client.name} · {data.firm.name}</title></svelte:head>

<div class="grid lg:h-[calc(100dvh-47px)] lg:grid-cols-[minmax(0,1fr)_390px]">
	<main id="sheet" class="line-sheet overflow-auto pb-10" tabindex="-1">
		<div class="line-masthead">
			<p class="text-sm"><a class="act-link" href="/desk/clients/{data.client.id}">Back to {data.client.name}</a></p>
			<h1 class="mt-1 text-[1.65rem] leading-tight">{listName ? `${listName}: ${data.client.name}` : `Asking ${data.client.name}`}</h1>
			{#if writing}<p class="mt-1 text-[0.9rem] text-(--half)">
					{going.length}
					{going.length === 1 ? 'line goes' : 'lines go'}{left > 0 ? `, ${left} left out, each with its reason` : ''}{missing.length > 0
						? `; ${missing.length === 1 ? 'one thing' : `${missing.length} things`} should be known first`
						: ''}.
				</p>
			{:else}<p class="mt-1 text-[0.9rem] text-(--half)">
					Begin with a list of the Library, or with an empty sheet. The list itself stays as it is.
				</p>{/if}
		</div>

		{#if writing && twice.length > 0}
			<div class="notice-lamp mx-[104px] mb-2">
				<p>{twice.length === 1 ? 'One of these is' : `${twice.length} of these are`} asked for already, and still open:</p>
				<ul class="mt-1 list-disc pl-5">
					{#each twice as { line, thing } (line.key)}<li>
							{line.title} <span class="text-(--half)">in “{thing.requestTitle}”{thing.dueOn ? `, due ${dateWords('en', thing.dueOn)}` : ''}</span>
						</li>{/each}
				</ul>
				<button type="button" class="act-link mt-1" onclick={() => leaveOut(twice)}>Leave {twice.length === 1 ? 'it' : 'them'} out</button>
			</div>
		{/if}
		{#if !writing}
			{#if data.drafts.length > 0}
				<h2 class="head">Begun already</h2>
				<ul>
					{#each data.drafts as draft (draft.id)}<li class="line">
							<span class="kind">draft</span>
							<a class="no-underline" href="?draft={draft.id}" data-sveltekit-reload
								><b>{draft.title || 'Untitled request'}</b>
								<span class="text-(--half)">{draft.lines} {draft.lines === 1 ? 'line' : 'lines'}, {draft.changedBy}, {draft.changedAt}</span></a
							>
						</li>{/each}
				</ul>
			{/if}
			{#snippet choice(href: string, list: { name: string; about: string; lines: number; fits: boolean })}
				<li class="line">
					<span class="kind">{list.lines} lines</span>
					<a class="no-underline" {href} data-sveltekit-reload
						><b>{list.name}</b> <span class="text-(--half)">{list.about}</span>{#if list.fits}<span class="text-(--lamp-deep)">
								fits their services</span
							>{/if}</a
					>
				</li>
			{/snippet}
			<h2 class="head">The firm’s lists</h2>
			<ul>
				{#each data.lists.toSorted((a, b) => Number(b.fits) - Number(a.fits)) as list (list.id)}{@render choice(`?list=${list.id}`, list)}{/each}
				<li class="line">
					<span class="kind">empty</span><button class="text-left" onclick={fromScratch}
						><b>From scratch</b> <span class="text-(--half)">an empty sheet</span></button
					>
				</li>
			</ul>
			{#if data.ready.length > 0}
				<h2 class="head">Ready-made</h2>
				<ul>
					{#each data.ready.toSorted((a, b) => Number(b.fits) - Number(a.fits)) as list (list.id)}{@render choice(`?ready=${list.id}`, list)}{/each}
				</ul>
			{/if}
		{:else}
			<LineList
				bind:this={first}
				bind:lines
				bind:files
				bind:open
				of="request"
				today={data.today}
				dueOn={data.inTen}
				services={data.services}
				letter={data.letter}
				place={data.place}
				calendar={data.calendar}
				several={data.client.contacts.length > 1}
				wrong={problemLine}
				remember={list ? remember : undefined}
			/>
		{/if}
	</main>
	<aside class="overflow-auto border-l border-(--rule-strong) bg-(--leaf) p-5" aria-label="To whom, and when">
		{#if writing}
			{#if deciding.length > 0}
				<h2 class="text-[1.1rem]">Why it looks like this</h2>
				<dl class="facts mt-2 mb-5">
					{#each deciding as { name, fact } (name)}
						<div>
							<dt>{FACTS[name].label}</dt>
							<dd>
								{#if fact}{fact.words}{fact.saidBy ? `, said ${firstOf(fact.saidBy)}` : ''}
								{:else if askingFact === name}
									<form
										method="post"
										action="?/sayFact"
										class="space-y-2"
										{@attach enhancedForm({ onProblem: (p) => (problem = p.message), onSuccess: fitAgain })}
									>
										<input type="hidden" name="name" value={name} />
										<FactField
											{name}
											value=""
											label={FACTS[name].label}
											choice={(key) =>
												(FACTS[name] as FactDefinition).is.kind === 'choice'
													? ((FACTS[name] as { is: { choices: Record<string, string> } }).is.choices[key] ?? key)
													: key}
										/>
										<button class="act-quiet">Note it</button>
									</form>
								{:else}
									<b class="text-(--lamp-deep)">not known</b>
									<span class="block"
										><button class="act-link" onclick={() => askThem(name)}>Ask them</button> ·
										<button class="act-link" onclick={() => (askingFact = name)}>I know it</button></span
									>
								{/if}
							</dd>
						</div>
					{/each}
				</dl>
			{/if}
			{#if data.accounts > 0}
				<details class="mb-4 text-sm">
					<summary class="cursor-pointer text-(--half)">Statements of past months, by account …</summary>
					<form class="mt-2 flex flex-wrap items-end gap-2" onsubmit={addStatements}>
						<label class="field"><span>From</span><select bind:value={from}>{@render choosingMonth()}</select></label>
						<label class="field"><span>to</span><select bind:value={to}>{@render choosingMonth()}</select></label>
						<button class="act-quiet">Add what was not asked yet</button>
					</form>
				</details>
			{/if}
			<h2 class="text-[1.1rem]">To whom, and when</h2>
			{#if problem}<p class="notice-wrong mt-3" role="alert">{problem}</p>{/if}
			<div class="mt-3 space-y-3">
				<label class="field"
					><span>To</span><select
						bind:value={contactId}
						onchange={() => {
							others = others.filter((id) => id !== contactId);
							if (Object.values(data.messages).includes(message)) message = data.messages[contactId];
						}}
						>{#each data.client.contacts as c (c.id)}<option value={c.id}>{c.name}, {c.email ?? 'no e-mail address yet'}</option>{/each}</select
					></label
				>
				{#if data.client.contacts.length > 1}
					<fieldset class="text-sm">
						<legend class="field-label">And to</legend>
						{#each data.client.contacts.filter((c) => c.id !== contactId) as c (c.id)}<label class="flex items-center gap-2"
								><input type="checkbox" value={c.id} bind:group={others} />
								{c.name}{c.email ? '' : ', no e-mail address yet'}</label
							>{/each}
						{#if others.length > 0}
							<div class="mt-1.5 flex flex-wrap gap-x-4">
								<label class="flex items-center gap-2"><input type="radio" value={false} bind:group={each} /> any one of them answers</label>
								<label class="flex items-center gap-2"><input type="radio" value={true} bind:group={each} /> each for themselves</label>
							</div>
						{/if}
					</fieldset>
				{/if}
				{#if without.length > 0 && !quiet}
					<div class="notice-lamp">
						<p><b>{without.map((c) => c.name).join(' and ')} {without.length === 1 ? 'has' : 'have'} no access yet.</b></p>
						<label class="mt-1 flex items-start gap-2 text-sm"
							><input type="checkbox" class="mt-1" bind:checked={withInvitation} /> Send the invitation in the same message</label
						>
					</div>
				{/if}
				<label class="field"
					><span>Title, also the subject of the message</span><input
						bind:value={title}
						maxlength="120"
						aria-invalid={fields.title ? 'true' : undefined}
					/></label
				>
				<fieldset class="flex flex-wrap gap-x-4 text-sm">
					<legend class="sr">Whether they are told</legend>
					<label class="flex items-center gap-2"><input type="radio" value={false} bind:group={quiet} /> tell them</label>
					<label class="flex items-center gap-2"><input type="radio" value={true} bind:group={quiet} /> show it without a message</label>
				</fieldset>
				{#if quiet}<p class="text-xs text-(--half)">It is on their page at once; nobody gets a message, and reminders follow as usual.</p>
				{:else}
					{#if already.length > 0}
						<div class="notice-lamp text-sm">
							<p>
								{already.map((c) => c.name).join(' and ')}
								{already.length === 1 ? 'was' : 'were'} told of something today already. This is on their page at once, and in tomorrow’s message.
							</p>
							<label class="mt-1 flex items-center gap-2"><input type="checkbox" bind:checked={tellNow} /> Tell them today anyway</label>
						</div>
					{/if}
					<TextChoice kind="request" take={(text) => (message = text.body)} />
					<WordsField label="Words of the message" bind:value={message} fields={AUTOMATIC_FIELDS} rows={5} problem={fields.message} />
				{/if}
				{#if asked.length > 0}
					<fieldset class="border-t border-(--rule-strong) pt-3">
						<legend class="serif pr-2 text-[0.98rem] font-semibold">In the letter</legend>
						<div class="space-y-2">
							{#each asked as name (name)}
								<label class="field"
									><span
										>{mergeFieldWords(name)}{#if !letterValues[name]?.trim()}<b class="ml-2 text-(--lamp-deep)">still to fill in</b>{/if}</span
									><input bind:value={letterValues[name]} maxlength="400" aria-invalid={fields[name] ? 'true' : undefined} /></label
								>
							{/each}
						</div>
					</fieldset>
				{/if}
				<label class="field"
					><span>Reminders of what is still open, all of it in one message a day</span><select bind:value={chasePlan}
						><option value="">as the list, the client or the firm has it</option>{#each data.plans as plan (plan.key)}<option value={plan.key}
								>{plan.name}: {plan.words}</option
							>{/each}</select
					></label
				>
				<form
					method="post"
					action="?/send"
					class="sticky -bottom-5 -mx-5 flex flex-wrap gap-2 border-t border-(--rule-strong) bg-(--leaf) px-5 py-3"
					{@attach enhancedForm({
						onPending: (p) => (pending = p),
						onProblem: (p) => {
							problem = p.message;
							fields = p.fields;
							if (problemLine) open = problemLine;
						},
						onSuccess: () => {
							leaving = true;
						}
					})}
				>
					<input type="hidden" name="request" value={payload} />
					<input type="hidden" name="draftId" value={draftId} />
					<button class="act" disabled={pending || going.length === 0}>{pending ? 'Sending …' : sendWords}</button>
					<button type="button" class="act-quiet" onclick={() => (previewing = true)} disabled={going.length === 0}
						>See it as {firstOf(contact.name)}</button
					>
				</form>
				{#if unfilled.length > 0}<p class="text-sm text-(--lamp-deep)">The letter still lacks: {unfilled.map(mergeFieldWords).join(', ')}.</p>{/if}
				<p class="text-xs text-(--half)" aria-live="polite">
					{keptWords}
					{#if version !== null || given.draft}<button class="act-link" onclick={dropDraft}>Delete the draft</button>{/if}
				</p>
			</div>
		{:else}
			<h2 class="text-[1.1rem]">{data.client.name}</h2>
			<dl class="facts mt-2">
				{#if data.theirServices.length > 0}<div>
						<dt>We do</dt>
						<dd>{data.theirServices.join(', ')}</dd>
					</div>{/if}
				{#each data.client.contacts as c (c.id)}<div>
						<dt>{c.name}</dt>
						<dd>{c.hasAccess ? 'has access' : 'no access yet; the invitation can go along'}</dd>
					</div>{/each}
			</dl>
		{/if}
	</aside>
</div>

{#if previewing}
	<PreviewAsking
		brand={data.brand}
		locale={data.locales[contactId]}
		contactName={contact.name}
		clientName={data.client.name}
		title={fillText(title, data.values[contactId])}
		message={quiet ? '' : fillText(message, data.values[contactId])}
		today={data.today}
		{files}
		lines={going.map((line) => ({
			...$state.snapshot(line),
			title: fillText(line.title, data.values[contactId]),
			document: line.document ? fillLetter($state.snapshot(line.document) as NonNullable<typeof line.document>, values) : null
		})) as LineInHand[]}
		close={() => (previewing = false)}
	/>
{/if}
<p class="sr">{going.length > 0 ? `First due ${dateWords('en', going.map((l) => l.dueOn || data.inTen).sort()[0])}` : ''}</p>

<style>
	.head {
		padding: 16px 18px 5px 104px;
		font-size: 0.95rem;
		border-bottom: 1px solid var(--rule-strong);
	}
	.line {
		display: grid;
		grid-template-columns: 86px minmax(0, 1fr);
		column-gap: 18px;
		align-items: center;
		min-height: 34px;
		padding-right: 18px;
		border-bottom: 1px solid var(--rule);
		font-size: 0.89rem;
	}
	.line > button,
	.line > a {
		min-height: 33px;
		line-height: 33px;
		cursor: pointer;
		white-space: nowrap;
		overflow: hidden;
		text-overflow: ellipsis;
	}
	.kind {
		text-align: right;
		padding-right: 12px;
		font-size: 0.78rem;
		color: var(--half);
	}
	@media (max-width: 640px) {
		.head {
			padding-left: 14px;
		}
	}
</style>
