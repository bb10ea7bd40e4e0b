<script lang="ts">
	import FindClient from './FindClient.svelte';
	import { PRETEND_CLIENTS } from '$lib/core/questionnaires/pretend-clients';

	/** As whom a questionnaire is tried: a client that there is not, or one of the firm. */
	let {
		pretend,
		client,
		onPretend,
		onClient
	}: {
		pretend: string;
		/** name of the client that is chosen */ client: string | null;
		onPretend: (key: string) => void;
		onClient: (id: string) => void;
	} = $props();
	let searching = $state(false);
</script>

<select
	class="line-input mt-1 w-full text-sm"
	aria-label="As whom it is tried"
	value={client === null ? (searching ? 'client' : pretend) : 'client'}
	onchange={(event) => {
		searching = event.currentTarget.value === 'client';
		if (!searching) onPretend(event.currentTarget.value);
	}}
>
	{#each PRETEND_CLIENTS as one (one.key)}<option value={one.key}>{one.words}</option>{/each}
	<option value="client">{client ?? 'a client of ours …'}</option>
</select>
{#if searching || client !== null}
	<div class="mt-2"><FindClient label={client === null ? 'Which client?' : 'Another client'} onClient={(one) => onClient(one.id)} /></div>
{/if}
