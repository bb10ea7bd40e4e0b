<script lang="ts">
	import { dateWords, dayOf } from '$lib/words/dates';
	import { sayer } from '$lib/words/words';

	let { data } = $props();
	const say = $derived(sayer(data.locale));
	const dateOf = (at: string) => dateWords(data.locale, dayOf(at, data.brand.timeZone), 'withYear');
	const several = $derived(new Set(data.letters.map((letter) => letter.clientName)).size > 1);
</script>

<svelte:head><title>{say('letters.title')} · {data.brand.name}</title></svelte:head>
<p><a class="act-link" href={data.home}>{say('portal.back')}</a></p>
<h1 class="text-[1.65rem] leading-tight">{say('letters.title')}</h1>
<p class="mt-1 text-(--half)">{say('letters.lead')}</p>
<ul class="mt-4 border-t border-(--rule-strong)">
	{#each data.letters as letter (letter.itemId)}
		<li class="flex flex-wrap items-center justify-between gap-x-4 border-b border-(--rule-strong) py-2">
			<div>
				<b>{letter.title}</b>
				<p class="text-[0.9rem] text-(--half)">
					{several ? `${letter.clientName}, ` : ''}{letter.pages === null
						? say('letters.answers', { date: dateOf(letter.sealedAt) })
						: say('letters.line', { date: dateOf(letter.sealedAt), pages: letter.pages })}
				</p>
			</div>
			<a
				class="act-link"
				href={letter.pages === null ? `${data.home}/item/${letter.itemId}/pdf?signed` : `${data.home}/letters/${letter.itemId}`}
				aria-label="{say('letters.download')}: {letter.title}">{say('letters.download')}</a
			>
		</li>
	{/each}
</ul>
