<script lang="ts">
	import { timeWords } from '$lib/words/dates';

	let { data } = $props();
	const m = $derived(data.message);
	const time = (at: string) => timeWords('en', at, data.firm.timeZone);
</script>

<div class="flex h-full flex-col gap-3 p-5 pr-10">
	<header>
		<h2 class="text-[1.2rem]">{m.subject ?? 'Not written yet'}</h2>
		<p class="text-sm text-(--half)">to {m.toName} &lt;{m.toAddress}&gt;</p>
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
	{/if}
</div>
