<script lang="ts">
	import { goto } from '$app/navigation';

	interface Found {
		group: 'clients' | 'things' | 'places';
		path: string;
		words: string;
		aside: string | null;
		download?: true;
	}
	const GROUPS = { clients: 'Clients', things: 'Asked for and handed in', places: 'Go to, or do' };
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
	async function go({ path, download }: Found) {
		leave();
		typed = '';
		field.blur();
		if (download) location.assign(path);
		else await goto(path);
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

<form action="/desk/clients" class="relative ml-auto flex min-w-28 items-center" role="search" onsubmit={leave}>
	<label class="sr" for="find">Find a client, something asked for, a paper or a page, or say what to do</label>
	<input
		id="find"
		name="search"
		bind:this={field}
		bind:value={typed}
		placeholder="Find or do  /"
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
		class="w-52 max-w-full border-b border-(--rule-strong) bg-transparent px-1 py-1 text-sm placeholder:text-(--faint)"
	/>
	<ul
		id="found"
		role="listbox"
		aria-label="Found"
		hidden={!open}
		class="absolute top-full right-0 z-30 w-96 max-w-[90vw] border border-(--rule-strong) bg-(--sheet) py-1 text-sm shadow-md"
	>
		{#each found as one, i (`${one.path} ${one.words}`)}
			{#if one.group !== found[i - 1]?.group}<li class="px-3 pt-1.5 pb-0.5 text-xs text-(--half)" role="presentation">
					{typed.trim() === '' ? 'Opened last' : GROUPS[one.group]}
				</li>{/if}
			<!-- the field keeps the focus and has the keys; a list box option is only pointed at -->
			<!-- svelte-ignore a11y_click_events_have_key_events -->
			<li
				id="found-{i}"
				role="option"
				aria-selected={chosen === i}
				class="flex cursor-pointer items-baseline gap-2 px-3 py-1.5 {chosen === i ? 'bg-(--lamp-light)' : 'hover:bg-(--lamp-soft)'}"
				onmousedown={(event) => event.preventDefault()}
				onclick={() => go(one)}
			>
				<b class="min-w-0 truncate">{one.words}</b>
				{#if one.aside}<span class="min-w-0 truncate text-(--half)">{one.aside}</span>{/if}
			</li>
		{:else}
			<li class="px-3 py-1.5 text-(--half)" role="presentation">
				{typed.trim() === '' ? 'Type any part of a name, address, phone, tax number, request or paper; or what to do.' : 'Nothing matches.'}
			</li>
		{/each}
	</ul>
</form>
