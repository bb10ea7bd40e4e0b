<script lang="ts">
	import { sayer } from '$lib/words/words';
	import { copier } from '../forms/copier.svelte';

	/** New recovery codes, shown once: to be copied, printed or saved. */
	let { codes, email, locale, done }: { codes: string[]; email: string; locale: string; /** they are kept */ done: () => void } = $props();
	const say = $derived(sayer(locale));
	const copy = copier();
</script>

<section class="notice-lamp mt-5" aria-labelledby="codes">
	<h2 id="codes" class="text-[1.1rem]">{say('you.codes.title')}</h2>
	<p class="mt-1">{say('you.codes.text')}</p>
	<ul class="mt-3 grid grid-cols-1 gap-x-6 gap-y-1 font-mono text-[0.95rem] sm:grid-cols-2">
		{#each codes as code (code)}<li>{code}</li>{/each}
	</ul>
	<p class="no-print mt-3 flex flex-wrap gap-x-5">
		<button type="button" class="act-link" onclick={() => copy.copy(codes.join('\n'))}>{say(copy.copied ? 'you.copied' : 'you.codes.copy')}</button>
		<button type="button" class="act-link" onclick={() => window.print()}>{say('you.codes.print')}</button>
		<a class="act-link" download="recovery-codes.txt" href="data:text/plain;charset=utf-8,{encodeURIComponent(`${email}\n\n${codes.join('\n')}\n`)}"
			>{say('you.codes.save')}</a
		>
	</p>
	<button class="act no-print mt-4" onclick={done}>{say('you.codes.kept')}</button>
</section>
