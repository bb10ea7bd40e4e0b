<script lang="ts">
	/** Finds a client of the firm by words. */
	let { label, onClient }: { label: string; onClient: (client: { id: string; name: string }) => void } = $props();
	const id = $props.id();
	let words = $state('');
	let found = $state<{ id: string; name: string }[]>([]);
	let asked = 0;

	async function find() {
		const mine = ++asked;
		if (words.trim() === '') return void (found = []);
		const answer = await fetch(`/desk/find?q=${encodeURIComponent(words)}`);
		if (!answer.ok || mine !== asked) return;
		const options = (await answer.json()) as { group: string; path: string; words: string }[];
		found = options.filter(({ group }) => group === 'clients').map(({ path, words: name }) => ({ id: path.split('/').at(-1) ?? '', name }));
	}
	function choose(one: { id: string; name: string }) {
		words = '';
		found = [];
		onClient(one);
	}
</script>

<label class="field"
	><span>{label}</span><input
		bind:value={words}
		oninput={find}
		onkeydown={(event) => {
			if (event.key !== 'Enter' || words.trim() === '') return;
			// the first that was found, not the form around it
			event.preventDefault();
			if (found.length > 0) choose(found[0]);
		}}
		autocomplete="off"
		aria-describedby="{id}-found"
	/></label
>
<ul id="{id}-found" class="mt-1 text-sm" aria-live="polite">
	{#each found as one (one.id)}<li>
			<button type="button" class="act-link" onclick={() => choose(one)}>{one.name}</button>
		</li>{/each}
	{#if words.trim() !== '' && found.length === 0}<li class="text-(--half)">No client by these words.</li>{/if}
</ul>
