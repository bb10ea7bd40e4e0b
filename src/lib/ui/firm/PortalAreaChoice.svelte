<script lang="ts">
	import { untrack } from 'svelte';
	import { FOR_WHOM, PORTAL_AREA_WORDS, type PortalArea } from '$lib/core/firms/portal-areas';

	/** For whom a part of the portal is: everybody, clients with some services, nobody. */
	let {
		area,
		services,
		chosen,
		off,
		problem
	}: {
		area: PortalArea;
		services: { id: string; name: string }[];
		/** ids of services */ chosen: string[];
		off: boolean;
		problem?: string;
	} = $props();
	let whom = $state<(typeof FOR_WHOM)[number]>(untrack(() => (off ? 'nobody' : chosen.length > 0 ? 'services' : 'all')));
	const words = $derived(PORTAL_AREA_WORDS[area]);
</script>

<div class="space-y-1.5">
	<label class="field"
		><span>{words[0].toUpperCase() + words.slice(1)}</span><select name="for-{area}" bind:value={whom}
			><option value="all">for every client</option><option value="services" disabled={services.length === 0}
				>for clients with certain services</option
			><option value="nobody">for nobody</option></select
		></label
	>
	{#if whom === 'services'}
		<fieldset class="grid gap-x-4 gap-y-1 border-l-2 border-(--rule-strong) pl-3 text-[0.92rem] sm:grid-cols-2">
			<legend class="sr-only">Services whose clients find {words}</legend>
			{#each services as service (service.id)}<label class="flex gap-2"
					><input type="checkbox" name="services-{area}" value={service.id} checked={chosen.includes(service.id)} /> {service.name}</label
				>{/each}
		</fieldset>
	{/if}
	{#if problem}<p class="text-sm text-(--wrong)">{problem}</p>{/if}
</div>
