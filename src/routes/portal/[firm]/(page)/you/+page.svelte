<script lang="ts">
	import You from '$lib/ui/sign-in/You.svelte';
	import { sayer } from '$lib/words/words';

	let { data } = $props();
	const say = $derived(sayer(data.locale));
</script>

<svelte:head><title>{say('you.title')} · {data.brand.name}</title></svelte:head>
<p><a class="act-link" href={data.home}>{say('portal.back')}</a></p>
<You you={data.you} locale={data.locale} home={data.home} />
