<script lang="ts">
	import { onceSigned } from '$lib/core/requests/after-letters';
	import type { PageData } from './$types';
	import type { Asking } from './asking.svelte';

	/** What a request can begin with: a draft, a list of the firm, a ready-made one, or an empty sheet. */
	let { data, asking }: { data: PageData; asking: Asking } = $props();
</script>

{#if data.drafts.length > 0}
	<h2 class="line-head">Begun already</h2>
	<ul>
		{#each data.drafts as draft (draft.id)}<li class="line-row">
				<span class="line-kind">draft</span>
				<a class="no-underline" href="?draft={draft.id}" data-sveltekit-reload
					><b>{draft.title || 'Untitled request'}</b>
					<span class="text-(--half)"
						>{draft.lines}
						{draft.lines === 1 ? 'line' : 'lines'}, {draft.after.length > 0
							? `goes ${onceSigned(draft.after)}`
							: `${draft.changedBy}, ${draft.changedAt}`}</span
					></a
				>
			</li>{/each}
	</ul>
{/if}
{#snippet choice(href: string, list: { name: string; about: string; lines: number; fits: boolean })}
	<li class="line-row">
		<span class="line-kind">{list.lines === 1 ? 'one line' : `${list.lines} lines`}</span>
		<a class="no-underline" {href} data-sveltekit-reload
			><b>{list.name}</b> <span class="text-(--half)">{list.about}</span>{#if list.fits}&nbsp; <span class="text-(--lamp-deep)"
					>fits their services</span
				>{/if}</a
		>
	</li>
{/snippet}
<h2 class="line-head">The firm’s lists</h2>
<ul>
	{#each data.lists.toSorted((a, b) => Number(b.fits) - Number(a.fits)) as list (list.id)}{@render choice(`?list=${list.id}`, list)}{/each}
	<li class="line-row">
		<span class="line-kind">empty</span><button class="text-left" onclick={() => asking.fromScratch()}
			><b>From scratch</b> <span class="text-(--half)">an empty sheet</span></button
		>
	</li>
</ul>
{#if data.ready.length > 0}
	<h2 class="line-head">Ready-made</h2>
	<ul>
		{#each data.ready.toSorted((a, b) => Number(b.fits) - Number(a.fits)) as list (list.id)}{@render choice(`?ready=${list.id}`, list)}{/each}
	</ul>
{/if}

<style>
	.line-row > button,
	.line-row > a {
		min-height: 33px;
		line-height: 33px;
		cursor: pointer;
		white-space: nowrap;
		overflow: hidden;
		text-overflow: ellipsis;
	}
</style>
