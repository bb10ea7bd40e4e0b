<script lang="ts">
	import { isOpen } from '$lib/core/requests/item-states';
	import ItemBody from '$lib/ui/portal/ItemBody.svelte';
	import ItemTalk from '$lib/ui/portal/ItemTalk.svelte';
	import ItemWords from '$lib/ui/portal/ItemWords.svelte';
	import SignLetter from '$lib/ui/SignLetter.svelte';
	import { dateWords, dayOf } from '$lib/words/dates';
	import { sayer } from '$lib/words/words';

	let { data } = $props();
	const say = $derived(sayer(data.locale));
	const item = $derived(data.item);
	// a client the firm does not work for just now is only read
	const closed = $derived(item.clientState !== 'active');
	const open = $derived(isOpen(item.state) && !closed);
	let problem = $state('');
	let fields = $state<Record<string, string>>({});
	const stateWords = $derived.by(() => {
		const values = {
			firm: data.brand.name,
			date: dateWords(data.locale, dayOf(item.stateAt, data.brand.timeZone), 'long'),
			reason: item.reason ?? ''
		};
		return item.state === 'handed_in' ||
			item.state === 'accepted' ||
			item.state === 'waived' ||
			item.state === 'answered_no' ||
			item.state === 'declined'
			? say(`item.state.${item.state}`, values)
			: '';
	});

	const subtitle = $derived(
		[
			item.clientName,
			open && item.dueOn ? say(item.dueOn < data.today ? 'item.dueLate' : 'item.due', { date: dateWords(data.locale, item.dueOn, 'long') }) : '',
			item.required || item.raised ? '' : say('item.optional')
		]
			.filter(Boolean)
			.join(' · ')
	);
</script>

<svelte:head><title>{item.title} · {data.brand.name}</title></svelte:head>

<p><a class="act-link" href={data.home}>← {say('portal.back')}</a></p>
<h1 class="mt-1 text-[1.55rem] leading-snug">{item.title}</h1>
<p class="text-(--half)">{subtitle}</p>

{#if closed}<p class="notice-lamp mt-3">{say('portal.closed', { client: item.clientName })}</p>
{:else if item.state === 'sent_back'}<p class="notice-lamp mt-3">
		{say('portal.sentBack.said', { name: item.lastActor ?? data.brand.name, reason: item.reason ?? '' })}
	</p>
{:else if (item.why || item.text) && open}<div class="mt-2">
		<ItemWords why={item.why ?? ''} text={item.text} locale={data.locale} filesAt="{data.home}/attachments" />
	</div>{/if}
{#if problem}<p class="notice-wrong mt-3" role="alert">{problem}</p>{/if}

{#if item.kind === 'letter' && data.document && item.letter}
	<SignLetter
		{item}
		document={data.document}
		locale={data.locale}
		brand={data.brand}
		home={data.home}
		personName={data.person.name}
		maySign={data.mayRead && !closed}
	/>
{:else}
	{#if stateWords}<p class="notice-lamp mt-4">{stateWords}</p>{/if}
	<ItemBody
		{item}
		remarks={data.remarks}
		locale={data.locale}
		brand={data.brand}
		home={data.home}
		filesAt="{data.home}/attachments"
		later={data.later}
		now={data.now}
		{closed}
		{fields}
		onProblem={(p) => {
			problem = p.message;
			fields = p.fields;
		}}
	/>
{/if}
<ItemTalk
	remarks={data.remarks.filter((remark) => !remark.pinned)}
	locale={data.locale}
	firm={data.brand.name}
	timeZone={data.brand.timeZone}
	mayWrite={!closed && !data.person.lookedAtBy}
/>
