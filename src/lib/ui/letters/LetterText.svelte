<script lang="ts">
	import type { LetterBlock, LetterDocument, LetterInline, LetterParagraph } from '$lib/core/letters/letter-document';
	import { mergeFieldWords } from '$lib/core/letters/merge-fields';

	let {
		document,
		account
	}: {
		document: LetterDocument;
		/** what stands where an account is named */ account: { title: string; words: string };
	} = $props();
	const has = (node: LetterInline, mark: string) => node.type !== 'hardBreak' && node.marks?.some((m) => m.type === mark);
</script>

{#snippet inline(content: LetterInline[] | undefined)}
	{#each content ?? [] as node, i (i)}{#if node.type === 'hardBreak'}<br />{:else if node.type === 'mergeField'}<span class="merge-chip"
				>{mergeFieldWords(node.attrs.name)}</span
			>{:else}<span class:font-bold={has(node, 'bold')} class:italic={has(node, 'italic')} class:underline={has(node, 'underline')}>{node.text}</span
			>{/if}{/each}
{/snippet}
{#snippet paragraphs(content: LetterParagraph[])}
	{#each content as p, k (k)}<p>{@render inline(p.content)}</p>{/each}
{/snippet}
{#snippet blocks(content: LetterBlock[])}
	{#each content as block, i (i)}
		{#if block.type === 'paragraph'}<p>{@render inline(block.content)}</p>
		{:else if block.type === 'heading'}<h2>{@render inline(block.content)}</h2>
		{:else if block.type === 'bulletList'}<ul>
				{#each block.content as item, j (j)}<li>{@render paragraphs(item.content)}</li>{/each}
			</ul>
		{:else if block.type === 'orderedList'}<ol start={block.attrs?.start ?? 1}>
				{#each block.content as item, j (j)}<li>{@render paragraphs(item.content)}</li>{/each}
			</ol>
		{:else if block.type === 'table'}<div class="letter-table">
				<table>
					<tbody>
						{#each block.content as row, j (j)}<tr
								>{#each row.content as cell, k (k)}{#if cell.type === 'tableHeader'}<th>{@render paragraphs(cell.content)}</th>{:else}<td
											>{@render paragraphs(cell.content)}</td
										>{/if}{/each}</tr
							>{/each}
					</tbody>
				</table>
			</div>
		{:else if block.type === 'pageBreak'}<hr class="letter-break" />
		{:else if block.type === 'payment'}<div class="letter-set">
				<p><b>{account.title}</b></p>
				<p>{account.words}</p>
			</div>
		{:else if block.type === 'part'}<div class="letter-part">{@render blocks(block.content)}</div>{/if}
	{/each}
{/snippet}

<div class="letter-text">{@render blocks(document.content)}</div>
