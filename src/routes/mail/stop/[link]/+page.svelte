<script lang="ts">
	import { say } from '$lib/words/words';

	let { data, form } = $props();
</script>

<svelte:head><title>{say('en', 'stop.title')}</title></svelte:head>
<main class="mx-auto max-w-md px-6 py-16">
	{#if !data.firmName}<h1 class="text-2xl">{say('en', 'stop.unknown')}</h1>
	{:else if form?.done}
		<h1 class="text-3xl">{say('en', 'stop.done')}</h1>
		<p class="mt-2">{say('en', 'stop.doneText', { firm: data.firmName })}</p>
	{:else}
		<h1 class="text-3xl">{say('en', 'stop.title')}</h1>
		<p class="mt-2">{say('en', 'stop.text', { firm: data.firmName })}</p>
		<form method="post" class="mt-6"><button class="act">{say('en', 'stop.act')}</button></form>
	{/if}
</main>
