<script lang="ts">
	import { tick } from 'svelte';
	import type { PDFDocumentProxy } from 'pdfjs-dist';
	import type { LetterSigning } from '$lib/core/items/kinds/letter';
	import type { FoundPlace } from '$lib/core/signing/find-places';
	import { BANK_KINDS, inReadingOrder, PLACE_KINDS, PLACES, placesMissing, usualLabel, type Place, type PlaceKind } from '$lib/core/signing/places';
	import { closeRanks, signerWords, type Signer, type SigningPeople } from '$lib/core/signing/signers';
	import FilePages from '../papers/FilePages.svelte';
	import SignerOrder from './SignerOrder.svelte';

	/** The pages of what is signed, with the places on them: put there by mouse, finger or keyboard, or taken over from what is written there. */
	let {
		title,
		documents,
		found,
		people,
		known,
		signers = $bindable(),
		places = $bindable(),
		close
	}: {
		title: string;
		documents: LetterSigning['documents'];
		/** places that the pages seem to have */ found: readonly (FoundPlace & { document: number; choices: string[] })[];
		people: SigningPeople;
		/** what a place can be called so that it comes filled in */ known: readonly string[];
		signers: Signer[];
		places: Place[];
		close: () => void;
	} = $props();
	const id = $props.id();
	let document_ = $state(0);
	let sizes = $state<{ width: number; height: number }[]>([]);
	let zoom = $state(1);
	let kind = $state<PlaceKind>('signature');
	let party = $state(closeRanks(signers).find(({ does }) => does === 'signs')?.key ?? signers[0].key);
	let selected = $state<string | null>(null);
	/** said after something was done, for those who do not see it */
	let said = $state('');
	let past = $state.raw<{ places: Place[]; signers: Signer[] }[]>([]);
	let future = $state.raw<{ places: Place[]; signers: Signer[] }[]>([]);
	let pagesPart = $state<HTMLElement>();

	const signing = $derived(closeRanks(signers).filter(({ does }) => does === 'signs'));
	const partyOf = (key: string) => signing.findIndex((signer) => signer.key === key);
	const nameOf = (key: string) => {
		const signer = signing.find((one) => one.key === key);
		return signer ? signerWords(signer, people) : 'nobody who signs';
	};
	const chosen = $derived(places.find((place) => place.id === selected) ?? null);
	const missing = $derived(placesMissing(places));
	const free = $derived(
		found.filter(
			(one) =>
				one.document === document_ &&
				!places.some(
					(place) =>
						place.document === one.document &&
						place.page === one.page &&
						place.x < one.x + one.width &&
						one.x < place.x + place.width &&
						place.y < one.y + one.height &&
						one.y < place.y + place.height
				)
		)
	);

	const snapshot = () => ({ places: $state.snapshot(places) as Place[], signers: $state.snapshot(signers) as Signer[] });
	/** What is there now can be come back to. */
	function remember() {
		past = [...past.slice(-99), snapshot()];
		future = [];
	}
	function set(next: Place[]) {
		remember();
		places = next;
	}
	function undo() {
		const before = past.at(-1);
		if (!before) return;
		future = [...future, snapshot()];
		past = past.slice(0, -1);
		({ places, signers } = before);
		said = 'Taken back.';
	}
	function redo() {
		const after = future.at(-1);
		if (!after) return;
		past = [...past, snapshot()];
		future = future.slice(0, -1);
		({ places, signers } = after);
		said = 'Done again.';
	}
	const change = (more: Partial<Place>) => chosen && set(places.map((place) => (place.id === chosen.id ? { ...place, ...more } : place)));
	const within = (place: Place): Place => {
		const size = documents[place.document]?.pages[place.page - 1];
		if (!size) return place;
		const [width, height] = [Math.min(place.width, size.width), Math.min(place.height, size.height)];
		const keep = (at: number, most: number) => Math.round(Math.max(0, Math.min(at, most)) * 10) / 10;
		return { ...place, width, height, x: keep(place.x, size.width - width), y: keep(place.y, size.height - height) };
	};
	const newId = () => crypto.randomUUID().slice(0, 12);
	function put(page: number, x: number, y: number) {
		const { width, height } = PLACES[kind];
		const place = within({
			id: newId(),
			document: document_,
			page,
			x: x - width / 2,
			y: y - height / 2,
			width,
			height,
			kind,
			of: party,
			label: usualLabel(kind),
			required: kind !== 'tick',
			help: '',
			choices: [],
			onlyIf: null
		});
		set([...places, place]);
		select(place.id);
		said = `${PLACES[kind].words} for ${nameOf(party)} on page ${page}.`;
	}
	function select(place: string | null) {
		selected = place;
		if (place) void tick().then(() => pagesPart?.querySelector<HTMLElement>(`[data-place="${CSS.escape(place)}"]`)?.focus({ preventScroll: false }));
	}
	/** A place that was found becomes one of whoever is chosen. */
	function take(one: (typeof free)[number]) {
		const { document, page, x, y, width, height, label, choices } = one;
		const place: Place = {
			id: newId(),
			document,
			page,
			x,
			y,
			width,
			height,
			kind: one.kind,
			label,
			choices,
			of: party,
			required: one.kind !== 'tick',
			help: '',
			onlyIf: null
		};
		set([...places, place]);
		select(place.id);
		said = `${PLACES[one.kind].words} for ${nameOf(party)} on page ${page}.`;
	}
	function remove(place: Place) {
		const order = inReadingOrder(places.filter((one) => one.document === document_));
		const at = order.findIndex(({ id }) => id === place.id);
		set(places.filter(({ id }) => id !== place.id));
		select((order[at + 1] ?? order[at - 1])?.id ?? null);
		said = 'Taken away.';
	}
	function duplicate(place: Place) {
		const copy = within({ ...$state.snapshot(place), id: newId(), y: place.y + place.height + 8 });
		set([...places, copy]);
		select(copy.id);
	}
	/** The same at the same place of every other page that is large enough. */
	function onEveryPage(place: Place) {
		const pages = documents[place.document].pages;
		const copies = pages.flatMap((_, at) =>
			at + 1 === place.page ||
			places.some(
				(one) =>
					one.document === place.document &&
					one.page === at + 1 &&
					one.kind === place.kind &&
					one.of === place.of &&
					one.x === place.x &&
					one.y === place.y
			)
				? []
				: [within({ ...$state.snapshot(place), id: newId(), page: at + 1 })]
		);
		set([...places, ...copies]);
		said = `On all ${pages.length} pages now.`;
	}
	/** Beside the nearest other place of the page: the same foot where they stand side by side, else the same left edge. */
	function align(place: Place) {
		const others = places.filter((one) => one.id !== place.id && one.document === place.document && one.page === place.page);
		const foot = (one: Place) => one.y + one.height;
		const near = others.sort((a, b) => Math.hypot(a.x - place.x, foot(a) - foot(place)) - Math.hypot(b.x - place.x, foot(b) - foot(place)))[0];
		if (!near) return;
		const beside = Math.abs(foot(near) - foot(place)) < Math.abs(near.x - place.x);
		change(beside ? { y: foot(near) - place.height } : { x: near.x });
	}
	function keys(event: KeyboardEvent, place: Place) {
		const step = event.shiftKey ? 10 : 1;
		const moves: Record<string, [number, number]> = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] };
		const by = moves[event.key];
		if (by && event.altKey)
			set(
				places.map((one) =>
					one.id === place.id ? within({ ...one, width: Math.max(8, one.width + by[0]), height: Math.max(8, one.height + by[1]) }) : one
				)
			);
		else if (by) set(places.map((one) => (one.id === place.id ? within({ ...one, x: one.x + by[0], y: one.y + by[1] }) : one)));
		else if (event.key === 'Delete' || event.key === 'Backspace') remove(place);
		else return;
		event.preventDefault();
		event.stopPropagation();
	}
	function shortcuts(event: KeyboardEvent) {
		if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return;
		if (event.target instanceof HTMLElement && event.target.matches('input, textarea')) return;
		event.preventDefault();
		if (event.shiftKey) redo();
		else undo();
	}
	/** Moves a place, or makes it larger by its corner, as far as the pointer goes. */
	function drag(event: PointerEvent, place: Place, how: 'move' | 'size') {
		if (event.button !== 0) return;
		const element = event.currentTarget as HTMLElement;
		const page = element.closest<HTMLElement>('[data-page]');
		const size = sizes[place.page - 1];
		if (!page || !size) return;
		event.stopPropagation();
		selected = place.id;
		const scale = size.width / page.clientWidth;
		const from = { x: event.clientX, y: event.clientY, place: $state.snapshot(place) };
		const before = snapshot();
		let moved = false;
		element.setPointerCapture(event.pointerId);
		const go = (at: PointerEvent) => {
			const [dx, dy] = [(at.clientX - from.x) * scale, (at.clientY - from.y) * scale];
			if (!moved && Math.hypot(at.clientX - from.x, at.clientY - from.y) < 3) return;
			moved = true;
			places = places.map((one) =>
				one.id !== place.id
					? one
					: within(
							how === 'move'
								? { ...one, x: from.place.x + dx, y: from.place.y + dy }
								: { ...one, width: Math.max(8, from.place.width + dx), height: Math.max(8, from.place.height + dy) }
						)
			);
		};
		const end = () => {
			element.removeEventListener('pointermove', go);
			if (moved) {
				past = [...past.slice(-99), before];
				future = [];
			}
		};
		element.addEventListener('pointermove', go);
		element.addEventListener('pointerup', end, { once: true });
		element.addEventListener('pointercancel', end, { once: true });
	}
	async function measure(pdf: PDFDocumentProxy) {
		const read: typeof sizes = [];
		for (let n = 1; n <= pdf.numPages; n++) {
			const { width, height } = (await pdf.getPage(n)).getViewport({ scale: 1 });
			read.push({ width, height });
		}
		sizes = read;
		// the pages with places on them are what it is about
		const first = inReadingOrder([...places, ...found].filter((one) => one.document === document_))[0];
		if (!first || first.page === 1 || selected) return;
		await tick();
		pagesPart?.querySelector(`[data-page="${first.page}"]`)?.scrollIntoView({ block: 'start' });
	}
	const share = (part: number, whole: number) => `${(part / whole) * 100}%`;
	const noteOf = (place: Place) => {
		const who = signing.find(({ key }) => key === place.of)?.who;
		const by = who?.as === 'asked' ? 'who gets it' : who?.as === 'firm' && !who.staffId ? 'one of us' : nameOf(place.of);
		switch (place.kind) {
			case 'signature':
				return `${by} signs`;
			case 'date':
			case 'name':
			case 'email':
			case 'initials':
				return `${PLACES[place.kind].words}, ${by}`;
			default:
				return `${place.label || PLACES[place.kind].words}, ${by}`;
		}
	};
	/** Notes of a page, one under another where they would cover each other; in shares of its height. */
	function notesOf(page: number) {
		const size = sizes[page - 1];
		let last = -1;
		return inReadingOrder(places.filter((place) => place.document === document_ && place.page === page))
			.sort((a, b) => a.y - b.y)
			.map((place) => {
				const top = Math.max((place.y + place.height / 2) / size.height - 0.012, last);
				last = top + 0.027;
				return { place, top };
			});
	}
	const ticks = $derived(
		chosen
			? [
					...new Set(
						places.filter((one) => one.of === chosen.of && one.kind === 'tick' && one.label !== '' && one.id !== chosen.id).map(({ label }) => label)
					)
				]
			: []
	);
	function shown(dialog: HTMLDialogElement) {
		dialog.showModal();
	}
</script>

<svelte:window onkeydown={shortcuts} />

<dialog class="placing" aria-labelledby="{id}-title" {@attach shown} onclose={close}>
	<header class="flex flex-wrap items-baseline gap-x-4 gap-y-1 border-b border-(--rule-strong) bg-(--sheet) px-5 py-2.5">
		<h2 id="{id}-title" class="text-xl">Places on “{title}”</h2>
		<span class="text-sm text-(--half)"
			>{free.length === 0 ? '' : `${free.length} ${free.length === 1 ? 'place' : 'places'} found in the text, not taken over`}</span
		>
		<span class="ml-auto flex flex-wrap items-center gap-x-3 text-sm">
			{#if documents.length > 1}
				<label
					>document
					<select class="line-input !w-auto !py-0.5" bind:value={document_} onchange={() => (selected = null)}>
						{#each documents as one, at (one.id)}<option value={at}>{one.name}</option>{/each}
					</select></label
				>
			{/if}
			<label
				>size
				<select class="line-input !w-auto !py-0.5" bind:value={zoom}>
					{#each [1, 1.5, 2] as one (one)}<option value={one}>{one * 100} %</option>{/each}
				</select></label
			>
			<button type="button" class="act-link" disabled={past.length === 0} onclick={undo}>Undo</button>
			<button type="button" class="act-link" disabled={future.length === 0} onclick={redo}>Redo</button>
			<button type="button" class="act" onclick={close}>Done</button>
		</span>
	</header>
	<div class="both">
		<div class="desk" bind:this={pagesPart}>
			<div class="pages" style="width: {zoom * 100}%">
				{#key documents[document_]?.id}
					<FilePages
						src="/desk/attachments/{documents[document_]?.id}"
						name={documents[document_]?.name ?? ''}
						contentType="application/pdf"
						most={documents[document_]?.pages.length ?? 1}
						label={(page, count) => `Page ${page} of ${count}. Enter puts a ${PLACES[kind].words} for ${nameOf(party)} in its middle.`}
						opened={(pdf) => void measure(pdf)}
						pick={(page, x, y) => {
							const size = sizes[page - 1];
							if (size) put(page, x * size.width, y * size.height);
						}}
						{zoom}
					>
						{#snippet over(page)}
							{@const size = sizes[page - 1]}
							{#if size}
								{#each inReadingOrder(places.filter((place) => place.document === document_ && place.page === page)) as place (place.id)}
									<div
										role="button"
										tabindex="0"
										class="place p{Math.max(0, partyOf(place.of)) % 4}"
										class:chosen={place.id === selected}
										class:lost={partyOf(place.of) < 0}
										data-place={place.id}
										aria-label="{PLACES[place.kind].words} of {nameOf(place.of)}{place.label ? `, ${place.label}` : ''}, page {page}"
										aria-pressed={place.id === selected}
										style="left: {share(place.x, size.width)}; top: {share(place.y, size.height)}; width: {share(
											place.width,
											size.width
										)}; height: {share(place.height, size.height)}"
										onpointerdown={(event) => drag(event, place, 'move')}
										onfocus={() => (selected = place.id)}
										onkeydown={(event) => keys(event, place)}
									>
										<span class="what" aria-hidden="true">{place.label || PLACES[place.kind].words}</span>
										{#if place.id === selected}<span class="corner" aria-hidden="true" onpointerdown={(event) => drag(event, place, 'size')}
											></span>{/if}
									</div>
								{/each}
								{#each free.filter((one) => one.page === page) as one (`${one.x} ${one.y}`)}
									<button
										type="button"
										class="found"
										aria-label="Found on page {page}: {PLACES[one.kind].words}{one.label ? `, ${one.label}` : ''}. Take it over for {nameOf(party)}."
										title="Take over: {PLACES[one.kind].words}"
										style="left: {share(one.x, size.width)}; top: {share(one.y, size.height)}; width: {share(one.width, size.width)}; height: {share(
											one.height,
											size.height
										)}"
										onclick={() => take(one)}
									></button>
								{/each}
								<ul class="notes" aria-hidden="true">
									{#each notesOf(page) as { place, top } (place.id)}<li style="top: {top * 100}%" class:chosen={place.id === selected}>
											{noteOf(place)}
										</li>{/each}
								</ul>
							{/if}
						{/snippet}
						{#snippet unshown()}<p class="notice-wrong" role="alert">These pages cannot be shown. Close this, and add the file again.</p>{/snippet}
					</FilePages>
				{/key}
			</div>
		</div>
		<aside aria-label="What is put where">
			<section>
				<h3 class="text-lg">A press on the page puts</h3>
				<div class="mt-1.5 flex flex-wrap gap-1.5" role="group" aria-label="What is put">
					{#each PLACE_KINDS as one (one)}
						<button type="button" class="kind" aria-pressed={kind === one} onclick={() => (kind = one)}>{PLACES[one].words}</button>
					{/each}
				</div>
				<div class="mt-2 flex flex-wrap items-center gap-1.5 text-sm" role="group" aria-label="For whom">
					<span>for</span>
					{#each signing as signer, at (signer.key)}
						<button type="button" class="kind" aria-pressed={party === signer.key} onclick={() => (party = signer.key)}
							><span class="swatch p{at % 4}" aria-hidden="true"></span>{signerWords(signer, people)}</button
						>
					{/each}
				</div>
			</section>
			{#if chosen}
				<section aria-label="The chosen place">
					<h3 class="text-lg">{noteOf(chosen)}</h3>
					<div class="mt-1.5 space-y-2 text-sm">
						<label class="field"
							><span>Belongs to</span>
							<select value={chosen.of} onchange={(event) => change({ of: event.currentTarget.value })}>
								{#if partyOf(chosen.of) < 0}<option value={chosen.of}>nobody who signs</option>{/if}
								{#each signing as signer (signer.key)}<option value={signer.key}>{signerWords(signer, people)}</option>{/each}
							</select></label
						>
						<label class="field"
							><span>Kind</span>
							<select value={chosen.kind} onchange={(event) => change({ kind: event.currentTarget.value as PlaceKind })}>
								{#each PLACE_KINDS as one (one)}<option value={one}>{PLACES[one].words}</option>{/each}
							</select></label
						>
						{#if PLACES[chosen.kind].asks}
							<label class="field"
								><span>What is asked. The same words are filled in once.</span>
								<input
									value={chosen.label}
									maxlength="80"
									list="{id}-known"
									aria-describedby="{id}-known-help"
									oninput={(event) => (places = places.map((one) => (one.id === selected ? { ...one, label: event.currentTarget.value } : one)))}
									onfocus={remember}
								/></label
							>
							{#if !BANK_KINDS.includes(chosen.kind) && chosen.kind !== 'tick'}<p class="text-xs text-(--half)" id="{id}-known-help">
									What the record calls so comes filled in, and can be changed by whoever signs.
								</p>{/if}
							<datalist id="{id}-known"
								>{#each known as words (words)}<option value={words}></option>{/each}</datalist
							>
							<label class="field"
								><span>Help, if it needs any</span>
								<input
									value={chosen.help}
									maxlength="200"
									oninput={(event) => (places = places.map((one) => (one.id === selected ? { ...one, help: event.currentTarget.value } : one)))}
									onfocus={remember}
								/></label
							>
							{#if chosen.kind === 'choice'}
								<label class="field"
									><span>Choices, one a line</span>
									<textarea
										rows="3"
										value={chosen.choices.join('\n')}
										onfocus={remember}
										oninput={(event) => {
											const choices = event.currentTarget.value.split('\n').slice(0, 20);
											places = places.map((one) => (one.id === selected ? { ...one, choices } : one));
										}}
										onchange={(event) => {
											const choices = [
												...new Set(
													event.currentTarget.value
														.split('\n')
														.map((one) => one.trim().slice(0, 80))
														.filter(Boolean)
												)
											].slice(0, 20);
											places = places.map((one) => (one.id === selected ? { ...one, choices } : one));
										}}></textarea></label
								>
							{/if}
							<label class="flex items-center gap-2"
								><input type="checkbox" checked={chosen.required} onchange={(event) => change({ required: event.currentTarget.checked })} /> needed</label
							>
						{/if}
						{#if ticks.length > 0}
							<label class="field"
								><span>Asked</span>
								<select value={chosen.onlyIf ?? ''} onchange={(event) => change({ onlyIf: event.currentTarget.value || null })}>
									<option value="">always</option>
									{#each ticks as label (label)}<option value={label}>only if “{label}” is ticked</option>{/each}
								</select></label
							>
						{/if}
						<p class="flex flex-wrap gap-x-4 gap-y-1">
							<button type="button" class="act-link" onclick={() => chosen && duplicate(chosen)}>Duplicate</button>
							<button type="button" class="act-link" onclick={() => chosen && align(chosen)}>Align with the nearest</button>
							{#if documents[chosen.document].pages.length > 1}<button type="button" class="act-link" onclick={() => chosen && onEveryPage(chosen)}
									>Same place on every page</button
								>{/if}
							<button type="button" class="act-link" onclick={() => chosen && remove(chosen)}>Take away</button>
						</p>
						<p class="text-(--half)">Arrow keys move it, with Shift further, with Alt they change its size. Delete takes it away.</p>
					</div>
				</section>
			{/if}
			<section>
				<h3 class="text-lg">In this order</h3>
				<div class="mt-1">
					<SignerOrder bind:signers {people} placed={places.length > 0 ? places.map(({ of }) => of) : null} changed={remember} />
				</div>
			</section>
			{#if missing}<p class="notice-lamp text-sm" role="status">{missing}</p>{/if}
			<p class="sr-only" aria-live="polite">{said}</p>
		</aside>
	</div>
</dialog>

<style>
	.placing {
		width: 100vw;
		max-width: none;
		height: 100dvh;
		max-height: none;
		margin: 0;
		padding: 0;
		border: 0;
		background: var(--paper);
		color: var(--ink);
	}
	.placing[open] {
		display: flex;
		flex-direction: column;
	}
	.both {
		display: flex;
		flex: 1;
		min-height: 0;
	}
	.desk {
		flex: 1;
		min-width: 0;
		overflow: auto;
		padding: 24px;
		background: color-mix(in srgb, var(--paper) 80%, var(--rule-strong));
	}
	.pages {
		max-width: none;
		padding-left: 11.5rem;
		min-width: 30rem;
	}
	aside {
		width: 22rem;
		overflow: auto;
		padding: 18px 20px;
		border-left: 1px solid var(--rule-strong);
	}
	aside > section {
		margin-bottom: 1.1rem;
	}
	.place,
	.found {
		position: absolute;
		overflow: hidden;
		touch-action: none;
	}
	.place,
	.swatch {
		border: 1px solid #1d2530;
		background: repeating-linear-gradient(45deg, #b8a98499 0 1px, #fffdf7cc 1px 7px);
		color: #1d2530;
	}
	.place {
		cursor: move;
	}
	/* parties are told apart by hatching and words, never by colour alone */
	.p1 {
		border-style: dotted;
		background: radial-gradient(#5a6472 1px, #fffdf7cc 1.2px) 0 0 / 7px 7px;
	}
	.p2 {
		border-style: dashed;
		background: repeating-linear-gradient(0deg, #b8a98499 0 1px, #fffdf7cc 1px 6px);
	}
	.p3 {
		border-style: double;
		background: repeating-linear-gradient(90deg, #b8a98499 0 1px, #fffdf7cc 1px 6px);
	}
	.lost {
		border: 2px solid #b91c1c;
	}
	.place.chosen {
		outline: 3px solid var(--lamp, #d97706);
		overflow: visible;
	}
	.what {
		position: absolute;
		left: 2px;
		bottom: 0;
		padding-inline: 2px;
		background: #fffdf7e6;
		font-size: 11px;
		line-height: 1.25;
		white-space: nowrap;
	}
	.corner {
		position: absolute;
		right: -8px;
		bottom: -8px;
		width: 16px;
		height: 16px;
		border: 2px solid #1d2530;
		background: #fff;
		cursor: nwse-resize;
		touch-action: none;
	}
	.found {
		border: 1.5px dashed #8a5a00;
		background: #fff3dfaa;
		cursor: copy;
	}
	.notes {
		position: absolute;
		inset: 0 100% 0 auto;
		width: 11rem;
		padding: 0;
		list-style: none;
		color: var(--ink);
		font-size: 13px;
		line-height: 1.2;
	}
	.notes li {
		position: absolute;
		right: 12px;
		max-width: 10.2rem;
		overflow: hidden;
		text-align: right;
		text-overflow: ellipsis;
		white-space: nowrap;
	}
	.notes li.chosen {
		font-weight: 700;
	}
	.kind {
		display: inline-flex;
		align-items: center;
		gap: 6px;
		min-height: 28px;
		padding: 2px 9px;
		border: 1px solid var(--rule-strong);
		border-radius: 4px;
		background: var(--sheet);
		font-size: 14px;
	}
	.kind[aria-pressed='true'] {
		border-color: var(--act);
		box-shadow: inset 0 0 0 1px var(--act);
		font-weight: 700;
	}
	.swatch {
		width: 22px;
		height: 14px;
	}
	@media (max-width: 56rem) {
		.both {
			flex-direction: column;
		}
		aside {
			width: auto;
			max-height: 45dvh;
			border-top: 1px solid var(--rule-strong);
			border-left: 0;
		}
		.pages {
			min-width: 0;
			padding-left: 0;
		}
		.notes {
			display: none;
		}
	}
</style>
