<script lang="ts">
	import { accountName } from '$lib/core/statements/accounts';
	import ClientAccounts from '$lib/ui/record/ClientAccounts.svelte';
	import RecordLine from '$lib/ui/record/RecordLine.svelte';
	import { count, type ClientRecord } from '../record.svelte';

	/** Their accounts, of which statements are asked for. */
	let { record }: { record: ClientRecord } = $props();
	const { data, client } = $derived(record);
</script>

<RecordLine
	name="accounts"
	heading="accounts"
	act={record.mine('keep_record') && client.state === 'active' ? 'change' : 'show'}
	open={record.opened.has('accounts')}
	toggle={record.toggle}
>
	<p>
		{#if data.accounts.length === 0}<span class="text-(--half)">None yet. With them, statements are asked for by account and month.</span>
		{:else}{data.accounts
				.filter((account) => !account.closedOn)
				.map((account) => accountName(account))
				.join(' · ') || 'All closed'}{/if}
		{#if data.accounts.length > 0}&nbsp;· <a class="act-link" href="/desk/clients/{client.id}/statements"
				>{data.statements.expected === 0
					? 'statements'
					: `${data.statements.in} of ${data.statements.expected} ${data.statements.expected === 1 ? 'statement' : 'statements'} in`}</a
			>{#if data.statements.missing > 0}<b class="font-semibold text-(--lamp-deep)">, {data.statements.missing} missing</b
				>{/if}{#if data.statements.differing > 0}<b class="font-semibold text-(--lamp-deep)"
					>, {count(data.statements.differing, 'sum does', 'sums do')} not join</b
				>{/if}{/if}
		{#if client.state === 'active' || data.transactionFiles > 0}&nbsp;· <a class="act-link" href="/desk/clients/{client.id}/transactions"
				>questions about transactions</a
			>{#if data.transactionFiles > 0}<span class="text-(--half)">, {count(data.transactionFiles, 'file', 'files')}</span>{/if}{/if}
	</p>
	{#snippet more()}
		{#key client.id}<ClientAccounts
				clientId={client.id}
				accounts={data.accounts}
				currency={data.currency}
				mayChange={client.state === 'active' && record.mine('keep_record')}
			/>{/key}
	{/snippet}
</RecordLine>
