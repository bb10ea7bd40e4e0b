<script lang="ts">
	import { timeWords } from '$lib/words/dates';

	let { data } = $props();
	const trail = $derived(data.trail);
	const file = $derived(`/desk/letters/${trail.itemId}/trail`);
	const when = (at: string) => timeWords('en', at, data.firm.timeZone, 'stamp');
</script>

<svelte:head><title>Trail of {trail.title} · {data.client.name}</title></svelte:head>
<div class="p-5 pr-12">
	<p class="text-sm"><a class="act-link" href="/desk/clients/{data.client.id}/item/{trail.itemId}">Back to {trail.title}</a></p>
	<h2 class="mt-1 text-[1.45rem] leading-tight">The trail of this letter</h2>
	<p class="mt-1 max-w-[40rem] text-sm text-(--half)">
		Everything that happened to it, oldest first. Each entry holds the hash of the one before, so nothing can be changed or left out without the rest
		showing it.
	</p>
	{#if trail.brokenAt !== null}
		<p class="notice-wrong mt-3" role="alert">
			Entry {trail.brokenAt} does not follow from the one before it: something was changed in the database. Tell whoever runs it before you rely on this
			trail.
		</p>
	{:else}
		<p class="mt-3 text-sm" role="status">
			<b>{data.lines.length === 1 ? 'One entry' : `${data.lines.length} entries`}, unbroken.</b>
			{#if trail.sealed}
				Sealed {when(trail.sealed.at)}{trail.sealed.stampedAt ? `, with a time stamp of ${when(trail.sealed.stampedAt)}` : ''}.
				{#if trail.sealed.end}The hash marked below stands in the sealed file too.{:else}It was sealed before trails were kept, so none of these
					hashes stands in the file.{/if}
			{:else}Not sealed yet.{/if}
		</p>
	{/if}
	<p class="mt-3 flex flex-wrap gap-x-5 gap-y-2">
		<a class="act-quiet" href="{file}?as=pdf" target="_blank" rel="noopener">Open as PDF</a>
		<a class="act-quiet" href="{file}?as=json" download>Download as JSON</a>
		<a class="act-link self-center text-sm" href="/desk/library/about-signing">What a signature made here is</a>
	</p>
	<ol class="mt-4 text-[0.85rem]" aria-label="Entries">
		{#each data.lines as line, at (line.hash)}
			{@const end = line.hash === trail.sealed?.end}
			<li class="grid grid-cols-[1.6rem_1fr] gap-x-2 border-b border-(--rule) py-1.5" class:bg-(--paper)={end}>
				<span class="text-right text-(--half)">{at + 1}</span>
				<span class="min-w-0 break-words">
					<b class="font-semibold">{line.who}</b>
					{line.what}
					<span class="block text-[0.78rem] text-(--half)">{line.when}{line.from ? ` · ${line.from}` : ''}</span>
					<span class="block font-mono text-[0.68rem] break-all text-(--half)">{line.hash}</span>
					{#if end}<span class="block text-[0.78rem] font-semibold">Up to here it stands in the sealed file</span>{/if}
				</span>
			</li>
		{/each}
	</ol>
	<p class="mt-3 text-xs text-(--half)">
		It begins with the letter as it was shown, SHA-256 <span class="font-mono break-all">{trail.document}</span>.
	</p>
</div>
