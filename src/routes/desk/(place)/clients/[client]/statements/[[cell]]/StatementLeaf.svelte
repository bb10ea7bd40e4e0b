<script lang="ts">
	import { ACCOUNT_KIND_WORDS, accountName } from '$lib/core/statements/accounts';
	import { sumWords } from '$lib/core/statements/grid-words';
	import { isViewable } from '$lib/core/papers/file-name';
	import { leafKeys } from '$lib/ui/desk/leaf-keys';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import FieldProblem from '$lib/ui/forms/FieldProblem.svelte';
	import FilePages from '$lib/ui/papers/FilePages.svelte';
	import { dateWords } from '$lib/words/dates';
	import type { PageData } from './$types';

	/** One cycle of an account: what is here of it, how it goes on from the one before, and what was read. */
	let {
		leaf,
		client,
		accounts,
		mayFile,
		askHref
	}: {
		leaf: NonNullable<PageData['leaf']>;
		client: { id: string; name: string };
		accounts: { id: string; name: string }[];
		mayFile: boolean;
		/** where it is asked for, if it can be */ askHref: string | null;
	} = $props();
	const cell = $derived(leaf.cell);
	const day = (date: string) => dateWords('en', date, 'withYear');
	const differing = $derived(leaf.joins.filter(({ is }) => is === 'differs'));
	const title = $derived.by(() => {
		if (differing.length > 0) return `${sumWords(differing[0].difference!)} lies between this statement and the one before`;
		switch (cell.state) {
			case 'in':
				return 'It is in';
			case 'to_look_at':
				return leaf.statements.length > 0 ? 'It came, and nobody has accepted it yet' : 'The client says that there is none';
			case 'part':
				return `${cell.missingDays} ${cell.missingDays === 1 ? 'day is' : 'days are'} missing of it`;
			case 'asked':
				return 'It is asked for';
			case 'late':
				return `It is ${cell.lateDays} ${cell.lateDays === 1 ? 'day' : 'days'} late`;
			case 'not_needed':
				return 'It is not needed any more';
			case 'not_over':
				return 'Its time is not over yet';
			default:
				return 'Nobody has asked for it';
		}
	});
	let correcting = $state<string | null>(null);
	let explaining = $state<string | null>(null);
	let pending = $state(false);
	let problem = $state('');
	let fields = $state<Record<string, string>>({});
	const handling = {
		onPending: (begins: boolean) => (pending = begins),
		onProblem: (what: { message: string; fields: Record<string, string> }) => {
			problem = what.message;
			fields = what.fields;
		},
		onSuccess: () => {
			correcting = explaining = null;
			problem = '';
			fields = {};
		}
	};
	const VALUES = [
		['from', 'First day'],
		['to', 'Last day'],
		['opening', 'Opening balance'],
		['closing', 'Closing balance']
	] as const;
	type Read = (typeof leaf.statements)[number];
	const said = (one: Read, name: 'from' | 'to' | 'opening' | 'closing') => {
		const value = one[name];
		return value === null ? null : name === 'from' || name === 'to' ? day(value) : sumWords(value);
	};
	const keyOf = (one: Read) => one.id ?? one.paperId;
	const begin = (one: Read) => {
		correcting = correcting === keyOf(one) ? null : keyOf(one);
		problem = '';
		fields = {};
	};
	const joinOf = (one: Read) => leaf.joins.find(({ laterId }) => laterId === one.id);
	const whyUnread = (one: Read) =>
		!/pdf/.test(one.contentType)
			? 'Only PDFs are read. Write what it says by hand.'
			: !one.looked
				? 'It has not been read yet.'
				: one.pages === null
					? 'It is locked with a password or damaged, and cannot be read. Write what it says by hand.'
					: one.words
						? 'No days and balances could be read in it. Write what it says by hand.'
						: 'It is a picture without words, as a scan is, and cannot be read. Write what it says by hand.';
</script>

{#snippet correction(one: Read)}
	<form
		method="post"
		action={one.id ? `/desk/statements/${one.id}?/putRight` : `/desk/papers/${one.paperId}/statement?/write`}
		class="notice-lamp mt-2 space-y-2"
		{@attach enhancedForm(handling)}
	>
		{#if problem}<p class="field-problem" role="alert">{problem}</p>{/if}
		<label class="field"
			><span>Account</span><select name="accountId" value={one.accountId ?? leaf.account.id}
				>{#each accounts as account (account.id)}<option value={account.id}>{account.name}</option>{/each}</select
			></label
		>
		<div class="grid grid-cols-2 gap-2">
			{#each VALUES as [name, words] (name)}<div>
					<label class="field"
						><span>{words}</span>{#if name === 'from' || name === 'to'}<input
								type="date"
								{name}
								value={one[name] ?? leaf.cell.counts[name]}
							/>{:else}<input {name} inputmode="decimal" autocomplete="off" value={one[name] === null ? '' : sumWords(one[name])} />{/if}</label
					>
					<FieldProblem id="statement-{name}" message={fields[name]} />
				</div>{/each}
		</div>
		<p class="text-xs text-(--half)">
			What a balance is called on this sheet is remembered, and read on the next ones of {leaf.account.institution}.
		</p>
		<div class="flex gap-2">
			<button class="act" disabled={pending}>Save what it says</button>
			<button type="button" class="act-quiet" onclick={() => (correcting = null)}>Cancel</button>
		</div>
	</form>
{/snippet}

<div class="space-y-4 p-5 pr-10" {@attach leafKeys}>
	<header>
		<h2 class="text-[1.2rem]">{title}</h2>
		<p class="text-sm text-(--half)">
			{accountName(leaf.account)} · {ACCOUNT_KIND_WORDS[leaf.account.kind]} · {leaf.words}
		</p>
	</header>
	{#if cell.itemId}<p class="text-sm">
			<a class="act-link" href="/desk/clients/{client.id}/item/{cell.itemId}">What was asked for it</a>
		</p>{/if}
	{#if askHref}<p><a class="act" href={askHref}>Ask for it</a></p>{/if}
	{#each leaf.statements as one (keyOf(one))}
		{@const join = joinOf(one)}
		<section class="border-t border-(--rule-strong) pt-3">
			<p class="text-sm">
				<a class="act-link font-semibold" href="/desk/papers/{one.paperId}" target="_blank" rel="noopener">{one.name}</a>
				<span class="text-(--half)"
					>came {one.came}{one.kept ? ', and is kept among their papers' : one.itemId ? '' : ', and waits in '}{#if !one.itemId && !one.kept}<a
							class="act-link"
							href="/desk/rounds/arrival-{one.paperId}">Arrivals</a
						>{/if}</span
				>
			</p>
			{#if join && (join.is === 'differs' || join.is === 'explained')}
				<table class="sums">
					<tbody>
						<tr><td>Closing {day(join.earlier.to)}</td><td>{sumWords(join.earlier.closing!)}</td></tr>
						<tr><td>Opening {day(one.from!)}</td><td>{sumWords(one.opening!)}</td></tr>
						<tr class="sum"><td>{join.is === 'explained' ? 'explained' : 'does not join'}</td><td>{sumWords(join.difference!)}</td></tr>
					</tbody>
				</table>
				{#if join.is === 'explained'}<p class="text-sm">“{one.explained}”</p>{/if}
				{#if mayFile && one.id}
					{#if explaining === one.id}
						<form method="post" action="/desk/statements/{one.id}?/explain" class="mt-2 space-y-2" {@attach enhancedForm(handling)}>
							{#if problem}<p class="field-problem" role="alert">{problem}</p>{/if}
							<label class="field"><span>It is right, because</span><input name="words" maxlength="300" value={one.explained} required /></label>
							<div class="flex gap-2">
								<button class="act" disabled={pending}>Save the reason</button>
								<button type="button" class="act-quiet" onclick={() => (explaining = null)}>Cancel</button>
							</div>
						</form>
					{:else}<p class="mt-2 flex flex-wrap gap-2" data-acts>
							{#if one.itemId && join.is === 'differs'}<a class="act" href="/desk/clients/{client.id}/item/{one.itemId}">Open what it answers</a>{/if}
							<button class="act-quiet" onclick={() => (explaining = one.id)}
								>{join.is === 'explained' ? 'Change the reason …' : 'It is right, because …'}</button
							>
						</p>{/if}
				{/if}
			{:else if join?.is === 'joined'}<p class="mt-1 text-sm">It begins with what the one before closed with, {sumWords(one.opening!)}.</p>{/if}
			{#if one.from && one.to && (one.from > cell.counts.to || one.to < cell.counts.from)}<p class="mt-1 text-sm font-semibold text-(--lamp-deep)">
					It covers {day(one.from)} to {day(one.to)}: not the days that it was asked for.
				</p>{/if}
			{#if join && join.overlap > 0}<p class="mt-1 text-sm">{join.overlap} days of it are covered by the one before as well.</p>{/if}
			{#if one.id}
				<h3 class="mt-3 text-[1rem]">How it was read</h3>
				<dl class="values">
					{#each VALUES as [name, words] (name)}<dt>{words}</dt>
						<dd>{said(one, name) ?? 'not read'}</dd>{/each}
				</dl>
				{#if one.off === '0.00'}<p class="text-sm text-(--half)">
						{one.payments === 1 ? 'The payment in it leads' : `The ${one.payments} payments in it lead`} from the one balance to the other.
					</p>
				{:else if one.off !== null}<p class="text-sm">
						The {one.payments} payments that could be read are {sumWords(one.off)} off what lies between the balances.
					</p>{/if}
				{#if one.putRightBy}<p class="text-sm text-(--half)">Put right by {one.putRightBy}.</p>{/if}
			{:else}<p class="mt-2 text-sm">{whyUnread(one)}</p>{/if}
			{#if mayFile}
				{#if correcting === keyOf(one)}{@render correction(one)}
				{:else}<p class="mt-1">
						<button class="act-link text-sm" onclick={() => begin(one)}>{one.id ? 'Put it right …' : 'Write what it says …'}</button>
					</p>{/if}
			{/if}
			{#if isViewable(one.contentType)}
				<!-- reached by the keyboard, since it scrolls -->
				<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
				<figure class="window mt-2 overflow-auto border border-(--rule-strong) bg-(--rule)" tabindex="0" aria-label={one.name}>
					<FilePages src="/desk/papers/{one.paperId}" name={one.name} contentType={one.contentType} label={(n, count) => `Page ${n} of ${count}`}>
						{#snippet over(page)}
							{#each Object.entries(one.spots) as [name, spot] (name)}
								{#if spot && spot.page === page}<span
										class="spot"
										title={name}
										style="left: {spot.x * 100}%; top: {spot.y * 100}%; width: {spot.width * 100}%; height: {spot.height * 100}%"
									></span>{/if}
							{/each}
						{/snippet}
						{#snippet unshown()}<figcaption class="bg-white p-4 text-sm text-[#1d2530]">
								{one.name} cannot be shown here. Download it.
							</figcaption>{/snippet}
					</FilePages>
				</figure>
			{/if}
		</section>
	{/each}
</div>

<style>
	.window {
		height: 17rem;
	}
	.window:has(> figcaption:only-child) {
		height: auto;
	}
	.spot {
		position: absolute;
		box-sizing: content-box;
		margin: -4px -5px;
		padding: 2px 3px;
		border: 2px solid #e9a43a;
		background: rgb(233 164 58 / 22%);
		pointer-events: none;
	}
	.sums {
		width: 100%;
		margin: 8px 0 2px;
		font-size: 0.9rem;
	}
	.sums td:last-child {
		text-align: right;
		font-variant-numeric: tabular-nums;
	}
	.sums .sum td {
		border-top: 1px solid var(--ink);
		font-weight: 700;
	}
	.values {
		display: grid;
		grid-template-columns: auto 1fr;
		gap: 2px 16px;
		margin: 4px 0;
		font-size: 0.88rem;
	}
	.values dt {
		color: var(--half);
	}
	.values dd {
		text-align: right;
		font-variant-numeric: tabular-nums;
	}
</style>
