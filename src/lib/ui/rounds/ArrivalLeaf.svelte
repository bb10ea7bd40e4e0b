<script lang="ts">
	import { untrack } from 'svelte';
	import { ruleWordsSaid } from '$lib/core/arrivals/keeping-rules';
	import { accountName } from '$lib/core/statements/accounts';
	import { PAGED_TYPES, shownAs } from '$lib/core/papers/file-name';
	import { dateWords, sizeWords } from '$lib/words/dates';
	import { leafKeys } from '../desk/leaf-keys';
	import { enhancedForm } from '../forms/enhanced-form';
	import PaperInside from '../papers/PaperInside.svelte';
	import FilePages from '../papers/FilePages.svelte';
	import type { LeafProps } from './leaf-props';

	let { leaf, mine, pending, problem, handling, time }: LeafProps<'arrival'> = $props();
	const arrival = $derived(leaf.arrival);
	const src = $derived(`/desk/papers/${arrival.id}`);
	const action = $derived(`/desk/arrivals/${arrival.id}`);
	const placeOf = (itemId: string) => leaf.places.find((place) => place.itemId === itemId);
	const proposed = $derived(leaf.proposed && placeOf(leaf.proposed.itemId) ? { ...leaf.proposed, place: placeOf(leaf.proposed.itemId)! } : null);
	/** the others that are likely stand first, with their reasons */
	const others = $derived(
		leaf.places
			.filter(({ itemId }) => itemId !== proposed?.itemId)
			.map((place) => ({ ...place, likely: leaf.likely.find(({ itemId }) => itemId === place.itemId) }))
			.sort((a, b) => (b.likely?.score ?? 0) - (a.likely?.score ?? 0))
	);
	/** what it is a statement of, where nothing is open that it answers */
	const statement = $derived.by(() => {
		const one = leaf.statements.find(({ account, to }) => account !== null && to !== null);
		return one && { name: accountName(one.account!), days: `${dateWords('en', one.from!, 'withYear')} to ${dateWords('en', one.to!, 'withYear')}` };
	});
	/** where what was read stands on its pages */
	const marks = $derived(
		leaf.statements.flatMap(({ id, spots }) => Object.entries(spots).flatMap(([name, spot]) => (spot ? [{ name: `${id} ${name}`, spot }] : [])))
	);
	const mail = $derived(leaf.mail);
	const LEFT_OUT_WORDS = { kind: 'of a kind that is not taken', empty: 'empty', many: 'more files than one mail may bring' } as const;
	const from = $derived(mail?.fromAddress || 'An address that the mail does not name');
	const methods = $derived(
		Object.entries(mail?.authentication ?? {})
			.map(([method, result]) => `${method.toUpperCase()} ${result}`)
			.join(', ')
	);
	let chosen = $state(untrack(() => (leaf.proposed ? '' : (leaf.likely[0]?.itemId ?? ''))));
	const chosenPlace = $derived(placeOf(chosen));
	const reasons = (signs: readonly { says: string }[]) => {
		const text = signs.map(({ says }) => says).join('; ');
		return text ? `${text[0].toUpperCase()}${text.slice(1)}.` : '';
	};
</script>

<div class="space-y-4 p-5 pr-10" {@attach leafKeys}>
	<header>
		<h2 class="text-[1.2rem] break-words">{arrival.name}</h2>
		<p class="text-sm text-(--half)">
			{arrival.sender ? `${arrival.sender} · ` : ''}<a class="underline decoration-dotted" href="/desk/clients/{arrival.clientId}"
				>{arrival.clientName}</a
			>
			· {sizeWords('en', arrival.bytes)} · came {mail ? 'by mail ' : ''}{time(arrival.sentAt)}
		</p>
		{#if arrival.note}<p class="mt-1">“{arrival.note}”</p>{/if}
		{#if arrival.folder}<p class="mt-1">{arrival.sender || 'They'} put it into the folder {arrival.folder}.</p>{/if}
		{#if mail?.words}<details class="mt-1 text-sm">
				<summary>What the mail says</summary>
				<p class="mt-1 max-h-40 overflow-auto whitespace-pre-line">{mail.words}</p>
			</details>{/if}
		{#if mail && mail.leftOut.length > 0}<p class="mt-1 text-sm text-(--half)">
				Not kept of this mail: {mail.leftOut.map(({ name, why }) => `${name} (${LEFT_OUT_WORDS[why]})`).join(', ')}.
			</p>{/if}
	</header>
	{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
	{#if mail?.held}
		<section>
			<h3 class="text-[1.05rem]">
				{mail.held === 'unknown' ? `${from} is not known at ${arrival.clientName}.` : `It may not be from ${from}.`}
			</h3>
			<p class="mt-0.5 text-sm text-(--half)">
				{mail.held === 'unknown'
					? 'Nobody of this client or of the firm has this address, so what the mail brought waits.'
					: `The mail servers on the way say that this address did not send it${methods ? ` (${methods})` : ''}. Ask them before you let it in.`}
				{mail.waiting > 1 ? `It brought ${mail.waiting} files that wait together.` : ''}
			</p>
			{#if mine('file_papers')}<div class="mt-2 flex flex-wrap gap-2">
					<form method="post" action="{action}?/letIn" data-acts {@attach enhancedForm({ ...handling, onSuccess: () => undefined })}>
						<button class="act" aria-keyshortcuts="i" disabled={pending}>Let {mail.waiting > 1 ? 'them' : 'it'} in <span class="key">i</span></button>
					</form>
					<form method="post" action="{action}?/turnAway" {@attach enhancedForm(handling)}>
						<button class="act-quiet" disabled={pending}>{mail.waiting > 1 ? 'They need' : 'It needs'} no place</button>
					</form>
				</div>{/if}
		</section>
	{/if}
	{#each leaf.same as other (other.id)}<p class="notice-lamp text-sm">
			The same file is here already: <a class="act-link" href="/desk/papers/{other.id}" target="_blank" rel="noopener">{other.name}</a
			>{other.filedUnder ? `, filed under “${other.filedUnder}”` : ''}.
		</p>{/each}
	{#if shownAs(arrival.contentType)}
		<!-- reached by the keyboard, since it scrolls -->
		<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
		<figure class="window overflow-auto border border-(--rule-strong) bg-(--rule)" tabindex="0" aria-label={arrival.name}>
			{#if shownAs(arrival.contentType) === 'inside'}<PaperInside {src} name={arrival.name} />
			{:else}<FilePages {src} name={arrival.name} contentType={arrival.contentType} label={(n, count) => `Page ${n} of ${count}`}>
					{#snippet over(page)}
						{#each marks.filter((mark) => mark.spot.page === page) as { name, spot } (name)}<span
								class="spot"
								style="left: {spot.x * 100}%; top: {spot.y * 100}%; width: {spot.width * 100}%; height: {spot.height * 100}%"
							></span>{/each}
					{/snippet}
					{#snippet unshown()}
						<figcaption class="bg-white p-4 text-sm text-[#1d2530]">{arrival.name} cannot be shown here. Download it to look at it.</figcaption>
					{/snippet}
				</FilePages>{/if}
		</figure>
	{/if}
	<p class="flex flex-wrap gap-x-4 text-sm">
		<a class="act-link" href="{src}?download" download>Download it</a>
		{#if !mail?.held && mine('file_papers') && PAGED_TYPES.includes(arrival.contentType)}<a class="act-link" href="{action}/pages"
				>Split it, join it with others, turn its pages</a
			>{/if}
	</p>
	{#if !mail?.held && mine('file_papers')}
		{#if proposed}
			<section>
				<h3 class="text-[1.05rem]">It seems to be “{proposed.place.title}”.</h3>
				<p class="mt-0.5 text-sm text-(--half)">
					{reasons(proposed.signs)} Asked of {proposed.place.contactName}{proposed.place.dueOn
						? `, due ${dateWords('en', proposed.place.dueOn)}`
						: ''}.
				</p>
				<form method="post" action="{action}?/file" class="mt-2" data-acts {@attach enhancedForm(handling)}>
					<input type="hidden" name="itemId" value={proposed.itemId} />
					{#if proposed.slot}<input type="hidden" name="slot" value={proposed.slot} />{/if}
					<button class="act" aria-keyshortcuts="a" disabled={pending}>File it there <span class="key">a</span></button>
					{#if leaf.mayFileItself}<label class="mt-2 flex items-center gap-2 text-sm"
							><input type="checkbox" name="always" value={leaf.mayFileItself.accountId} />from now on statements of {leaf.mayFileItself.name} go where
							they belong by themselves</label
						>{/if}
				</form>
			</section>
		{:else if statement}
			<section>
				<h3 class="text-[1.05rem]">It is a statement of {statement.name}.</h3>
				<p class="mt-0.5 text-sm text-(--half)">It covers {statement.days}. Nobody has asked for it, so nothing that is open is settled by it.</p>
				<form method="post" action="{action}?/keep" class="mt-2" data-acts {@attach enhancedForm(handling)}>
					<button class="act" aria-keyshortcuts="a" disabled={pending}>Keep it as this statement <span class="key">a</span></button>
				</form>
			</section>
		{:else if leaf.places.length === 0}<p>Nothing that takes files is open at {arrival.clientName}.</p>
		{:else if leaf.likely.length > 0}<p>It may be one of several; nothing says which.</p>
		{:else}<p>
				{leaf.read === null && /pdf/.test(arrival.contentType) ? 'Its words are still being read' : 'Nothing says where it belongs'}{leaf.read ===
					false && /pdf/.test(arrival.contentType)
					? '; it has no words that can be read, as a scan has none'
					: ''}.
			</p>{/if}
		{#if others.length > 0}
			<form method="post" action="{action}?/file" class="space-y-2" {@attach enhancedForm(handling)}>
				<label class="field"
					><span>{proposed ? 'Or file it elsewhere' : 'File it under'}</span><select name="itemId" bind:value={chosen}>
						<option value="">choose what is open …</option>
						{#each others as place (place.itemId)}<option value={place.itemId}
								>{place.title}{place.dueOn ? `, due ${dateWords('en', place.dueOn)}` : ''}</option
							>{/each}
					</select></label
				>
				{#if chosenPlace && chosenPlace.slots.length > 0}<label class="field"
						><span>Which of its files</span><select name="slot"
							><option value="">none of those it names</option>{#each chosenPlace.slots as slot (slot)}<option value={slot}>{slot}</option
								>{/each}</select
						></label
					>{/if}
				{#if chosen && leaf.likely.some(({ itemId }) => itemId === chosen)}<p class="text-sm text-(--half)">
						{reasons(leaf.likely.find(({ itemId }) => itemId === chosen)!.signs)}
					</p>{/if}
				<button class={proposed ? 'act-quiet' : 'act'} disabled={pending || chosen === ''}>File it</button>
			</form>
		{/if}
		<p class="text-xs text-(--half)">
			What is filed hands in what was asked, and nobody is reminded of it any more. It can be taken back under <a
				class="act-link"
				href="/desk/arrivals">Arrivals</a
			>.
		</p>
		<form method="post" action="{action}?/putAway" class="flex flex-wrap gap-2 border-t border-(--rule-strong) pt-3" {@attach enhancedForm(handling)}>
			{#if arrival.folder}<button class="act-quiet" formaction="{action}?/keep" disabled={pending}>Keep it in {arrival.folder}</button>
			{:else}<label class="field"
					><span class="sr">Folder</span><select name="folder" aria-label="Folder"
						><option value="">in no folder</option>{#each leaf.folders.folders as folder (folder.id)}<option value={folder.id}>{folder.name}</option
							>{/each}{#each leaf.folders.proposed as name (name)}<option value="+{name}">{name}</option>{/each}</select
					></label
				>
				<button class="act-quiet" formaction="{action}?/keep" disabled={pending}>Keep it among their papers</button>{/if}
			<button class="act-quiet" disabled={pending}>It needs no place</button>
			{#if leaf.mayKeepItself}<input type="hidden" name="alwaysWords" value={leaf.mayKeepItself.join(' ')} />
				<label class="flex w-full items-center gap-2 text-sm"
					><input type="checkbox" name="always" value="yes" />from now on keep what {arrival.sender || 'they'} sends with {ruleWordsSaid(
						leaf.mayKeepItself
					)}
					in its name there by itself</label
				>{/if}
		</form>
	{/if}
</div>

<style>
	.spot {
		position: absolute;
		box-sizing: content-box;
		margin: -4px -5px;
		padding: 2px 3px;
		border: 2px solid #e9a43a;
		background: rgb(233 164 58 / 22%);
		pointer-events: none;
	}
	.window {
		height: 17rem;
	}
	.window:has(> figcaption:only-child) {
		height: auto;
	}
</style>
