<script lang="ts">
	import { onMount, untrack } from 'svelte';
	import { page } from '$app/state';
	import ClientBasics from '$lib/ui/record/ClientBasics.svelte';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import RecordLine from '$lib/ui/record/RecordLine.svelte';
	import { dateWords } from '$lib/words/dates';
	import Accounts from './lines/Accounts.svelte';
	import Again from './lines/Again.svelte';
	import Asked from './lines/Asked.svelte';
	import Drafts from './lines/Drafts.svelte';
	import History from './lines/History.svelte';
	import Known from './lines/Known.svelte';
	import Next from './lines/Next.svelte';
	import Papers from './lines/Papers.svelte';
	import People from './lines/People.svelte';
	import Settled from './lines/Settled.svelte';
	import Talk from './lines/Talk.svelte';
	import Where from './lines/Where.svelte';
	import Work from './lines/Work.svelte';
	import { ClientRecord } from './record.svelte';

	let { data } = $props();
	const client = $derived(data.client);
	const record = new ClientRecord(() => data);
	let changing = $state(false);
	let tellProblem = $state('');
	// only another client closes what is open: a live update brings a new object for the same one
	let shown = untrack(() => client.id);
	$effect(() => {
		if (client.id === shown) return;
		shown = client.id;
		changing = false;
		record.close();
	});
	onMount(() => {
		if (page.url.hash) record.opened.add(page.url.hash.slice(1));
	});
	// reloading or going back finds the lines open that were
	export const snapshot = {
		capture: () => [...record.opened],
		restore: (names: string[]) => names.forEach((name) => record.opened.add(name))
	};
</script>

<svelte:head><title>{client.name} · {data.firm.name}</title></svelte:head>

<div class="record">
	<header>
		<span aria-hidden="true"></span>
		<div class="flex flex-wrap items-start gap-x-3 gap-y-2">
			<div class="min-w-0 flex-1">
				<h2 class="text-[1.6rem] leading-tight break-words">{client.name}</h2>
				<p class="mt-0.5 text-[0.82rem] text-(--half)">
					{client.kind === 'business' ? 'a business' : 'a person'}, looked after by {client.responsible}, with us since {dateWords(
						'en',
						client.createdAt,
						'withYear'
					)}
				</p>
				{#if data.toldOf !== null}<form
						method="post"
						action="?/tell"
						class="mt-0.5 text-[0.82rem] text-(--half)"
						{@attach enhancedForm({ onProblem: ({ message }) => (tellProblem = message), onSuccess: () => void (tellProblem = '') })}
					>
						<input type="hidden" name="told" value={data.toldOf ? 'no' : 'yes'} />
						{data.toldOf ? 'You are e-mailed about this client.' : 'You are not e-mailed about this client.'}
						<button class="act-link">{data.toldOf ? 'Leave it out' : 'E-mail me about it'}</button>
						{#if tellProblem}<span role="alert" class="text-(--wrong)">{tellProblem}</span>{/if}
					</form>{/if}
				{#if data.rights.restricted}<p class="mt-0.5 text-[0.82rem]">
						<b class="text-(--lamp-deep)">Only for some of us:</b>
						{[client.responsible, ...data.rights.words.filter((name) => name !== client.responsible), 'administrators'].join(', ')}
					</p>{/if}
			</div>
			{#if record.mine('add_client')}<button class="act-quiet" aria-expanded={changing} onclick={() => (changing = !changing)}>Change …</button>{/if}
			{#if client.state === 'active' && record.mine('send_request')}<a class="act" href="/desk/clients/{client.id}/ask">Ask for something</a>{/if}
		</div>
	</header>
	{#if changing && record.mine('add_client')}<div class="wide">
			{#key client.id}<ClientBasics
					brands={data.brands}
					look={data.look}
					rights={data.rights}
					areas={data.areas}
					groups={data.groups}
					plans={data.plans}
					{client}
					staff={data.staff}
					openItems={record.open.length}
					mayClose={record.mine('close_client')}
					done={() => (changing = false)}
				/>{/key}
		</div>{/if}

	<Where {record} />
	<Next {record} />
	{#if record.toLookAt.length > 0}<Asked {record} name="to-look-at" heading="to look at" items={record.toLookAt} lit />{/if}
	<Drafts {record} />
	{#if record.open.length > 0}<Asked {record} name="open" heading="open" items={record.open} />
	{:else if data.items.length === 0}
		<RecordLine name="open" heading="open" act="" open={false} toggle={record.toggle}>
			<p class="text-(--half)">
				{client.state === 'active' && record.mine('send_request')
					? '“Ask for something” begins with a ready-made list or an empty sheet.'
					: 'Nothing has been asked yet.'}
			</p>
		</RecordLine>
	{/if}
	<Settled {record} />
	<Again {record} />
	<Accounts {record} />
	<Papers {record} />
	<Talk {record} />
	<People {record} />
	<Known {record} />
	<Work {record} />
	<History {record} />
</div>

<style>
	.record {
		--record-margin: 92px;
		min-height: 100%;
		background: linear-gradient(
			90deg,
			transparent var(--record-margin),
			var(--margin-line) var(--record-margin),
			var(--margin-line) calc(var(--record-margin) + 1px),
			transparent calc(var(--record-margin) + 1px)
		);
	}
	header {
		display: grid;
		grid-template-columns: var(--record-margin) minmax(0, 1fr);
		column-gap: 18px;
		padding: 18px 44px 10px 0;
		border-bottom: 1px solid var(--rule-strong);
	}
	.wide {
		padding: 0 20px 14px calc(var(--record-margin) + 18px);
		border-bottom: 1px solid var(--rule-strong);
	}
	@media (max-width: 640px) {
		.record {
			background: none;
		}
		header {
			grid-template-columns: minmax(0, 1fr);
			padding-left: 16px;
		}
		header > span {
			display: none;
		}
		.wide {
			padding-left: 16px;
		}
	}
</style>
