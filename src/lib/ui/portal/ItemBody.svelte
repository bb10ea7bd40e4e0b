<script lang="ts">
	import { OTHER_ACTS } from './other-acts';
	import { filesBeside } from '$lib/core/requests/files-beside';
	import { isOpen } from '$lib/core/requests/item-states';
	import type { KnownAnswer } from '$lib/server/item-kinds/kinds/questions-for-client';
	import type { ItemRow } from '$lib/server/items/read-items';
	import type { Passed } from '$lib/server/items/passing-on';
	import type { Remark } from '$lib/server/items/remarks';
	import { dateWords } from '$lib/words/dates';
	import { sayer } from '$lib/words/words';
	import { enhancedForm } from '../forms/enhanced-form';
	import { shortFirm } from '../items/answer';
	import type { ReadyClientSide } from '../items/client-side';
	import FilesBeside from './FilesBeside.svelte';
	import ItemWords from './ItemWords.svelte';
	import Unfold from './Unfold.svelte';
	import type { TypedValue } from '$lib/core/requests/typed';
	import type { TypedKeeper } from './keep-typed.svelte';
	import type { Attachment } from 'svelte/attachments';

	/** What a client does with one item, by its kind: everything but letters, which are read and signed. */
	let {
		item,
		side,
		remarks,
		locale,
		brand,
		home,
		filesAt,
		later,
		now,
		closed,
		onProblem,
		fields,
		kept = null,
		typed = () => undefined,
		known = {},
		refused = null,
		askAbout,
		reader = { name: '', isAsked: true },
		passed = [],
		passOn
	}: {
		item: ItemRow & { mayGoOn?: boolean };
		/** of its kind */ side: ReadyClientSide | null;
		remarks: Remark[];
		locale: string;
		brand: { name: string; timeZone: string };
		home: string;
		/** address under which the firm's files are found */ filesAt: string;
		/** between which days they may ask for time */ later: { from: string; to: string };
		now: string;
		closed: boolean;
		onProblem: (problem: { message: string; fields: Record<string, string> }) => void;
		/** what is wrong with which field */ fields: Record<string, string>;
		/** keeps what is typed; null where the page is only a preview */ kept?: TypedKeeper | null;
		/** what was typed into a field and not sent */ typed?: (name: string) => TypedValue | undefined;
		/** what the firm knows already, by question */ known?: Record<string, KnownAnswer>;
		/** the act that was refused, where no scripts run */ refused?: string | null;
		/** whoever reads it, and whether it is asked of them */ reader?: { name: string; isAsked: boolean };
		/** what was passed on to others of theirs */ passed?: readonly Passed[];
		/** begins to ask somebody else for an answer */ passOn?: (key: string) => void;
		/** begins a question of their own about something */ askAbout?: (what: string) => void;
	} = $props();
	const keeping = (prefix: string): Attachment<HTMLFormElement> | undefined => kept?.form(prefix);
	const words = (name: string) => String(typed(name) ?? '');
	const say = $derived(sayer(locale));
	const open = $derived((isOpen(item.state) || item.state === 'answered_no') && !closed);
	let pending = $state(false);
	const handling = { onPending: (p: boolean) => (pending = p), onProblem: (p: { message: string; fields: Record<string, string> }) => onProblem(p) };
	const firmShort = $derived(shortFirm(brand.name));
	/** files of the firm; pictures stand in its words */
	const beside = $derived(filesBeside(item));
	const goOn = $derived(item.mayGoOn === true && !closed);
</script>

{#if item.raised && open && item.state !== 'sent_back'}<p class="notice-lamp mt-3">{say('item.own.lead', { firm: brand.name })}</p>{/if}
{#if !side?.showsFiles}<FilesBeside files={beside} {filesAt} {locale} />{/if}

{#if side}
	{@const { Answer } = side}
	{#key item.id}<Answer
			{item}
			{open}
			{remarks}
			{locale}
			{brand}
			{home}
			{filesAt}
			{now}
			{handling}
			{pending}
			{onProblem}
			{fields}
			{keeping}
			{typed}
			{known}
			{refused}
			{askAbout}
			{reader}
			{passed}
			{passOn}
		/>{/key}
{/if}

{#if item.raised && isOpen(item.state) && item.state !== 'sent_back' && !closed}
	<form method="post" action="?/takeBack" class="mt-4" {@attach enhancedForm(handling)}>
		<button class="act-link" disabled={pending}>{say('item.own.takeBack')}</button>
	</form>
{:else if isOpen(item.state) && !closed}
	<div class="mt-4 border-t border-(--rule-strong) pt-2">
		{@render other('no', say('item.no.open'))}
		{@render other('later', say('item.later.open'))}
		{#if side?.sentOtherwise}{@render other('sent', say('item.sent.open'))}{/if}
	</div>
{/if}
{#if goOn && side}
	<form method="post" action="?/goOn" class="mt-4" {@attach enhancedForm(handling)}>
		{#if side.goOn !== 'item.goOn.book'}<p class="text-sm text-(--half)">{say('item.goOn.lead', { firm: brand.name })}</p>{/if}
		<button class="act-quiet mt-2 w-full" disabled={pending}>{say(side.goOn)}</button>
	</form>
{/if}
{#snippet other(what: 'no' | 'later' | 'sent', opener: string)}
	{@const name = what === 'later' ? 'later.until' : (`${what}.reason` as const)}
	<Unfold words={opener} group="other-{item.id}" open={refused === what || Boolean(words(name))}>
		{#snippet children(close)}
			<form method="post" action="?/{OTHER_ACTS[what]}" class="space-y-3 pb-4" {@attach enhancedForm(handling)} {@attach keeping(`${what}.`)}>
				{#if what === 'later'}
					<label class="field"
						><span>{say('item.later.until')}</span><input
							type="date"
							name="until"
							min={later.from}
							max={later.to}
							value={words(name)}
							required
							aria-describedby="later-hint"
						/></label
					>
					<p id="later-hint" class="text-sm text-(--half)">{say('item.later.hint', { firm: brand.name })}</p>
				{:else}
					<label class="field"
						><span>{say(what === 'no' ? 'item.no.label' : 'item.sent.label')}</span><textarea
							name="reason"
							rows="3"
							maxlength="1000"
							value={words(name)}
							required
							aria-describedby="{what}-hint"></textarea></label
					>
					<p id="{what}-hint" class="text-sm text-(--half)">{say(what === 'no' ? 'item.no.hint' : 'item.sent.hint', { firm: brand.name })}</p>
				{/if}
				<div class="flex gap-2">
					<button class="act" disabled={pending}
						>{what === 'no'
							? say('item.no.send', { firm: firmShort })
							: what === 'later'
								? say('item.later.send')
								: say('item.sent.send', { firm: firmShort })}</button
					><button type="button" class="act-quiet" onclick={close}>{say('item.no.cancel')}</button>
				</div>
			</form>
		{/snippet}
	</Unfold>
{/snippet}
{#if (item.why || item.text) && !open && !side?.briefAfterwards}<div class="mt-4 text-(--half)">
		<ItemWords why={item.why ?? ''} text={item.text} {locale} {filesAt} videos={false} />
	</div>{/if}
{#if item.askedTimeUntil && open}<p class="mt-2 text-sm text-(--half)">
		{say('item.later.until')}: {dateWords(locale, item.askedTimeUntil, 'long')}
	</p>{/if}
