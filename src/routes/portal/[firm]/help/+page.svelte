<script lang="ts">
	import { sayer } from '$lib/words/words';

	let { data } = $props();
	const say = $derived(sayer(data.locale));
	const parts = ['in', 'forgot', 'do', 'paper', 'no', 'stop', 'real'] as const;
	const values = $derived({ firm: data.brand.name, mail: data.mail, origin: data.origin });
</script>

<svelte:head><title>{say('help.link')} · {data.brand.name}</title></svelte:head>
<h1 class="text-3xl leading-tight">{say('help.title', values)}</h1>
{#each parts as part (part)}
	<section class="mt-6">
		<h2 class="text-xl">{say(`help.${part}.title`, values)}</h2>
		<p class="mt-1">{say(`help.${part}.text`, values)}</p>
	</section>
{/each}
<p class="mt-8 border-t border-(--rule-strong) pt-4 text-sm text-(--half)">
	{data.brand.name}{data.address ? `, ${data.address}` : ''}, <a href="mailto:{data.mail}">{data.mail}</a>
</p>
<p class="mt-3"><a class="act-link" href="{data.home}/check">{say('check.link')}</a></p>
<p class="mt-3"><a class="act" href="{data.home}/sign-in">{say('signIn.act')}</a></p>
