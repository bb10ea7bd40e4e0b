<script lang="ts">
	import { page } from '$app/state';
	import { MESSAGE_STATES } from '$lib/core/messages/message-states';
	import { dateWords, timeWords } from '$lib/words/dates';
	import Sheet from '$lib/ui/desk/Sheet.svelte';

	let { data, children } = $props();
	const open = $derived(page.params.message);
	const days = $derived([...new Set(data.messages.map((m) => m.day))].map((day) => ({ day, rows: data.messages.filter((m) => m.day === day) })));
	const STATE_WORDS = {
		planned: 'planned',
		sending: 'on its way',
		sent: 'sent',
		held_back: 'held back',
		failed: 'did not arrive',
		unclear: 'unclear'
	} as const;
	const KIND_WORDS = {
		invitation: 'invitation',
		sign_in_code: 'sign-in code',
		answer_code: 'code for a copy',
		answer_copy: 'copy of answers',
		answer_told: 'answer to look at',
		partner_told: 'a partner is told',
		named_in_note: 'a colleague is named in a note',
		given_to_answer: 'given to a colleague to answer',
		summary: 'a summary for one of us',
		told_at_once: 'one of us is told at once',
		answer_passed: 'passed on by a client',
		papers_shown: 'papers shown',
		staff_invitation: 'invitation to the desk',
		new_device: 'new device',
		second_step_changed: 'second step',
		invitation_chase: 'reminder of the invitation',
		request: 'request',
		chase: 'reminder',
		thanks: 'thanks',
		sent_back: 'sent back',
		remark: 'about an item',
		signed_copy: 'signed copy',
		letter_stopped: 'letter not to be signed any more',
		letter_lapses: 'last days to sign a letter',
		letter_code: 'code for a letter',
		password_reset: 'new password',
		password_changed: 'password changed'
	} as const;
	const query = $derived(data.state ? `?state=${data.state}` : '');
</script>

<svelte:head><title>Postroom · {data.firm.name}</title></svelte:head>

<Sheet leafOpen={open !== undefined} closeHref="/desk/postroom{query}" wideLeaf margin={118}>
	{#snippet sheet()}
		<div class="masthead flex flex-wrap items-center gap-x-4 gap-y-2">
			<h1 class="text-[1.65rem] leading-tight">Postroom</h1>
			<p class="text-[0.88rem] text-(--half)">Every message, and what became of it.</p>
			<nav class="ml-auto flex flex-wrap gap-1 text-sm" aria-label="Show only">
				<a class="only" href="/desk/postroom" aria-current={data.state === null ? 'true' : undefined}>all</a>
				{#each MESSAGE_STATES as state (state)}<a class="only" href="?state={state}" aria-current={data.state === state ? 'true' : undefined}
						>{STATE_WORDS[state]}</a
					>{/each}
			</nav>
		</div>
		{#if data.messages.length === 0}<p class="py-8 pl-[136px] text-(--half)">
				No message {data.state ? `is “${STATE_WORDS[data.state]}”` : 'has gone out yet'}.
			</p>{/if}
		{#each days as { day, rows } (day)}
			<section aria-label={dateWords('en', day, 'long')}>
				<h2 class="section-head">{dateWords('en', day, 'long')}</h2>
				<ul>
					{#each rows as m (m.id)}
						<li>
							<a
								class="ledger-row kind-row"
								class:trouble={m.state === 'failed' || m.state === 'unclear'}
								href="/desk/postroom/{m.id}{query}"
								data-row
								data-sveltekit-noscroll
								aria-current={open === m.id ? 'true' : undefined}
							>
								<span class="kind">{timeWords('en', m.sentAt ?? m.plannedAt, data.firm.timeZone, 'time')} {KIND_WORDS[m.kind]}</span>
								<span class="min-w-0 truncate"
									><b>{m.toName}</b>
									<span class="text-(--half)">{m.subject ?? KIND_WORDS[m.kind]}{m.clientNames ? ` · ${m.clientNames}` : ''}</span></span
								>
								<span class="aside">{m.channel === 'text' ? 'text, ' : ''}{STATE_WORDS[m.state]}</span>
							</a>
						</li>
					{/each}
				</ul>
			</section>
		{/each}
		{#if data.more}<p class="p-4 pl-[136px]">
				<a class="act-quiet" href="?{data.state ? `state=${data.state}&` : ''}before={data.messages.at(-1)!.plannedAt}~{data.messages.at(-1)!.id}"
					>Earlier messages</a
				>
			</p>{/if}
	{/snippet}
	{@render children()}
</Sheet>

<style>
	.trouble > .aside {
		color: var(--lamp-deep);
		font-weight: 700;
	}
</style>
