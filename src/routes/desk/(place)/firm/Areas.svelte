<script lang="ts">
	import FirmSettings from '$lib/ui/firm/FirmSettings.svelte';
	import { PORTAL_AREA_WORDS, PORTAL_AREAS } from '$lib/core/firms/portal-areas';
	import PortalAreaChoice from '$lib/ui/firm/PortalAreaChoice.svelte';
	import type { PageData } from './$types';

	/** The parts of the portal that clients find. */
	let { data }: { data: PageData } = $props();
	const orList = new Intl.ListFormat('en', { type: 'disjunction' });
</script>

<FirmSettings title="What clients find on their page" action="changeAreas" mayChange={data.maySetUp}>
	{#snippet shown()}
		<ul class="mt-2 text-sm">
			<li class="border-b border-(--rule-strong) py-1.5">what is asked of them, always</li>
			{#each PORTAL_AREAS as area (area)}<li class="border-b border-(--rule-strong) py-1.5">
					{PORTAL_AREA_WORDS[area]}{#if data.areas.off.includes(area)}<b class="text-(--lamp-deep)">: nobody</b
						>{:else if data.areas.services[area]}<span class="text-(--half)"
							>: only with {orList.format(data.services.filter((s) => data.areas.services[area]?.includes(s.id)).map((s) => s.name))}</span
						>{/if}
				</li>{/each}
		</ul>
	{/snippet}
	{#snippet fields(wrong: Record<string, string>)}
		{#each PORTAL_AREAS as area (area)}
			<PortalAreaChoice
				{area}
				services={data.services}
				chosen={data.areas.services[area] ?? []}
				off={data.areas.off.includes(area)}
				problem={wrong[`for-${area}`]}
			/>
		{/each}
		<p class="text-xs text-(--half)">A part with nothing in it is not shown. Each client may be an exception: “Brand and welcome” in their record.</p>
	{/snippet}
</FirmSettings>
