<script lang="ts">
	import type { ItemText, ItemTextInline } from '$lib/core/requests/item-text';
	import LinkedText from './LinkedText.svelte';
	import PageLink from './PageLink.svelte';

	/** The words beside something asked: plain ones, or with emphasis, lists, links and pictures. */
	let {
		why,
		text,
		locale,
		filesAt,
		videos = true
	}: {
		why: string;
		text: ItemText | null;
		locale: string;
		/** address under which the firm's files are found */ filesAt: string;
		videos?: boolean;
	} = $props();
</script>

{#snippet inline(content: ItemTextInline[] | undefined)}
	{#each content ?? [] as node, i (i)}{#if node.type === 'hardBreak'}<br />{:else}{@const link = node.marks?.find(
				(mark) => mark.type === 'link'
			)}<span class:font-bold={node.marks?.some((mark) => mark.type === 'bold')} class:italic={node.marks?.some((mark) => mark.type === 'italic')}
				>{#if link}<PageLink href={link.attrs.href} shown={node.text} {locale} {videos} />{:else}<LinkedText
						text={node.text}
						{locale}
						{videos}
					/>{/if}</span
			>{/if}{/each}
{/snippet}

{#if text}
	<div class="words">
		{#each text.content as block, i (i)}
			{#if block.type === 'paragraph'}<p>{@render inline(block.content)}</p>
			{:else if block.type === 'picture'}<img src="{filesAt}/{block.attrs.id}" alt={block.attrs.alt} loading="lazy" />
			{:else if block.type === 'bulletList'}<ul>
					{#each block.content as entry, j (j)}<li>
							{#each entry.content as p, k (k)}<p>{@render inline(p.content)}</p>{/each}
						</li>{/each}
				</ul>
			{:else}<ol>
					{#each block.content as entry, j (j)}<li>
							{#each entry.content as p, k (k)}<p>{@render inline(p.content)}</p>{/each}
						</li>{/each}
				</ol>{/if}
		{/each}
	</div>
{:else}<p><LinkedText text={why} {locale} {videos} /></p>{/if}

<style>
	.words p:empty {
		min-height: 0.6em;
	}
	.words ul {
		list-style: disc;
		padding-left: 1.3rem;
	}
	.words ol {
		list-style: decimal;
		padding-left: 1.5rem;
	}
	.words img {
		display: block;
		max-width: 100%;
		margin: 0.6rem 0;
		border: 1px solid var(--rule-strong);
	}
</style>
