<script lang="ts">
	import { goto } from '$app/navigation';

	interface Found {
		id: string;
		name: string;
		state: string;
		by: string | null;
	}
	let typed = $state('');
	let found = $state<Found[]>([]);
	let chosen = $state(-1);
	let open = $state(false);
	let field: HTMLInputElement;
	let timer: ReturnType<typeof setTimeout> | undefined;
	let asked = 0;

	export function focus() {
		field.focus();
		field.select();
	}

	function ask(wait = 120) {
		clearTimeout(timer);
		const mine = ++asked;
		timer = setTimeout(async () => {
			const answer = await fetch(`/desk/find?q=${encodeURIComponent(typed)}`).catch(() => null);
			if (!answer?.ok || mine !== asked) return;
			found = await answer.json();
			chosen = -1;
			open = true;
		}, wait);
	}
	function leave() {
		clearTimeout(timer);
		asked++;
		open = false;
		chosen = -1;
	}
	async function go(client: Found) {
		leave();
		typed = '';
		field.blur();
		await goto(`/desk/clients/${client.id}`);
	}
	function onkeydown(event: KeyboardEvent) {
		if (event.key === 'Escape') {
			leave();
			field.blur();
		} else if (open && found.length > 0 && (event.key === 'ArrowDown' || event.key === 'ArrowUp')) {
			event.preventDefault();
			const step = event.key === 'ArrowDown' ? 1 : -1;
			chosen = (chosen + step + found.length + (chosen < 0 && step < 0 ? 1 : 0)) % found.length;
		} else if (event.key === 'Enter' && open && chosen >= 0) {
			event.preventDefault();
			void go(found[chosen]);
		}
	}
</script>

<form action="/desk/clients" class="relative ml-auto flex items-center" role="search" onsubmit={leave}>
	<label class="sr" for="find">Find a client by any part of what is known</label>
	<input
		id="find"
		name="search"
		bind:this={field}
		bind:value={typed}
		placeholder="Find a client  /"
		autocomplete="off"
		role="combobox"
		aria-expanded={open}
		aria-controls="found"
		aria-autocomplete="list"
		aria-activedescendant={open && chosen >= 0 ? `found-${chosen}` : undefined}
		oninput={() => ask()}
		onfocus={() => ask(0)}
		onblur={leave}
		{onkeydown}
		class="w-52 border-b border-(--rule-strong) bg-transparent px-1 py-1 text-sm placeholder:text-(--faint)"
	/>
	<ul
		id="found"
		role="listbox"
		aria-label="Clients found"
		hidden={!open}
		class="absolute top-full right-0 z-30 w-96 max-w-[90vw] border border-(--rule-strong) bg-(--sheet) py-1 text-sm shadow-md"
	>
		{#if typed.trim() === '' && found.length > 0}<li class="px-3 py-1 text-xs text-(--half)" role="presentation">Opened last</li>{/if}
		{#each found as client, i (client.id)}
			<!-- the field keeps the focus and has the keys; a list box option is only pointed at -->
			<!-- svelte-ignore a11y_click_events_have_key_events -->
			<li
				id="found-{i}"
				role="option"
				aria-selected={chosen === i}
				class="flex cursor-pointer items-baseline gap-2 px-3 py-1.5 {chosen === i ? 'bg-(--lamp-light)' : 'hover:bg-(--lamp-soft)'}"
				onmousedown={(event) => event.preventDefault()}
				onclick={() => go(client)}
			>
				<b class="truncate">{client.name}</b>
				{#if client.by}<span class="truncate text-(--half)">{client.by}</span>{/if}
				{#if client.state !== 'active'}<span class="ml-auto text-xs text-(--half)">{client.state}</span>{/if}
			</li>
		{:else}
			<li class="px-3 py-1.5 text-(--half)" role="presentation">
				{typed.trim() === '' ? 'Type any part of a name, address, phone or tax number.' : 'Nobody matches.'}
			</li>
		{/each}
	</ul>
</form>
