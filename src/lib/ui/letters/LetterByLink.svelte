<script lang="ts">
	import { untrack } from 'svelte';
	import { isOpen } from '$lib/core/requests/item-states';
	import type { TypedValue } from '$lib/core/requests/typed';
	import type { Signature } from '$lib/core/signing/signature';
	import type { LetterPages, OwnItem } from '$lib/server/items/read-items';
	import type { Remark } from '$lib/server/items/remarks';
	import type { FormProblem } from '$lib/web/form-errors';
	import { dateWords } from '$lib/words/dates';
	import { sayer } from '$lib/words/words';
	import { enhancedForm } from '../forms/enhanced-form';
	import ItemTalk from '../portal/ItemTalk.svelte';
	import ItemWords from '../portal/ItemWords.svelte';
	import { keepTypedOf } from '../portal/keep-typed.svelte';
	import SignLetter from './SignLetter.svelte';

	/** A letter, for somebody who was let in to it by a link of their own: nothing else of their client is here. */
	let {
		letter,
		at,
		now,
		locale,
		brand,
		refused,
		closed
	}: {
		letter: {
			item: OwnItem;
			pages: LetterPages | null;
			person: { id: string; name: string; email: string };
			knownPlaces: Readonly<Record<string, string>>;
			lastMark: Signature | null;
			remarks: Remark[];
		};
		/** address of this page */ at: string;
		/** instant */ now: string;
		locale: string;
		brand: { name: string; timeZone: string };
		/** what was wrong, where no scripts run: which act it was, and what stands before the names of its fields */
		refused: (FormProblem & { act: string; prefix: string }) | null;
		/** told once the letter was closed on this device */ closed: () => void;
	} = $props();
	const say = $derived(sayer(locale));
	const item = $derived(letter.item);
	const worked = $derived(item.clientState === 'active');
	const open = $derived(isOpen(item.state) && worked);
	const kept = untrack(() => keepTypedOf({ at, itemId: item.id, personId: letter.person.id, typed: item.typed, now }));
	const typed = (name: string): TypedValue | undefined =>
		refused && name.startsWith(refused.prefix) ? (refused.values[name.slice(refused.prefix.length)] ?? kept.typed(name)) : kept.typed(name);
</script>

<h1 class="text-[1.55rem] leading-snug" tabindex="-1" {@attach (heading) => heading.focus({ preventScroll: true })}>{item.title}</h1>
<p class="text-(--half)">
	{item.clientName}{open && item.dueOn ? ` · ${say('item.due', { date: dateWords(locale, item.dueOn, 'long') })}` : ''}
</p>
{#if !worked}<p class="notice-lamp mt-3">{say('portal.closed', { client: item.clientName })}</p>
{:else if (item.why || item.text) && open}<div class="mt-2">
		<ItemWords why={item.why ?? ''} text={item.text} {locale} filesAt="{at}/attachments" />
	</div>{/if}
{#if kept.met}<p class="notice-lamp mt-3" role="status">{say(`item.typed.${kept.met}`)}</p>{/if}
{#if letter.pages}<SignLetter
		{item}
		home={null}
		pages={letter.pages}
		{locale}
		{brand}
		pdf="{at}/pdf"
		filesAt="{at}/attachments"
		person={letter.person}
		{now}
		maySign={worked}
		{kept}
		{typed}
		{refused}
		declineWords={String(typed('decline.reason') ?? '')}
		lastMark={letter.lastMark}
		known={letter.knownPlaces}
	/>{/if}
<ItemTalk
	remarks={letter.remarks}
	{locale}
	firm={brand.name}
	timeZone={brand.timeZone}
	mayWrite={worked}
	{kept}
	typed={String(typed('talk.words') ?? '')}
	refused={refused?.act === 'talk' ? refused.message : ''}
/>
<form method="post" action="?/leave" class="mt-8 border-t border-(--rule-strong) pt-3" {@attach enhancedForm({ onSuccess: closed })}>
	<button class="act-link">{say('letterDoor.leave')}</button>
</form>
