<script lang="ts">
	import { onceSigned } from '$lib/core/requests/after-letters';
	import { feeAmount, feesTable, withFees } from '$lib/core/letters/fees';
	import { fillLetter, type LetterDocument } from '$lib/core/letters/letter-document';
	import { fillText } from '$lib/core/letters/merge-fields';
	import type { LineInHand } from '$lib/core/requests/request-list';
	import ListSheet from '$lib/ui/asking/ListSheet.svelte';
	import PreviewAsking from '$lib/ui/asking/PreviewAsking.svelte';
	import { dateWords } from '$lib/words/dates';
	import { feeWords } from '$lib/words/fees';
	import { Asking } from './asking.svelte';
	import Begin from './Begin.svelte';
	import DecidingFacts from './DecidingFacts.svelte';
	import PastStatements from './PastStatements.svelte';
	import ToWhom from './ToWhom.svelte';

	let { data } = $props();
	const asking = new Asking(() => data);
	let previewing = $state(false);
	/** what stands for the fields of the words, as the chosen person reads them */
	const values = $derived({ ...data.fromRecord, ...data.values[asking.contactId] });
	/** A letter as the chosen person will read it, as far as it is known by now. */
	function asRead(document: LetterDocument, line: LineInHand): LetterDocument {
		const fees = (line.kind === 'letter' && line.spec.fees) || data.place.fees || [];
		const filled = fillLetter(document, asking.values);
		const { currency } = data.place;
		const known = fees.map((fee) => ({ ...fee, amount: feeAmount(fee.amount ?? '', currency) ?? null }));
		return known.length > 0 ? withFees(filled, feesTable(known, currency, feeWords(data.locales[asking.contactId], currency))) : filled;
	}
	const left = $derived(asking.lines.length - asking.going.length);
</script>

<svelte:head><title>Asking {data.client.name} · {data.firm.name}</title></svelte:head>

{#snippet under()}
	{#if asking.writing}{asking.letters > 0 && asking.lettersFirst
			? `${asking.letters === 1 ? 'The letter goes' : `${asking.letters} letters go`} first, ${asking.going.length - asking.letters} more once all have signed`
			: `${asking.going.length} ${asking.going.length === 1 ? 'line goes' : 'lines go'}${asking.waitsFor.length > 0 ? ` ${onceSigned(asking.waitsFor)}` : ''}`}{left >
		0
			? `, ${left} left out, each with its reason`
			: ''}{asking.missing.length > 0
			? `; ${asking.missing.length === 1 ? 'one thing' : `${asking.missing.length} things`} should be known first`
			: ''}.
	{:else}Begin with a list of the Library, or with an empty sheet. The list itself stays as it is.{/if}
{/snippet}

{#snippet above()}
	{#if asking.writing && asking.twice.length > 0}
		<div class="notice-lamp mx-[104px] mb-2">
			<p>{asking.twice.length === 1 ? 'One of these is' : `${asking.twice.length} of these are`} asked for already, and still open:</p>
			<ul class="mt-1 list-disc pl-5">
				{#each asking.twice as { line, thing } (line.key)}<li>
						{line.title} <span class="text-(--half)">in “{thing.requestTitle}”{thing.dueOn ? `, due ${dateWords('en', thing.dueOn)}` : ''}</span>
					</li>{/each}
			</ul>
			<button type="button" class="act-link mt-1" onclick={() => asking.leaveOutTwice()}>Leave {asking.twice.length === 1 ? 'it' : 'them'} out</button
			>
		</div>
	{/if}
{/snippet}

{#snippet begin()}<Begin {data} {asking} />{/snippet}

{#snippet beside()}
	{#if asking.writing}
		{#if asking.deciding.length > 0}<DecidingFacts {asking} />{/if}
		{#if data.accounts > 0}<PastStatements today={data.today} {asking} />{/if}
		<ToWhom {data} {asking} preview={() => (previewing = true)} />
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
{/snippet}

<ListSheet
	list={asking}
	of="request"
	back={{ href: `/desk/clients/${data.client.id}`, words: `Back to ${data.client.name}` }}
	heading={asking.listName ? `${asking.listName}: ${data.client.name}` : `Asking ${data.client.name}`}
	{under}
	{above}
	instead={asking.writing ? null : begin}
	besideLabel="To whom, and when"
	besideWidth={390}
	{beside}
	today={data.today}
	dueOn={data.inTen}
	services={data.services}
	letter={data.letter}
	place={data.place}
	calendar={data.calendar}
	several={data.client.contacts.length > 1}
	remember={asking.list ? (line) => asking.remember(line) : undefined}
/>

{#if previewing}
	<PreviewAsking
		brand={data.brand}
		locale={data.locales[asking.contactId]}
		contactName={asking.contact.name}
		clientName={data.client.name}
		title={fillText(asking.title, values)}
		message={asking.quiet ? '' : fillText(asking.message, values)}
		today={data.today}
		files={asking.files}
		lines={asking.going.map((line) => ({
			...$state.snapshot(line),
			title: fillText(line.title, values),
			document: line.document ? asRead($state.snapshot(line.document) as LetterDocument, line) : null
		})) as LineInHand[]}
		close={() => (previewing = false)}
	/>
{/if}
<p class="sr">{asking.going.length > 0 ? `First due ${dateWords('en', asking.going.map((l) => l.dueOn || data.inTen).sort()[0])}` : ''}</p>
