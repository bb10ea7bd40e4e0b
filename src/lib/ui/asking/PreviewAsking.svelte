<script lang="ts">
	import { greeted } from '$lib/core/letters/merge-fields';
	import { kindOf } from '$lib/core/items/item-kinds';
	import type { LineInHand } from '$lib/core/requests/request-list';
	import type { AttachmentRow } from '$lib/server/attachments/attachments';
	import type { ItemRow } from '$lib/server/items/read-items';
	import { dateWords } from '$lib/words/dates';
	import { sayer } from '$lib/words/words';
	import { isWritten } from '$lib/core/items/kinds/letter';
	import LetterText from '../letters/LetterText.svelte';
	import { readClientSide } from '../items/client-side';
	import ItemBody from '../portal/ItemBody.svelte';
	import ItemWords from '../portal/ItemWords.svelte';
	import TickMark from '../ticks/TickMark.svelte';

	/** A request as its contact will see it: their language, the client's brand, on a phone or a desk; each line can be opened. */
	let {
		brand,
		locale,
		contactName,
		clientName,
		title,
		message,
		lines,
		files,
		today,
		close
	}: {
		brand: { name: string; color: string; timeZone: string };
		locale: string;
		contactName: string;
		clientName: string;
		title: string;
		/** empty if nobody is told */ message: string;
		lines: LineInHand[];
		files: Record<string, AttachmentRow>;
		today: string;
		close: () => void;
	} = $props();
	const say = $derived(sayer(locale));
	let width = $state<'phone' | 'desk'>('phone');
	let open = $state<string | null>(null);
	const line = $derived(lines.find((l) => l.key === open) ?? null);
	// a day that is still to be typed is empty: such a line comes last, without one
	const sorted = $derived(lines.toSorted((a, b) => (a.dueOn || '9').localeCompare(b.dueOn || '9')));
	const next = $derived(sorted[0]);
	const phases = $derived.by(() => {
		const found = new Map<string, LineInHand[]>();
		for (const l of sorted.slice(1)) found.set(l.heading, [...(found.get(l.heading) ?? []), l]);
		return [...found];
	});
	const minutes = $derived(lines.reduce((sum, l) => sum + kindOf(l.kind).minutes(l.spec), 0));
	const asItem = (l: LineInHand): ItemRow =>
		({
			id: l.key,
			kind: l.kind,
			spec: l.spec,
			nextChaseOn: null,
			title: l.title,
			why: l.why || null,
			text: l.text,
			required: l.required,
			dueOn: l.dueOn,
			state: 'seen',
			stateAt: `${today}T12:00:00Z`,
			reason: null,
			answer: null,
			answerData: null,
			signed: null,
			heading: l.heading,
			attachments: l.attachments.flatMap((id) => files[id] ?? []),
			acceptsItself: l.acceptsItself,
			askedTimeUntil: null,
			remarks: 0,
			asksUs: false,
			unseenByFirm: 0,
			unseenByClient: 0,
			version: 1,
			chasesSent: 0,
			contactId: '',
			contactName,
			clientId: '',
			clientName,
			clientState: 'active',
			requestId: '',
			requestTitle: title,
			raised: false,
			papers: [],
			letter: null,
			review: {},
			withheld: [],
			lastActor: null
		}) as ItemRow;
	const opened = (element: HTMLDialogElement) => {
		element.showModal();
	};
</script>

<dialog class="sheet-dialog preview" class:phone={width === 'phone'} aria-label="As {contactName} will see it" {@attach opened} onclose={close}>
	<div class="bar">
		<span>As {contactName} will see it</span>
		<span class="ml-auto flex gap-1">
			<button class="only" aria-current={width === 'phone' ? 'true' : undefined} onclick={() => (width = 'phone')}>phone</button>
			<button class="only" aria-current={width === 'desk' ? 'true' : undefined} onclick={() => (width = 'desk')}>desk</button>
			<button class="act-quiet" onclick={close}>Close</button>
		</span>
	</div>
	<div class="portal" style="--brand: {brand.color}" lang={locale}>
		<div class="head serif">{brand.name}</div>
		<div class="body">
			{#if line}
				<p><button class="act-link" onclick={() => (open = null)}>← {say('portal.back')}</button></p>
				<h2 class="mt-1 text-[1.55rem] leading-snug">{line.title}</h2>
				<p class="text-(--half)">
					{[clientName, line.dueOn && say('item.due', { date: dateWords(locale, line.dueOn, 'long') }), line.required ? '' : say('item.optional')]
						.filter(Boolean)
						.join(' · ')}
				</p>
				{#if line.why || line.text}<div class="mt-2">
						<ItemWords why={line.why} text={line.text} {locale} filesAt="/desk/attachments" videos={false} />
					</div>{/if}
				{#if line.kind === 'letter' && !isWritten(line)}<ul class="mt-4 rounded border border-(--rule-strong) bg-white p-4">
						{#each line.spec.signing?.documents ?? [] as one (one.id)}<li>
								<a class="act-link" href="/desk/attachments/{one.id}" target="_blank" rel="noopener">{one.name}</a>
							</li>{/each}
					</ul>
				{:else if line.document}<div class="mt-4 rounded border border-(--rule-strong) bg-white p-4">
						<LetterText document={line.document} account={{ title: say('letter.payment.title'), words: say('letter.payment.below') }} />
					</div>
				{:else}
					<div inert>
						{#key line.key}{#await readClientSide(line.kind) then side}<ItemBody
									item={asItem(line)}
									{side}
									remarks={[]}
									{locale}
									{brand}
									home=""
									filesAt="/desk/attachments"
									later={{ from: today, to: today }}
									now={`${today}T00:00:00Z`}
									closed={false}
									fields={{}}
									onProblem={() => undefined}
								/>{/await}{/key}
					</div>
				{/if}
			{:else}
				{#if message}<details class="mb-4 text-[0.95rem]">
						<summary class="cursor-pointer text-(--half)">{title || 'Untitled request'}, by e-mail</summary>
						<p class="mt-2 border-l-4 border-(--rule-strong) pl-3 whitespace-pre-wrap">{message}</p>
					</details>{/if}
				<h2 class="text-[1.65rem] leading-tight">{say('portal.greeting.morning', greeted(contactName))}</h2>
				<p class="mt-0.5 text-[1.02rem] text-(--half)">{say('portal.left', { count: lines.length })} {say('portal.minutes', { minutes })}</p>
				{#if next}
					<section class="next">
						{#if next.dueOn}<p class="text-[0.92rem] font-bold text-(--act)">
								{say('portal.next', { date: dateWords(locale, next.dueOn, 'long') })}
							</p>{/if}
						<h3 class="mt-1 text-[1.35rem] leading-snug">{next.title}</h3>
						{#if next.why}<p class="mt-1 text-(--half)">{next.why}</p>{/if}
						<button class="act mt-4 w-full" onclick={() => (open = next.key)}>{say(`portal.act.${next.kind}`)}</button>
					</section>
				{/if}
				{#each phases as [heading, under] (heading)}
					{#if heading}<h3 class="mt-6 pb-1 text-[1.1rem]">{heading}</h3>{/if}
					<ul class="border-t border-(--rule-strong)" class:mt-6={!heading}>
						{#each under as l (l.key)}<li>
								<button class="row" onclick={() => (open = l.key)}>
									<span class="pt-1"><TickMark tick="asked" size={15} /></span>
									<span class="min-w-0 text-left"
										>{l.title}<span class="block text-[0.88rem] text-(--half)">{l.kind === 'letter' ? '' : say(`portal.kind.${l.kind}`)}</span></span
									>
									<span class="text-[0.88rem] whitespace-nowrap text-(--half)"
										>{l.dueOn ? say('portal.list.by', { date: dateWords(locale, l.dueOn, 'short') }) : ''}</span
									>
								</button>
							</li>{/each}
					</ul>
				{/each}
			{/if}
		</div>
	</div>
</dialog>

<style>
	.preview {
		width: min(64rem, calc(100vw - 2rem));
		max-width: none;
		height: min(50rem, calc(100dvh - 2rem));
		max-height: none;
		padding: 0;
		overflow: hidden;
		grid-template-rows: auto minmax(0, 1fr);
	}
	.preview[open] {
		display: grid;
	}
	.phone {
		width: min(25rem, calc(100vw - 2rem));
	}
	.bar {
		display: flex;
		align-items: center;
		gap: 0.5rem;
		padding: 0.4rem 0.75rem;
		font-size: 0.85rem;
		border-bottom: 1px solid var(--rule-strong);
	}
	.portal {
		overflow: auto;
		background: #f7f4ec;
		color: #1d2530;
		--ink: #1d2530;
		--half: #4d5866;
		--rule: #e7dfcd;
		--rule-strong: #d8cdb5;
		--sheet: #fffdf7;
		--act: var(--brand);
		--act-ink: #fff;
		color-scheme: light;
	}
	.head {
		background: var(--brand);
		color: #fff;
		padding: 0.9rem 18px;
		font-size: 1.1rem;
	}
	.body {
		max-width: 40rem;
		margin-inline: auto;
		padding: 1.1rem 18px 2rem;
	}
	.next {
		margin-top: 1rem;
		padding: 1rem;
		border: 1px solid var(--rule-strong);
		border-top: 4px solid var(--act);
		border-radius: 6px;
		background: #fffefb;
	}
	.row {
		display: grid;
		grid-template-columns: 20px minmax(0, 1fr) auto;
		gap: 0.7rem;
		width: 100%;
		padding: 0.7rem 0;
		border-bottom: 1px solid var(--rule-strong);
		cursor: pointer;
	}
	.portal :global(.act),
	.portal :global(.act-quiet) {
		min-height: 48px;
		font-size: 1.02rem;
	}
</style>
