<script lang="ts">
	import { sayer } from '$lib/words/words';

	let { data, form } = $props();
	const say = $derived(sayer(data.locale));
</script>

<svelte:head><title>{say('stop.title')}</title></svelte:head>
<main class="mx-auto max-w-md px-6 py-16" lang={data.locale}>
	{#if !data.firmName}<h1 class="text-2xl">{say('stop.unknown')}</h1>
	{:else if data.stopped}
		<h1 class="text-3xl">{say('stop.done')}</h1>
		<p class="mt-2">{say('stop.doneText', { firm: data.firmName })}</p>
		<form method="post" class="mt-6"><button class="act-quiet" name="start" value="yes">{say('stop.start')}</button></form>
	{:else}
		<h1 class="text-3xl">{say(form?.started ? 'stop.started' : 'stop.title')}</h1>
		<p class="mt-2">{say(form?.started ? 'stop.startedText' : 'stop.text', { firm: data.firmName })}</p>
		<form method="post" class="mt-6"><button class={form?.started ? 'act-quiet' : 'act'}>{say('stop.act')}</button></form>
	{/if}
</main>
