<script lang="ts">
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import { timeWords } from '$lib/words/dates';

	let { data } = $props();
	let problem = $state('');
	let answered = $state(false);
	const m = $derived(data.message);
	const time = (at: string) => timeWords('en', at, data.firm.timeZone);
</script>

<div class="flex h-full flex-col gap-3 p-5 pr-10">
	<header>
		<h2 class="text-[1.2rem]">{m.subject ?? 'Not written yet'}</h2>
		<p class="text-sm text-(--half)">to {m.toName} {m.channel === 'text' ? m.toAddress : `<${m.toAddress}>`}</p>
	</header>
	<dl class="facts">
		<div>
			<dt>Planned</dt>
			<dd>{time(m.plannedAt)}</dd>
		</div>
		{#if m.sentAt}<div>
				<dt>Sent</dt>
				<dd>{time(m.sentAt)}</dd>
			</div>{/if}
		{#if m.unwantedAt}<div>
				<dt>Unwanted</dt>
				<dd><b class="text-(--lamp-deep)">{m.toName}’s mail service reported it, {time(m.unwantedAt)}.</b></dd>
			</div>{/if}
		{#if m.state === 'held_back'}<div>
				<dt>Held back</dt>
				<dd>{m.reason}</dd>
			</div>
		{:else if m.state === 'failed'}<div>
				<dt>Did not arrive</dt>
				<dd><b class="text-(--lamp-deep)">{m.reason}</b></dd>
			</div>
		{:else if m.state === 'unclear'}<div>
				<dt>Unclear</dt>
				<dd><b class="text-(--lamp-deep)">{m.reason}. It was not sent again.</b></dd>
			</div>{/if}
	</dl>
	{#if data.text !== null}
		<p class="text-xs text-(--half)">
			{data.standin && m.state === 'sent'
				? 'As the phone got it; the link works.'
				: 'As it was written. Links and codes that open a door are not kept.'}
		</p>
		<p class="max-w-sm rounded-lg border border-(--rule-strong) px-4 py-3 break-words whitespace-pre-line">
			{#each data.text.split(/(https?:\/\/[^\s…]+)(?=\s|$)/) as part, i (i)}{#if i % 2 === 1}<a
						class="underline"
						href={part}
						target="_blank"
						rel="noopener">{part}</a
					>{:else}{part}{/if}{/each}
		</p>
		{#if data.standin && m.state === 'sent'}
			<form method="post" action="?/answer" class="max-w-sm space-y-2" {@attach enhancedForm({ onProblem: (p) => (problem = p.message) })}>
				{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
				<label class="field"
					><span>Answer as this phone</span><input name="answer" maxlength="300" autocomplete="off" placeholder="STOP, or anything else" /></label
				>
				<button class="act-quiet">Send the answer</button>
			</form>
		{/if}
	{/if}
	{#if m.hasBody}
		<p class="text-xs text-(--half)">
			{data.standin && m.state === 'sent' ? 'As it was received; the links work.' : 'As it was written. Links that open a door are not kept.'}
		</p>
		<iframe
			title="The message"
			src="/desk/postroom/{m.id}/received"
			sandbox="allow-popups allow-popups-to-escape-sandbox"
			class="min-h-[26rem] w-full flex-1 border border-(--rule-strong) bg-white"
		></iframe>
		{#if data.answerable}
			<form
				method="post"
				action="?/answerMail"
				class="space-y-2"
				{@attach enhancedForm({
					onProblem: (p) => (problem = p.message),
					onSuccess: () => {
						problem = '';
						answered = true;
					}
				})}
			>
				{#if problem}<p class="notice-wrong" role="alert">{problem}</p>{/if}
				{#if answered}<p class="notice-lamp" role="status">Answered. It is in Rounds, or where the mail was about.</p>{/if}
				<label class="field"
					><span>Answer as {m.toName}’s mailbox</span><textarea name="answer" rows="2" maxlength="4000" oninput={() => (answered = false)} required
					></textarea></label
				>
				<button class="act-quiet">Send the answer</button>
			</form>
		{/if}
		{#if data.reportable && !m.unwantedAt}
			<form method="post" action="?/report" {@attach enhancedForm({ onProblem: (p) => (problem = p.message) })}>
				<button class="act-quiet">Report it as unwanted, as {m.toName}’s mailbox</button>
			</form>
		{/if}
	{/if}
</div>
