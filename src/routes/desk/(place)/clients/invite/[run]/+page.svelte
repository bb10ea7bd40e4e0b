<script lang="ts">
	import WholeSheet from '$lib/ui/desk/WholeSheet.svelte';
	import { invalidate } from '$app/navigation';

	let { data } = $props();
	const run = $derived(data.run);
	const going = $derived(run.through < run.invited);
	type Line = (typeof data.lines)[number];

	function became(line: Line): string {
		if (line.state === 'taken_up') return 'joined';
		if (line.messageState === 'failed') return `did not arrive: ${line.reason}`;
		if (line.messageState === 'unclear') return 'nobody knows whether it arrived';
		if (line.messageState === 'held_back') return `held back: ${line.reason}`;
		if (line.state === 'withdrawn') return 'withdrawn';
		if (line.state === 'replaced') return 'invited anew since';
		if (line.state === 'expired') return line.openedAt ? 'opened, then lapsed' : 'lapsed';
		if (line.openedAt) return `link opened ${line.openedAt}`;
		if (line.deliveredAt) return `arrived ${line.deliveredAt}`;
		return line.messageState === 'sent' ? 'sent' : 'waiting to leave';
	}
	$effect(() => {
		if (!going) return;
		const timer = setInterval(() => void invalidate('desk:run'), 1000);
		return () => clearInterval(timer);
	});
</script>

<svelte:head><title>Invited together · {data.firm.name}</title></svelte:head>

<WholeSheet>
	<p class="text-sm"><a class="act-link" href="/desk/clients/invite">Invite many</a></p>
	<h1 class="text-[1.65rem] leading-tight">
		{run.takenUp === 0 ? `${run.invited} invited together` : `${run.takenUp} of ${run.invited} joined`}
	</h1>
	<p class="mt-1 text-[0.9rem] text-(--half)">
		“{run.subject}”, {run.begunAt} by {run.begunBy}. {run.delivered} arrived, {run.opened} opened{run.troubled > 0
			? `, ${run.troubled} did not arrive`
			: ''}.
	</p>
	{#if going}
		<p class="mt-3 flex items-center gap-3 text-sm" aria-live="polite">
			<progress class="w-72" value={run.through} max={run.invited} aria-label="Messages that have left"></progress>
			{run.through.toLocaleString('en')} of {run.invited.toLocaleString('en')} have left
		</p>
	{/if}
	<table class="mt-4 w-full text-[0.89rem]">
		<thead><tr><th scope="col">client</th><th scope="col">person</th><th scope="col">address</th><th scope="col">what became of it</th></tr></thead>
		<tbody>
			{#each data.lines as line, i (i)}
				<tr class:trouble={['failed', 'unclear', 'held_back'].includes(line.messageState)}>
					<td><a class="font-semibold no-underline" href="/desk/clients/{line.clientId}" data-row>{line.clientName}</a></td>
					<td>{line.contactName}</td>
					<td class="text-(--half)">{line.email}</td>
					<td>{became(line)}</td>
				</tr>
			{/each}
		</tbody>
	</table>
	{#if data.next !== null}<p class="mt-4"><a class="act-quiet" href="?from={data.next}">The next lines</a></p>{/if}
</WholeSheet>

<style>
	th {
		text-align: left;
		font-weight: 400;
		font-size: 0.8rem;
		color: var(--half);
		padding: 4px 10px 4px 0;
		border-bottom: 1px solid var(--rule-strong);
	}
	td {
		height: 33px;
		padding-right: 10px;
		border-bottom: 1px solid var(--rule);
	}
	.trouble td:last-child {
		color: var(--lamp-deep);
		font-weight: 600;
	}
	@media (max-width: 800px) {
		td:nth-child(3),
		th:nth-child(3) {
			display: none;
		}
	}
</style>
