<script lang="ts">
	import { goto, invalidateAll } from '$app/navigation';
	import { navigating, page } from '$app/state';
	import type { Act } from '$lib/core/people/roles';
	import { DRAFT_STANDS } from '$lib/core/requests/many-acts';
	import { daysLate } from '$lib/core/requests/lateness';
	import { dateWords, timeWords } from '$lib/words/dates';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import { leafKeys } from '$lib/ui/desk/leaf-keys';
	import InviteForm from '$lib/ui/desk/InviteForm.svelte';
	import ItemLeaf from '$lib/ui/desk/ItemLeaf.svelte';

	let { data } = $props();
	const leaf = $derived(data.leaf);
	/** whether the person may do something about what is open: what they may not do is not offered */
	const mine = (act: Act) => data.acts.includes(act);
	let problem = $state('');
	/** the address was doubted; it may be kept all the same */
	let doubted = $state(false);
	// the next row may be dealt with as soon as it is open, while the lists are still being read anew
	let pendingFor = $state<string | undefined>();
	const pending = $derived(pendingFor !== undefined && pendingFor === page.params.key);

	let actedOn: { key: string | undefined; next: string | undefined } | undefined;

	/** Remembers what is dealt with and what comes after it: the list may have moved on when the answer is here. */
	function remember() {
		const at = data.rows.findIndex((row) => row.key === page.params.key);
		actedOn = { key: page.params.key, next: (data.rows[at + 1] ?? data.rows[at - 1])?.key };
	}

	/** Opens the row after the one that was dealt with, unless the person has gone elsewhere meanwhile. */
	async function openNext() {
		if (navigating.to || (actedOn && actedOn.key !== page.params.key)) return;
		const next = actedOn?.next;
		await goto(next ? `/desk/rounds/${next}` : '/desk/rounds', { noScroll: true, invalidateAll: true });
	}
	function onPending(begins: boolean) {
		if (begins) {
			remember();
			problem = '';
			doubted = false;
			pendingFor = page.params.key;
		} else pendingFor = undefined;
	}
	function onProblem(p: { message: string; fields?: Record<string, string> }) {
		problem = p.message;
		doubted = p.fields?.anyway !== undefined;
	}
	const handling = { onPending, onProblem, onSuccess: openNext };
	const time = (at: string) => timeWords('en', at, data.firm.timeZone);
</script>

{#if leaf.kind === 'item'}
	<ItemLeaf {leaf} timeZone={data.firm.timeZone} person={data.person} next={openNext} begin={remember} />
{:else if leaf.kind === 'ran_out'}
	<div class="space-y-4 p-5 pr-10" {@attach leafKeys}>
		<header>
			<h2 class="text-[1.2rem]">{leaf.client.name}: the reminders have run out</h2>
			<p class="text-sm text-(--half)">No more reminders go out. A phone call helps now.</p>
		</header>
		<dl class="facts">
			{#each leaf.client.contacts as contact (contact.id)}<div>
					<dt>{contact.name}</dt>
					<dd>
						{contact.email ?? 'no e-mail address'}<br /><span class="text-(--half)"
							>{contact.lastSeenAt ? `last here ${time(contact.lastSeenAt)}` : 'never signed in'}</span
						>
					</dd>
				</div>{/each}
		</dl>
		{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
		{#if mine('judge_item')}<p class="text-sm">
				Agreed on a date, or not needed any more? Say so line by line; when the last one is settled, this row leaves Rounds.
			</p>{/if}
		<ul data-acts>
			{#each leaf.items as item (item.id)}
				<li class="border-t border-(--rule-strong) py-2.5 text-sm">
					<p>
						<a class="font-semibold underline decoration-dotted underline-offset-2" href="/desk/clients/{leaf.client.id}/item/{item.id}"
							>{item.title}</a
						> <span class="text-(--half)">{daysLate(item, leaf.today)} days late, {item.chasesSent} reminders</span>
					</p>
					{#if mine('judge_item')}<div class="mt-1.5 flex flex-wrap gap-2">
							<form
								method="post"
								action="/desk/items/{item.id}?/moveDue"
								class="flex gap-2"
								{@attach enhancedForm({
									...handling,
									onSuccess: leaf.items.filter((i) => i.nextChaseOn === null).length > 1 ? () => invalidateAll() : openNext
								})}
							>
								<input type="hidden" name="version" value={item.version} />
								<input type="date" name="dueOn" class="line-input !w-auto" min={leaf.today} required aria-label="New due date of {item.title}" />
								<button class="act-quiet" disabled={pending}>Set this date</button>
							</form>
							<form
								method="post"
								action="/desk/items/{item.id}?/waive"
								{@attach enhancedForm({
									...handling,
									onSuccess: leaf.items.filter((i) => i.nextChaseOn === null).length > 1 ? () => invalidateAll() : openNext
								})}
							>
								<input type="hidden" name="version" value={item.version} />
								<button class="act-quiet" disabled={pending}>Waive</button>
							</form>
						</div>{/if}
					{#if item.nextChaseOn}<p class="mt-1 text-xs text-(--half)">
							Settled: due {dateWords('en', item.dueOn!)}, next reminder {dateWords('en', item.nextChaseOn)}.
						</p>{/if}
				</li>
			{/each}
		</ul>
	</div>
{:else if leaf.kind === 'draft'}
	<div class="space-y-4 p-5 pr-10" {@attach leafKeys}>
		<header>
			<h2 class="text-[1.2rem]">{leaf.draft.title || 'Untitled request'} waits to be sent</h2>
			<p class="text-sm text-(--half)">
				<a class="underline decoration-dotted" href="/desk/clients/{leaf.draft.clientId}">{leaf.draft.clientName}</a>{leaf.draft.listName
					? ` · from “${leaf.draft.listName}”`
					: ''} · {leaf.draft.contactName ? `to ${leaf.draft.contactName}` : 'to nobody yet'}
			</p>
		</header>
		{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
		{#if leaf.draft.problem && !problem}<p class="notice-lamp">It did not go by itself: {leaf.draft.problem}</p>{/if}
		{#if leaf.draft.stands}<p class="notice-lamp">{DRAFT_STANDS[leaf.draft.stands]}</p>{/if}
		<ul class="text-sm">
			{#each leaf.draft.content.lines as line (line.key)}<li class="border-b border-(--rule-strong) py-1.5" class:out={line.out}>
					{line.title}{#if line.out && line.because}<span class="text-(--lamp-deep)">&nbsp;{line.because}</span>{/if}
				</li>{/each}
		</ul>
		{#if mine('send_request')}<div class="flex flex-wrap gap-2" data-acts>
				<form method="post" action="/desk/drafts?/send" {@attach enhancedForm(handling)}>
					<input type="hidden" name="draftId" value={leaf.draft.id} />
					<button class="act" disabled={pending || leaf.draft.stands !== null}>Send it and open next</button>
				</form>
				<a class="act-quiet" href="/desk/clients/{leaf.draft.clientId}/ask?draft={leaf.draft.id}">Change it first</a>
				<form method="post" action="/desk/drafts?/remove" {@attach enhancedForm(handling)}>
					<input type="hidden" name="draftId" value={leaf.draft.id} /><button class="act-quiet" disabled={pending}>Delete the draft</button>
				</form>
			</div>{/if}
	</div>
{:else if leaf.kind === 'message'}
	<div class="space-y-4 p-5 pr-10" {@attach leafKeys}>
		<header>
			<h2 class="text-[1.2rem]">{leaf.message.state === 'unclear' ? 'Nobody knows whether this arrived' : 'This did not arrive'}</h2>
			<p class="text-sm text-(--half)">“{leaf.message.subject}” to {leaf.message.toName}, {time(leaf.message.plannedAt)}</p>
		</header>
		<p class="notice-lamp">
			{leaf.message.state === 'unclear'
				? 'The sending was cut off between handing the message over and the answer. It was not sent again, so that nobody gets it twice. Ask them, or send it again.'
				: `${leaf.message.reason}. Nothing more goes to this ${leaf.message.channel === 'text' ? 'number' : 'address'} until it is put right.`}
		</p>
		{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
		{#if mine('invite') && leaf.message.contactId && leaf.message.mailProblem === 'bounced'}
			<form method="post" action="/desk/contacts/{leaf.message.contactId}?/changeAddress" class="space-y-2" {@attach enhancedForm(handling)}>
				<label class="field"
					><span>E-mail address of {leaf.message.toName}</span><input name="email" type="email" value={leaf.message.toAddress} /></label
				>
				<button class="act" disabled={pending}>Use this address from now on</button>
				{#if doubted}<button class="act-quiet" name="anyway" value="yes" disabled={pending}>Use it anyway</button>{/if}
			</form>
		{/if}
		{#if mine('judge_item')}<form method="post" action="/desk/messages/{leaf.message.id}?/markSeen" data-acts {@attach enhancedForm(handling)}>
				<button class="act-quiet" aria-keyshortcuts="a" disabled={pending}>Seen, take it off the list <span class="key">a</span></button>
			</form>{/if}
		<p class="text-sm">
			<a class="act-link" href="/desk/postroom/{leaf.message.id}">Open it in the Postroom</a>{#if leaf.clientId}
				· <a class="act-link" href="/desk/clients/{leaf.clientId}">Open the client</a>{/if}
		</p>
	</div>
{:else if leaf.kind === 'text'}
	<div class="space-y-4 p-5 pr-10" {@attach leafKeys}>
		<header>
			<h2 class="text-[1.2rem]">{leaf.text.contactName} answered by text</h2>
			<p class="text-sm text-(--half)">
				{time(leaf.text.cameAt)}{#if leaf.text.clientId}&nbsp;·
					<a class="underline decoration-dotted" href="/desk/clients/{leaf.text.clientId}">{leaf.text.clientName}</a>{/if}{#if leaf.text.phone}&nbsp;·
					<a href="tel:{leaf.text.phone}">{leaf.text.phoneWords}</a>{/if}
			</p>
		</header>
		<blockquote class="border-l-2 border-(--lamp-edge) pl-4 text-[1.05rem] whitespace-pre-line">{leaf.text.words}</blockquote>
		{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
		{#if mine('judge_item')}<form method="post" action="/desk/texts/{leaf.text.id}?/markSeen" data-acts {@attach enhancedForm(handling)}>
				<button class="act" aria-keyshortcuts="a" disabled={pending}>I have read it <span class="key">a</span></button>
			</form>{/if}
		<p class="text-xs text-(--half)">It stays in the client’s history. If they need an answer, call or write to them.</p>
	</div>
{:else if leaf.kind === 'no_address'}
	<div class="space-y-4 p-5 pr-10" {@attach leafKeys}>
		<header>
			<h2 class="text-[1.2rem]">Where does mail to {leaf.contact.name} go?</h2>
			<p class="text-sm text-(--half)">
				{#each leaf.clients as client, i (client.id)}{i > 0 ? ', ' : ''}<a class="underline decoration-dotted" href="/desk/clients/{client.id}"
						>{client.name}</a
					>{/each}{leaf.responsible ? `, looked after by ${leaf.responsible}` : ''}{#if leaf.contact.phone}&nbsp;· <a href="tel:{leaf.contact.phone}"
						>{leaf.contact.phoneWords}</a
					>{/if}
			</p>
		</header>
		{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
		{#if mine('invite')}{#key leaf.contact.id}
				<form method="post" action="/desk/contacts/{leaf.contact.id}?/changeAddress" class="space-y-3" {@attach enhancedForm(handling)}>
					<label class="field"
						><span>E-mail address of {leaf.contact.name}</span><!-- svelte-ignore a11y_autofocus --><input
							name="email"
							type="email"
							autocomplete="off"
							autofocus
							required
						/></label
					>
					<p class="text-xs text-(--half)">Enter saves it and opens the next one. Nobody is written to yet; inviting comes after.</p>
					<button class="act" disabled={pending}>Save the address</button>
					{#if doubted}<button class="act-quiet" name="anyway" value="yes" disabled={pending}>Use it anyway</button>{/if}
				</form>
			{/key}{/if}
	</div>
{:else if leaf.kind === 'invitation'}
	{@const contact = leaf.client.contacts.find((c) => c.id === leaf.contactId)}
	<div class="space-y-4 p-5 pr-10" {@attach leafKeys}>
		<header>
			<h2 class="text-[1.2rem]">{contact?.name} has not joined yet</h2>
			<p class="text-sm text-(--half)">
				<a class="underline decoration-dotted" href="/desk/clients/{leaf.client.id}">{leaf.client.name}</a> · sent {time(leaf.invitation.sentAt)} · {leaf
					.invitation.openedAt
					? `link opened ${time(leaf.invitation.openedAt)}`
					: 'link not opened'} · {leaf.invitation.state === 'expired' ? 'lapsed' : 'lapses'}
				{time(leaf.invitation.expiresAt)}
			</p>
		</header>
		{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
		{#if mine('invite') && contact?.email && !contact.hasAccess}
			{#key leaf.invitation.id}<InviteForm
					clientId={leaf.client.id}
					contact={{ ...contact, email: contact.email }}
					draft={leaf.draft}
					words="Send the invitation again"
					done={openNext}
					begin={remember}
				/>{/key}
		{/if}
		{#if mine('invite')}<div class="flex gap-2 border-t border-(--rule-strong) pt-4" data-acts>
				<form method="post" action="/desk/invitations/{leaf.invitation.id}?/putAside" {@attach enhancedForm(handling)}>
					<button class="act-quiet" aria-keyshortcuts="a" disabled={pending}>Set aside for now <span class="key">a</span></button>
				</form>
				{#if leaf.invitation.state === 'sent'}<form
						method="post"
						action="/desk/invitations/{leaf.invitation.id}?/withdraw"
						{@attach enhancedForm(handling)}
					>
						<button class="act-quiet" disabled={pending}>Withdraw the invitation</button>
					</form>{/if}
			</div>{/if}
	</div>
{/if}

<style>
	.out {
		color: var(--half);
		text-decoration: line-through;
	}
</style>
