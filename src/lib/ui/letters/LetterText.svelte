<script lang="ts">
	import type { LetterDocument, LetterInline } from '$lib/core/letters/letter-document';
	import { mergeFieldWords } from '$lib/core/letters/merge-fields';

	let { document }: { document: LetterDocument } = $props();
	const has = (node: LetterInline, mark: string) => node.type !== 'hardBreak' && node.marks?.some((m) => m.type === mark);
</script>

{#snippet inline(content: LetterInline[] | undefined)}
	{#each content ?? [] as node, i (i)}{#if node.type === 'hardBreak'}<br />{:else if node.type === 'mergeField'}<span class="merge-chip"
				>{mergeFieldWords(node.attrs.name)}</span
			>{:else}<span class:font-bold={has(node, 'bold')} class:italic={has(node, 'italic')} class:underline={has(node, 'underline')}>{node.text}</span
			>{/if}{/each}
{/snippet}

<div class="letter-text">
	{#each document.content as block, i (i)}
		{#if block.type === 'paragraph'}<p>{@render inline(block.content)}</p>
		{:else if block.type === 'heading'}<h2>{@render inline(block.content)}</h2>
		{:else if block.type === 'bulletList'}<ul>
				{#each block.content as item, j (j)}<li>
						{#each item.content as p, k (k)}<p>{@render inline(p.content)}</p>{/each}
					</li>{/each}
			</ul>
		{:else}<ol start={block.attrs?.start ?? 1}>
				{#each block.content as item, j (j)}<li>
						{#each item.content as p, k (k)}<p>{@render inline(p.content)}</p>{/each}
					</li>{/each}
			</ol>{/if}
	{/each}
</div>
