<script lang="ts">
	import { untrack } from 'svelte';
	import { AUTOMATIC_FIELDS } from '$lib/core/letters/merge-fields';
	import { asListLine } from '$lib/core/requests/request-list';
	import { askBeforeLeaving, ListInHand } from '$lib/ui/asking/list-in-hand.svelte';
	import ListSheet from '$lib/ui/asking/ListSheet.svelte';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import EarlierVersions from '$lib/ui/library/EarlierVersions.svelte';
	import FieldProblem from '$lib/ui/forms/FieldProblem.svelte';
	import WordsField from '$lib/ui/library/WordsField.svelte';

	let { data } = $props();
	const given = untrack(() => data.list);
	let name = $state(given.name);
	let about = $state(given.about);
	let title = $state(given.title);
	let message = $state(given.message);
	let folder = $state(given.folder);
	let tags = $state(given.tags.join(', '));
	let shared = $state(given.shared);
	let groupId = $state(given.groupId ?? '');
	let goesByItself = $state(given.goesByItself);
	let lettersFirst = $state(given.lettersFirst);
	let services = $state([...given.services]);
	let chasePlan = $state(given.chasePlan ?? '');
	const list = new ListInHand(
		structuredClone(given.lines),
		untrack(() => data.files)
	);
	let version = $state(given.version);
	let leaving = false;

	const payload = $derived(
		JSON.stringify({
			name,
			about,
			title,
			message,
			folder,
			tags: tags
				.split(',')
				.map((tag) => tag.trim())
				.filter(Boolean),
			shared,
			groupId: shared === 'group' ? groupId || null : null,
			goesByItself,
			lettersFirst,
			services,
			chasePlan: chasePlan || null,
			lines: list.lines.map(asListLine)
		})
	);
	let saved = $state(untrack(() => payload));
	const changed = $derived(payload !== saved);
	askBeforeLeaving(() => changed && !leaving, 'This list has changes that are not saved. Leave without saving?');
	/** For those who only look at it. */
	const whatItIs = $derived(
		[
			['What it is for', given.about],
			['Title that the client reads', given.title],
			['Words of the message', given.message || 'the usual ones'],
			['Proposed to clients for whom we do', given.services.join(', ') || 'nothing in particular'],
			['For many clients, or by itself', given.goesByItself ? 'it is sent automatically once it fits' : 'it waits for a person in Rounds'],
			['The other lines', given.lettersFirst ? 'go by themselves, once all have signed the letter' : ''],
			['Reminders', data.plans.find((plan) => plan.key === given.chasePlan)?.name ?? 'as the client or the firm has it'],
			['Folder', given.folder],
			['Tags', given.tags.join(', ')]
		].filter(([, words]) => words)
	);
	const withLetters = $derived(list.lines.some((line) => line.kind === 'letter') && list.lines.some((line) => line.kind !== 'letter'));
	const conditional = $derived(list.lines.filter((line) => line.condition).length);
</script>

<svelte:head><title>{name} · {data.firm.name}</title></svelte:head>

{#snippet under()}
	{list.lines.length}
	{list.lines.length === 1 ? 'line' : 'lines'}{conditional > 0 ? `, ${conditional} only for some clients` : ''}. Version {data.list.version}, changed {data
		.list.changedAt} by {data.list.changedBy}.
{/snippet}

{#snippet beside()}
	<div class="space-y-3">
		{#if list.problem}<p class="notice-wrong" role="alert">{list.problem}</p>{/if}
		{#if data.mayKeep}<fieldset class="space-y-3">
				<label class="field"
					><span>Name in the Library</span><input bind:value={name} maxlength="80" aria-invalid={list.fields.name ? 'true' : undefined} /></label
				>
				<label class="field"><span>What it is for</span><input bind:value={about} maxlength="200" /></label>
				<label class="field"
					><span>Title that the client reads, also the subject</span><input
						bind:value={title}
						maxlength="120"
						aria-invalid={list.fields.title ? 'true' : undefined}
					/></label
				>
				<WordsField
					label="Words of the message; empty for the usual ones"
					bind:value={message}
					fields={AUTOMATIC_FIELDS}
					rows={4}
					problem={list.fields.message}
				/>
				<fieldset class="text-sm">
					<legend class="field-label">Proposed to clients for whom we do</legend>
					<div class="flex flex-wrap gap-x-4 gap-y-1">
						{#each data.services as service (service)}<label class="flex items-center gap-2"
								><input type="checkbox" value={service} bind:group={services} /> {service}</label
							>{/each}
					</div>
				</fieldset>
				<fieldset class="text-sm">
					<legend class="field-label">When it is made for many clients, or by itself</legend>
					<label class="flex items-center gap-2"><input type="radio" value={false} bind:group={goesByItself} /> it waits for a person in Rounds</label
					>
					<label class="flex items-center gap-2"
						><input type="radio" value={true} bind:group={goesByItself} /> it is sent automatically once it fits</label
					>
				</fieldset>
				{#if withLetters}<fieldset class="text-sm">
						<legend class="field-label">The other lines go</legend>
						<label class="flex items-center gap-2"><input type="radio" value={false} bind:group={lettersFirst} /> with the letter</label>
						<label class="flex items-center gap-2"
							><input type="radio" value={true} bind:group={lettersFirst} /> by themselves, once all have signed</label
						>
					</fieldset>{/if}
				<label class="field"
					><span>Reminders</span><select bind:value={chasePlan}
						><option value="">as the client or the firm has it</option>{#each data.plans as plan (plan.key)}<option value={plan.key}
								>{plan.name}: {plan.words}</option
							>{/each}</select
					></label
				>
				<div class="grid grid-cols-2 gap-3">
					<label class="field"><span>Folder</span><input bind:value={folder} maxlength="60" list="list-folders" /></label>
					<label class="field"><span>Tags, with commas</span><input bind:value={tags} maxlength="200" /></label>
				</div>
				<datalist id="list-folders"
					>{#each data.shelves.folders as shelf (shelf)}<option value={shelf}></option>{/each}</datalist
				>
				<div class="grid grid-cols-2 gap-3">
					<label class="field"
						><span>Shared with</span><select bind:value={shared}
							><option value="all">everybody of the firm</option><option value="group">a group</option><option value="person">nobody else</option
							></select
						></label
					>
					{#if shared === 'group'}<label class="field"
							><span>Group</span><select bind:value={groupId}
								><option value="">Choose …</option>{#each data.groups as group (group.id)}<option value={group.id}>{group.name}</option
									>{/each}</select
							></label
						>{/if}
				</div>
				<FieldProblem id="list-group" message={list.fields.groupId} />
			</fieldset>{:else}
			<dl class="facts">
				{#each whatItIs as [term, words] (term)}<div>
						<dt>{term}</dt>
						<dd class="whitespace-pre-line">{words}</dd>
					</div>{/each}
			</dl>
		{/if}
		{#if data.mayKeep}
			<form
				method="post"
				action="?/save"
				class="flex flex-wrap items-center gap-2"
				{@attach enhancedForm(
					list.form(() => {
						saved = payload;
						version++;
					})
				)}
			>
				<input type="hidden" name="version" value={version} /><input type="hidden" name="list" value={payload} />
				<button class="act" disabled={list.pending || !changed}>{changed ? 'Save as a new version' : 'Saved'}</button>
			</form>
			<p class="text-xs text-(--half)">What was sent by earlier versions stays as it was.</p>
			<div class="flex gap-4 border-t border-(--rule-strong) pt-3 text-sm">
				<form method="post" action="?/copy" {@attach enhancedForm({ onProblem: (p) => (list.problem = p.message) })}>
					<button class="act-link">Make a copy</button>
				</form>
				<form
					method="post"
					action="?/remove"
					{@attach enhancedForm({
						onPending: (p) => {
							if (p) leaving = true;
						},
						onProblem: (p) => {
							leaving = false;
							list.problem = p.message;
						}
					})}
				>
					<button class="act-link">Remove it from the Library</button>
				</form>
			</div>
		{/if}
		<EarlierVersions
			versions={data.versions.map((old) => ({ ...old, what: `${old.lineCount} lines` }))}
			{version}
			mayKeep={data.mayKeep}
			onPending={() => (leaving = true)}
			onProblem={(message) => (list.problem = message)}
		/>
	</div>
{/snippet}

<ListSheet
	{list}
	of="list"
	back={{ href: '/desk/library/lists', words: 'Back to the Library' }}
	heading={name || 'Untitled list'}
	{under}
	besideLabel="About the list"
	besideWidth={370}
	{beside}
	services={data.services}
	letter={data.letter}
	place={data.place}
	several
	mayChange={data.mayKeep}
/>
