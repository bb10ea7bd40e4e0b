<script lang="ts">
	import { leafKeys } from '$lib/ui/desk/leaf-keys';
	import Talk from '$lib/ui/talk/Talk.svelte';

	let { data } = $props();
	let said = $state('');
</script>

<svelte:head><title>{data.talk.contactName} · {data.client.name}</title></svelte:head>
<p class="px-5 pt-4 text-sm"><a class="act-link" href="/desk/clients/{data.client.id}" data-sveltekit-noscroll>Back to {data.client.name}</a></p>
<div class="space-y-4 p-5" {@attach leafKeys}>
	<header>
		<h2 class="text-[1.35rem] leading-tight">{data.talk.contactName} and we</h2>
		<p class="text-sm text-(--half)">
			What was written about {data.client.name} and nothing that was asked in particular. {data.talk.contactName.split(' ')[0]} alone reads it.
		</p>
	</header>
	{#key data.talk.contactId}<Talk
			talk={data.talk}
			words={data.words}
			unseen={data.unseen}
			notes={data.notes}
			colleagues={data.colleagues}
			mayNote={data.acts.includes('keep_record')}
			timeZone={data.firm.timeZone}
			mayWrite={data.acts.includes('judge_item') && data.client.state === 'active'}
			sent={() => void (said = 'Done.')}
		/>{/key}
	<p class="sr" role="status">{said}</p>
</div>
