<script lang="ts">
	import type { TextChanges } from '$lib/core/signing/changes';
	import { sayer } from '$lib/words/words';

	/** What a new version says otherwise: what is gone is struck out, what is new is underlined, and both are said to who only hears them. */
	let { changes, locale }: { changes: TextChanges; locale: string } = $props();
	const say = $derived(sayer(locale));
</script>

{#if changes.passages.length === 0}
	<p>{say('letter.changes.none')}</p>
{:else}
	<ul class="space-y-1.5">
		{#each changes.passages as passage, at (at)}
			<li class="border-l-2 border-(--rule-strong) pl-3">
				{#each passage as { is, text }, n (n)}{#if is === 'same'}{text}{:else if is === 'added'}<ins
							><span class="sr-only">{say('letter.changes.added')} </span>{text}</ins
						>{:else}<del><span class="sr-only">{say('letter.changes.removed')} </span>{text}</del>{/if}{/each}
			</li>
		{/each}
	</ul>
	{#if changes.more > 0}<p class="mt-1">{say('letter.changes.more', { count: changes.more })}</p>{/if}
{/if}

<style>
	ins {
		background: color-mix(in srgb, var(--act) 14%, transparent);
		text-decoration: underline;
		text-underline-offset: 2px;
	}
	del {
		color: var(--half);
	}
</style>
