<script lang="ts">
	import { tick } from 'svelte';
	import { beforeNavigate } from '$app/navigation';
	import { mergeFieldsOf, type LetterDocument } from '$lib/core/letters/letter-document';
	import { AUTOMATIC_FIELDS, fillText, mergeFieldWords, unfilledFields } from '$lib/core/letters/merge-fields';
	import { fillLetter } from '$lib/core/letters/letter-document';
	import type { ItemKind } from '$lib/core/requests/request-form';
	import { dateWords } from '$lib/words/dates';
	import { enhancedForm } from '$lib/ui/enhanced-form';
	import LetterEditor from '$lib/ui/LetterEditor.svelte';
	import TextChoice from '$lib/ui/TextChoice.svelte';
	import WordsField from '$lib/ui/WordsField.svelte';
	import LetterText from '$lib/ui/LetterText.svelte';

	let { data } = $props();
	interface Line {
		key: string;
		kind: ItemKind;
		title: string;
		why: string;
		required: boolean;
		dueOn: string;
		out: boolean;
		document: LetterDocument | null;
	}
	let chosen = $state<string | null>(null);
	let title = $state('');
	// svelte-ignore state_referenced_locally
	let message = $state(data.message);
	// svelte-ignore state_referenced_locally
	let contactId = $state(data.client.contacts.find((c) => c.hasAccess)?.id ?? data.client.contacts[0].id);
	let lines = $state<Line[]>([]);
	// svelte-ignore state_referenced_locally
	let letterValues = $state<Record<string, string>>({ ...data.fromRecord });
	let open = $state<string | null>(null);
	let problem = $state('');
	let fields = $state<Record<string, string>>({});
	let pending = $state(false);
	let withInvitation = $state(true);
	let sent = false;
	const onceKey = crypto.randomUUID();
	let preview: HTMLDialogElement;

	const contact = $derived(data.client.contacts.find((c) => c.id === contactId)!);
	const going = $derived(lines.filter((l) => !l.out));
	const needsInvitation = $derived(!contact.hasAccess);
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
			title,
			message,
			withInvitation: needsInvitation && withInvitation,
			onceKey,
			lines: going.map((l) => ({
				kind: l.kind,
				title: l.title,
				why: l.why,
				required: l.required,
				dueOn: l.dueOn,
				...(l.kind === 'letter' ? { document: l.document, values: letterValues } : {})
			}))
		})
	);
	const KINDS: Record<ItemKind, string> = { paper: 'paper', question: 'question', letter: 'letter' };

	function begin(listId: string | null) {
		chosen = listId ?? 'scratch';
		const list = data.lists.find((l) => l.id === listId);
		title = list ? (list.id === 'taking-on' ? 'Getting started' : list.name) : '';
		lines = (list?.lines ?? []).map((l) => ({
			key: crypto.randomUUID(),
			kind: l.kind,
			title: l.title,
			why: l.why,
			required: l.required,
			dueOn: l.dueOn,
			out: false,
			document: l.kind === 'letter' ? structuredClone($state.snapshot(data.letter)) : null
		}));
		if (!list) void add('paper');
	}
	async function add(kind: ItemKind) {
		const line: Line = {
			key: crypto.randomUUID(),
			kind,
			title: kind === 'letter' ? 'Engagement letter' : '',
			why: '',
			required: true,
			dueOn: lines.at(-1)?.dueOn ?? data.inTen,
			out: false,
			document: kind === 'letter' ? structuredClone($state.snapshot(data.letter)) : null
		};
		lines.push(line);
		open = line.key;
		await tick();
		document.getElementById(`title-${line.key}`)?.focus();
	}
	function move(index: number, by: number) {
		const to = index + by;
		if (to < 0 || to >= lines.length) return;
		const [line] = lines.splice(index, 1);
		lines.splice(to, 0, line);
	}
	beforeNavigate((navigation) => {
		if (navigation.willUnload) {
			if (chosen && !sent && !pending) navigation.cancel();
			return;
		}
		if (chosen && !sent && !pending && lines.length > 0 && !confirm('This request has not been sent. Leave it and lose what you wrote?'))
			navigation.cancel();
	});
	/** Server messages name a line among those that go; shown with its title. */
	const problemLine = $derived.by(() => {
		const path = Object.keys(fields).find((f) => f.startsWith('lines.'));
		return path ? going[Number(path.split('.')[1])]?.key : undefined;
	});
</script>

<svelte:head><title>Asking {data.client.name} · {data.firm.name}</title></svelte:head>

<div class="grid lg:h-[calc(100dvh-47px)] lg:grid-cols-[minmax(0,1fr)_390px]">
	<main id="sheet" class="sheet overflow-auto pb-10" tabindex="-1">
		<div class="masthead">
			<p class="text-sm"><a class="act-link" href="/desk/clients/{data.client.id}">Back to {data.client.name}</a></p>
			<h1 class="mt-1 text-[1.65rem] leading-tight">{chosen === 'taking-on' ? `Taking on ${data.client.name}` : `Asking ${data.client.name}`}</h1>
			{#if chosen}<p class="mt-1 text-[0.9rem] text-(--half)">
					{going.length}
					{going.length === 1 ? 'line goes' : 'lines go'}{lines.length > going.length ? `, ${lines.length - going.length} left out` : ''}. Take out
					what does not fit, add what is missing.
				</p>
			{:else}<p class="mt-1 text-[0.9rem] text-(--half)">
					Begin with a list of the Library, or with an empty sheet. The list itself stays as it is.
				</p>{/if}
		</div>

		{#if !chosen}
			<ul class="mt-4">
				{#each data.lists as list (list.id)}
					<li class="line">
						<span class="kind">{list.lines.length} lines</span>
						<button class="text-left" onclick={() => begin(list.id)}><b>{list.name}</b> <span class="text-(--half)">{list.about}</span></button>
					</li>
				{/each}
				<li class="line">
					<span class="kind">empty</span><button class="text-left" onclick={() => begin(null)}
						><b>From scratch</b> <span class="text-(--half)">an empty sheet</span></button
					>
				</li>
			</ul>
		{:else}
			<ul class="mt-4 border-t border-(--rule-strong)">
				{#each lines as line, i (line.key)}
					<li class="line" class:lit={open === line.key} class:wrong={problemLine === line.key}>
						<span class="kind">{KINDS[line.kind]}</span>
						<div class="flex min-w-0 items-center gap-2">
							<button
								class="min-w-0 flex-1 truncate text-left"
								aria-expanded={open === line.key}
								onclick={() => (open = open === line.key ? null : line.key)}
							>
								<b class={line.out ? 'font-normal text-(--half) line-through' : ''}>{line.title || 'Untitled line'}</b>
								{#if line.out}<span class="text-(--lamp-deep)"> left out</span>{:else}<span class="text-(--half)">
										{line.required ? '' : 'if they have it · '}{line.why}</span
									>{/if}
							</button>
							<span class="text-sm whitespace-nowrap text-(--half)">{line.out ? '' : dateWords('en', line.dueOn)}</span>
							<button class="act-link text-sm whitespace-nowrap" onclick={() => (line.out = !line.out)}
								>{line.out ? 'put back in' : 'take out'}</button
							>
						</div>
						{#if open === line.key && !line.out}
							<div class="col-start-2 grid gap-3 pt-2 pb-4 sm:grid-cols-[1fr_11rem]">
								<label class="field"><span>What do you ask for?</span><input id="title-{line.key}" bind:value={line.title} maxlength="160" /></label>
								<label class="field"><span>Due</span><input type="date" bind:value={line.dueOn} min={data.today} /></label>
								<label class="field sm:col-span-2"
									><span>Why, in words the client understands</span><textarea rows="2" bind:value={line.why} maxlength="1000"></textarea></label
								>
								{#if line.document}<div class="sm:col-span-2"><LetterEditor bind:document={line.document} label="Words of {line.title}" /></div>{/if}
								<div class="flex flex-wrap items-center gap-3 text-sm sm:col-span-2">
									<label class="flex items-center gap-2"><input type="checkbox" bind:checked={line.required} /> needed</label>
									<button class="act-quiet !min-h-7" onclick={() => move(i, -1)} disabled={i === 0}>Up</button>
									<button class="act-quiet !min-h-7" onclick={() => move(i, 1)} disabled={i === lines.length - 1}>Down</button>
								</div>
							</div>
						{/if}
					</li>
				{/each}
				<li class="line">
					<span class="kind">add</span>
					<div class="flex flex-wrap gap-4 text-sm">
						<button class="act-link" onclick={() => add('paper')}>a paper</button><button class="act-link" onclick={() => add('question')}
							>a question</button
						><button class="act-link" onclick={() => add('letter')}>a letter to sign</button>
					</div>
				</li>
			</ul>
		{/if}
	</main>
	<aside class="overflow-auto border-l border-(--rule-strong) bg-(--leaf) p-5" aria-label="To whom, and when">
		{#if chosen}
			<h2 class="text-[1.1rem]">To whom, and when</h2>
			{#if problem}<p class="notice-wrong mt-3" role="alert">{problem}</p>{/if}
			<div class="mt-3 space-y-3">
				<label class="field"
					><span>To</span><select bind:value={contactId}
						>{#each data.client.contacts as c (c.id)}<option value={c.id}>{c.name}, {c.email ?? 'no e-mail address yet'}</option>{/each}</select
					></label
				>
				{#if needsInvitation}
					<div class="notice-lamp">
						<p><b>{contact.name} has no access yet.</b></p>
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
				<TextChoice kind="request" take={(text) => (message = text.body)} />
				<WordsField label="Words of the message" bind:value={message} fields={AUTOMATIC_FIELDS} rows={5} problem={fields.message} />
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
				<p class="text-xs text-(--half)">
					Reminders of a line: {data.reminders.things}; all open lines in one message a day. Then a person decides.
				</p>
				<form
					method="post"
					class="flex flex-wrap gap-2"
					{@attach enhancedForm({
						onPending: (p) => (pending = p),
						onProblem: (p) => {
							problem = p.message;
							fields = p.fields;
							if (problemLine) open = problemLine;
						},
						onSuccess: () => {
							sent = true;
						}
					})}
				>
					<input type="hidden" name="request" value={payload} />
					<button class="act" disabled={pending || going.length === 0}>{pending ? 'Sending …' : `Send to ${contact.name.split(' ')[0]}`}</button>
					<button type="button" class="act-quiet" onclick={() => preview.showModal()} disabled={going.length === 0}
						>See it as {contact.name.split(' ')[0]}</button
					>
				</form>
				{#if unfilled.length > 0}<p class="text-sm text-(--lamp-deep)">The letter still lacks: {unfilled.map(mergeFieldWords).join(', ')}.</p>{/if}
			</div>
		{:else}
			<h2 class="text-[1.1rem]">{data.client.name}</h2>
			<dl class="facts mt-2">
				{#each data.client.contacts as c (c.id)}<div>
						<dt>{c.name}</dt>
						<dd>{c.hasAccess ? 'has access' : 'no access yet; the invitation can go along'}</dd>
					</div>{/each}
			</dl>
		{/if}
	</aside>
</div>

<dialog bind:this={preview} class="sheet-dialog !w-[min(27rem,calc(100vw-2rem))] !p-0" aria-label="As {contact.name} will see it">
	<div style="background: {data.brand.color}" class="serif p-4 text-lg font-semibold text-white">{data.brand.name}</div>
	<div class="max-h-[70dvh] overflow-auto p-5">
		<p class="text-xs text-(--half)">As {contact.name} will see it on a phone</p>
		<h2 class="mt-2 text-2xl">{title || 'Untitled request'}</h2>
		<p class="mt-1 text-sm whitespace-pre-wrap text-(--half)">{fillText(message, values)}</p>
		<ul class="mt-4">
			{#each going as line (line.key)}
				<li class="border-t border-(--rule-strong) py-3">
					<div class="flex gap-3">
						<b class="flex-1">{line.title}</b><span class="text-sm whitespace-nowrap text-(--half)">by {dateWords('en', line.dueOn)}</span>
					</div>
					<p class="text-sm text-(--half)">{line.why}</p>
					{#if line.document}<details class="mt-1">
							<summary class="cursor-pointer text-sm underline">Read the letter</summary><LetterText document={fillLetter(line.document, values)} />
						</details>{/if}
				</li>
			{/each}
		</ul>
	</div>
	<form method="dialog" class="border-t border-(--rule-strong) p-3 text-right"><button class="act-quiet">Close</button></form>
</dialog>

<style>
	.sheet {
		background: linear-gradient(90deg, transparent 86px, var(--margin-line) 86px, var(--margin-line) 87px, transparent 87px) var(--sheet);
		outline: none;
	}
	.masthead {
		padding: 14px 18px 4px 104px;
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
	.line > div > button:first-child {
		min-height: 33px;
		cursor: pointer;
	}
	.kind {
		text-align: right;
		padding-right: 12px;
		font-size: 0.78rem;
		color: var(--half);
	}
	.lit {
		background: var(--lamp-soft);
		align-items: start;
	}
	.lit .kind {
		padding-top: 8px;
	}
	.wrong {
		box-shadow: inset 3px 0 var(--wrong);
	}
</style>
