<script lang="ts">
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
	const id = $props.id();
	let words = $state('');
	let found = $state<{ id: string; name: string }[]>([]);
	let searching = $state(false);
	let asked = 0;

	async function find() {
		const mine = ++asked;
		if (words.trim() === '') return void (found = []);
		const answer = await fetch(`/desk/find?q=${encodeURIComponent(words)}`);
		if (!answer.ok || mine !== asked) return;
		const options = (await answer.json()) as { group: string; path: string; words: string }[];
		found = options.filter(({ group }) => group === 'clients').map(({ path, words: name }) => ({ id: path.split('/').at(-1) ?? '', name }));
	}
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
	<label class="field mt-2"
		><span>{client === null ? 'Which client?' : 'Another client'}</span><input
			bind:value={words}
			oninput={find}
			autocomplete="off"
			aria-describedby="{id}-found"
		/></label
	>
	<ul id="{id}-found" class="mt-1 text-sm" aria-live="polite">
		{#each found as one (one.id)}<li>
				<button
					type="button"
					class="act-link"
					onclick={() => {
						words = '';
						found = [];
						onClient(one.id);
					}}>{one.name}</button
				>
			</li>{/each}
		{#if words.trim() !== '' && found.length === 0}<li class="text-(--half)">No client by these words.</li>{/if}
	</ul>
{/if}
