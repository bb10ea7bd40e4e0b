<script lang="ts">
	import { ACCOUNT_KIND_WORDS, ACCOUNT_KINDS, accountName, type Account } from '$lib/core/statements/accounts';
	import { dateWords } from '$lib/words/dates';
	import { enhancedForm } from '../forms/enhanced-form';
	import FieldProblem from '../forms/FieldProblem.svelte';

	/** The client's accounts: what statements come from. */
	let { clientId, accounts, currency, mayChange }: { clientId: string; accounts: Account[]; currency: string; mayChange: boolean } = $props();
	let open = $state<string | null>(null);
	let problem = $state('');
	let fields = $state<Record<string, string>>({});
	let pending = $state(false);
	const closes = (day: number) => (day === 31 ? 'at the end of the month' : `on day ${day} of the month`);
	const handling = {
		onPending: (p: boolean) => (pending = p),
		onProblem: (p: { message: string; fields: Record<string, string> }) => {
			problem = p.message;
			fields = p.fields;
		},
		close: () => (open = null),
		onSuccess: () => {
			problem = '';
			fields = {};
		}
	};
	const toggle = (id: string) => {
		open = open === id ? null : id;
		problem = '';
		fields = {};
	};
</script>

{#snippet form(account: Account | null)}
	<form method="post" action="/desk/clients/{clientId}?/writeAccount" class="notice-lamp mt-2 space-y-3" {@attach enhancedForm(handling)}>
		{#if account}<input type="hidden" name="accountId" value={account.id} />{/if}
		{#if problem}<p class="field-problem" role="alert">{problem}</p>{/if}
		<div class="grid gap-3 sm:grid-cols-3">
			<label class="field"
				><span>Kind</span><select name="kind" value={account?.kind ?? 'bank'}
					>{#each ACCOUNT_KINDS as kind (kind)}<option value={kind}>{ACCOUNT_KIND_WORDS[kind]}</option>{/each}</select
				></label
			>
			<div class="sm:col-span-2">
				<label class="field"
					><span>Bank or service, as the client calls it</span><input
						name="institution"
						value={account?.institution ?? ''}
						maxlength="80"
						required
					/></label
				>
				<FieldProblem id="account-institution" message={fields.institution} />
			</div>
			<div>
				<label class="field"
					><span>Last four digits</span><input name="lastFour" value={account?.lastFour ?? ''} maxlength="4" inputmode="numeric" /></label
				>
				<FieldProblem id="account-four" message={fields.lastFour} />
			</div>
			<div>
				<label class="field"
					><span>Closing day of the month, 31 for the last</span><input
						name="closingDay"
						type="number"
						min="1"
						max="31"
						value={account?.closingDay ?? 31}
					/></label
				>
				<FieldProblem id="account-day" message={fields.closingDay} />
			</div>
			<div>
				<label class="field"><span>Currency</span><input name="currency" value={account?.currency ?? currency} maxlength="3" /></label>
				<FieldProblem id="account-currency" message={fields.currency} />
			</div>
			<label class="field"><span>Opened, if known</span><input name="openedOn" type="date" value={account?.openedOn ?? ''} /></label>
			<div>
				<label class="field"><span>Closed</span><input name="closedOn" type="date" value={account?.closedOn ?? ''} /></label>
				<FieldProblem id="account-closed" message={fields.closedOn} />
			</div>
		</div>
		<div class="flex gap-2">
			<button class="act" disabled={pending}>{account ? 'Save the account' : 'Add the account'}</button>
			<button type="button" class="act-quiet" onclick={() => (open = null)}>Cancel</button>
		</div>
	</form>
{/snippet}

{#if accounts.length === 0}<p class="py-2 text-sm text-(--half)">None yet. With them, statements are asked for by account and month.</p>{/if}
<ul>
	{#each accounts as account (account.id)}
		<li class="border-b border-(--rule) py-1.5 text-sm">
			<div class="flex flex-wrap items-baseline gap-x-3">
				<b class={account.closedOn ? 'font-normal text-(--half)' : ''}>{accountName(account)}</b>
				<span class="text-(--half)"
					>{ACCOUNT_KIND_WORDS[account.kind]}, {account.currency}, closes {closes(account.closingDay)}{account.closedOn
						? `; closed ${dateWords('en', account.closedOn, 'withYear')}`
						: ''}</span
				>
				{#if mayChange}<button
						class="act-link ml-auto"
						aria-label="Change {accountName(account)}"
						aria-expanded={open === account.id}
						onclick={() => toggle(account.id)}>Change …</button
					>{/if}
			</div>
			{#if open === account.id}{@render form(account)}{/if}
		</li>
	{/each}
</ul>
{#if mayChange}
	{#if open === 'new'}{@render form(null)}{:else}<button class="act-link mt-1 text-sm" onclick={() => toggle('new')}>Add an account …</button>{/if}
{/if}
