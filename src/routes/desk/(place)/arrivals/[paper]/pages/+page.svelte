<script lang="ts">
	import { onMount, tick, untrack } from 'svelte';
	import { SvelteSet } from 'svelte/reactivity';
	import { FILES_MOST, filesOf, groupsOf, looksBlank, moved, PAGES_MOST, stemOf, turned, type Sheet } from '$lib/core/papers/page-plan';
	import type { PagedPaper } from '$lib/server/papers/arrange-pages';
	import { isTyping } from '$lib/ui/desk/leaf-keys';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import { openPdf } from '$lib/ui/papers/open-pdf';

	let { data } = $props();
	const papers = $derived([data.paper, ...data.others]);
	const key = $derived(`lantern-pages ${data.paper.id}`);
	const stem = $derived(stemOf(data.paper.name));
	const nameOf = (paperId: string) => papers.find(({ id }) => id === paperId)?.name ?? 'a file';
	/** longer side of a page as it is drawn here, in pixels */
	const DRAWN_SIDE = 380;
	let sheets = $state<Sheet[]>([]);
	let names = $state<Record<string, string>>({});
	const chosen = new SvelteSet<string>();
	let last: string | null = null;
	/** the pages as they were drawn, by sheet */
	let drawn = $state<Record<string, { url: string; blank: boolean }>>({});
	let opening = $state<string[]>([]);
	let problem = $state('');
	let pending = $state(false);

	const files = $derived(filesOf(sheets, names, stem));
	/** the pages of each file on the table, with those that are left out of it */
	const groups = $derived(groupsOf(sheets));
	const joined = $derived(new Set(sheets.map(({ paperId }) => paperId)));
	const toAdd = $derived(data.others.filter(({ id }) => !joined.has(id)));
	const blank = $derived(sheets.filter(({ id, out }) => !out && drawn[id]?.blank));
	const changed = $derived(
		joined.size > 1 || sheets.some(({ turn, out, begins }) => turn !== 0 || out || begins) || (files[0] !== undefined && files[0].name !== stem)
	);
	const left = $derived(sheets.filter(({ out }) => out).length);
	const plan = $derived(files.map(({ name, pages }) => ({ name, pages })));
	const pagesWords = (n: number) => (n === 1 ? 'one page' : `${n} pages`);

	/** Lays the pages of a file on the table, after those that lie there. */
	async function lay(paper: PagedPaper): Promise<void> {
		if (opening.includes(paper.id) || joined.has(paper.id)) return;
		opening = [...opening, paper.id];
		try {
			const count = paper.contentType.startsWith('image/') ? 1 : await countPages(paper);
			if (sheets.length + count > PAGES_MOST) problem = `${paper.name} has ${pagesWords(count)}; at most ${PAGES_MOST} are put in order at once.`;
			else
				sheets = [
					...sheets,
					...Array.from({ length: count }, (_, n): Sheet => ({
						id: `${paper.id} ${n + 1}`,
						paperId: paper.id,
						page: n + 1,
						turn: 0,
						out: false,
						begins: false
					}))
				];
			if (paper.contentType.startsWith('image/')) drawPicture(paper);
		} catch {
			problem = `${paper.name} is locked with a password or damaged, so its pages cannot be put in order.`;
		} finally {
			opening = opening.filter((id) => id !== paper.id);
		}
	}
	/** Opens a PDF and begins to draw its pages, one after the other. */
	async function countPages(paper: PagedPaper): Promise<number> {
		const pdf = await openPdf(`/desk/papers/${paper.id}`);
		if (pdf.numPages <= PAGES_MOST) void drawAll();
		return pdf.numPages;
		async function drawAll() {
			for (let n = 1; n <= pdf.numPages; n++) {
				try {
					const page = await pdf.getPage(n);
					const whole = page.getViewport({ scale: 1 });
					const viewport = page.getViewport({ scale: DRAWN_SIDE / Math.max(whole.width, whole.height) });
					const canvas = document.createElement('canvas');
					[canvas.width, canvas.height] = [Math.ceil(viewport.width), Math.ceil(viewport.height)];
					await page.render({ canvas, viewport }).promise;
					keepDrawn(`${paper.id} ${n}`, canvas);
				} catch {
					// one damaged page: its place stays empty, the others are there
				}
			}
			void pdf.loadingTask.destroy();
		}
	}
	function drawPicture(paper: PagedPaper) {
		const picture = new Image();
		picture.onload = () => {
			const scale = DRAWN_SIDE / Math.max(picture.naturalWidth, picture.naturalHeight);
			const canvas = document.createElement('canvas');
			[canvas.width, canvas.height] = [Math.ceil(picture.naturalWidth * scale), Math.ceil(picture.naturalHeight * scale)];
			canvas.getContext('2d')!.drawImage(picture, 0, 0, canvas.width, canvas.height);
			keepDrawn(`${paper.id} 1`, canvas);
		};
		picture.src = `/desk/papers/${paper.id}`;
	}
	function keepDrawn(id: string, canvas: HTMLCanvasElement) {
		const { width, height } = canvas;
		const { data: pixels } = canvas.getContext('2d')!.getImageData(0, 0, width, height);
		drawn[id] = { url: canvas.toDataURL('image/webp', 0.8), blank: looksBlank(pixels, width, height) };
	}

	onMount(async () => {
		const before = kept();
		for (const paper of papers) if (paper.id === data.paper.id || before?.sheets.some(({ paperId }) => paperId === paper.id)) await lay(paper);
		// as it was before this page was read anew, if it is still about the same pages
		const there = new Set(sheets.map(({ id }) => id));
		if (before && before.sheets.length === there.size && before.sheets.every(({ id }) => there.has(id))) {
			sheets = before.sheets;
			names = before.names;
		}
	});
	function kept(): { sheets: Sheet[]; names: Record<string, string> } | null {
		try {
			return JSON.parse(sessionStorage.getItem(untrack(() => key)) ?? 'null');
		} catch {
			return null;
		}
	}
	$effect(() => {
		const [now, opened] = [JSON.stringify({ sheets, names }), opening.length === 0 && sheets.length > 0];
		if (!opened) return;
		try {
			if (changed) sessionStorage.setItem(key, now);
			else sessionStorage.removeItem(key);
		} catch {
			// a full or private window: the order holds as long as the page stands
		}
	});

	function choose(event: MouseEvent, id: string) {
		const [from, to] = [sheets.findIndex((one) => one.id === last), sheets.findIndex((one) => one.id === id)];
		if (event.shiftKey && from >= 0) for (const one of sheets.slice(Math.min(from, to), Math.max(from, to) + 1)) chosen.add(one.id);
		else if (chosen.has(id)) chosen.delete(id);
		else chosen.add(id);
		last = id;
	}
	/** what a key or a button is about: what is chosen, else the page that has the focus */
	function meant(): Set<string> {
		if (chosen.size > 0) return new Set(chosen);
		const at = document.activeElement?.getAttribute('data-sheet');
		return new Set(at ? [at] : []);
	}
	const change = (ids: ReadonlySet<string>, how: (sheet: Sheet) => Sheet) => {
		sheets = sheets.map((sheet) => (ids.has(sheet.id) ? how(sheet) : sheet));
	};
	async function keepingFocus(work: () => void) {
		const at = document.activeElement?.getAttribute('data-sheet');
		work();
		await tick();
		if (at) document.querySelector<HTMLElement>(`[data-sheet="${at}"]`)?.focus();
	}
	const ACTS = {
		turn: () => change(meant(), (sheet) => ({ ...sheet, turn: turned(sheet.turn) })),
		out: () => {
			const ids = meant();
			const all = sheets.filter(({ id }) => ids.has(id)).every(({ out }) => out);
			change(ids, (sheet) => ({ ...sheet, out: !all }));
		},
		begin: () => {
			const ids = meant();
			// one file from the first page that is chosen on, and all of them together where it begins there already
			const first = sheets.find(({ id }) => ids.has(id));
			if (first && first.id !== sheets[0].id) change(new Set([first.id]), (sheet) => ({ ...sheet, begins: !sheet.begins }));
		},
		earlier: () => (sheets = moved(sheets, meant(), -1)),
		later: () => (sheets = moved(sheets, meant(), 1))
	};
	const act = (name: keyof typeof ACTS) => keepingFocus(() => void ACTS[name]());
	const begins = $derived.by(() => {
		const first = sheets.find(({ id }) => chosen.has(id));
		return first !== undefined && first.begins && first.id !== sheets[0].id;
	});
	function onkeydown(event: KeyboardEvent) {
		if (event.defaultPrevented || isTyping(event)) return;
		const at = (event.target as HTMLElement).getAttribute('data-sheet');
		const step = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
		if (at && step !== 0) {
			if (event.shiftKey) void act(step > 0 ? 'later' : 'earlier');
			else {
				const to = sheets[sheets.findIndex(({ id }) => id === at) + step];
				if (to) document.querySelector<HTMLElement>(`[data-sheet="${to.id}"]`)?.focus();
			}
		} else if (event.key === 't') void act('turn');
		else if (event.key === 'o') void act('out');
		else if (event.key === 'f') void act('begin');
		else return;
		event.preventDefault();
	}
	const everyPage = () => (sheets = sheets.map((sheet, index) => ({ ...sheet, begins: index > 0 })));
	const asOne = () => (sheets = sheets.map((sheet) => ({ ...sheet, begins: false })));
	const leaveBlankOut = () => change(new Set(blank.map(({ id }) => id)), (sheet) => ({ ...sheet, out: true }));
	function startAgain() {
		sheets = [];
		names = {};
		chosen.clear();
		problem = '';
		void lay(data.paper);
	}
	const words = (sheet: Sheet) =>
		[
			`Page ${sheet.page} of ${nameOf(sheet.paperId)}`,
			sheet.turn ? `turned by ${sheet.turn} degrees` : '',
			sheet.out ? 'left out' : '',
			drawn[sheet.id]?.blank ? 'looks blank' : ''
		]
			.filter(Boolean)
			.join(', ');
</script>

<svelte:head><title>Pages of {data.paper.name} · {data.firm.name}</title></svelte:head>
<svelte:window {onkeydown} />

<main id="sheet" class="sheet choosing" tabindex="-1">
	<div class="masthead">
		<p class="text-sm"><a class="act-link" href="/desk/rounds/arrival-{data.paper.id}">Back to {data.paper.name}</a></p>
		<h1 class="mt-1 text-[1.65rem] leading-tight wrap-anywhere">Pages of {data.paper.name}</h1>
		<p class="max-w-[70ch] text-[0.88rem] text-(--half)">
			From {data.clientName}. Choose pages, then say below what becomes of them. The file as it came is put away, and comes back if you take this
			back.
		</p>
		<p class="mt-2 flex flex-wrap items-center gap-x-4 gap-y-1 text-sm">
			{#if sheets.length > 1}
				<button type="button" class="act-link" disabled={sheets.length > FILES_MOST} onclick={everyPage}>Every page a file of its own</button>
				{#if groups.length > 1}<button type="button" class="act-link" onclick={asOne}>All in one file</button>{/if}
			{/if}
			{#if blank.length > 0 && blank.length < sheets.length}<button type="button" class="act-link" onclick={leaveBlankOut}
					>Leave out {blank.length === 1 ? 'the page that looks blank' : `the ${blank.length} pages that look blank`}</button
				>{/if}
			{#each toAdd as other (other.id)}<button type="button" class="act-link" disabled={opening.includes(other.id)} onclick={() => lay(other)}
					>Add the pages of {other.name}</button
				>{/each}
			{#if changed}<button type="button" class="act-link" onclick={startAgain}>Start again</button>{/if}
		</p>
		{#if problem}<p class="notice-wrong mt-2" role="alert">{problem}</p>{/if}
	</div>
	{#each groups as group (group.beginsAt)}
		{@const number = files.findIndex(({ beginsAt }) => beginsAt === group.beginsAt)}
		<section class="file" aria-label={number < 0 ? 'Nothing of these pages is kept' : `File ${number + 1}`}>
			<div class="about">
				{#if number < 0}<span class="text-(--half)">nothing kept</span>
				{:else}<b>{files.length === 1 ? 'one file' : `file ${number + 1}`}</b><span class="text-(--half)"
						>{pagesWords(files[number].pages.length)}</span
					>{/if}
			</div>
			<div class="min-w-0">
				{#if number >= 0}<input
						class="line-input !w-[min(26rem,100%)]"
						aria-label="Name of file {number + 1}"
						maxlength="160"
						placeholder={files[number].name}
						value={names[group.beginsAt] ?? ''}
						oninput={(event) => (names[group.beginsAt] = event.currentTarget.value)}
					/>{/if}
				<ol class="sheets">
					{#each group.sheets as sheet (sheet.id)}
						{@const picture = drawn[sheet.id]}
						<li>
							<button
								type="button"
								class="leaf-of"
								class:left-out={sheet.out}
								data-sheet={sheet.id}
								aria-pressed={chosen.has(sheet.id)}
								aria-label={words(sheet)}
								onclick={(event) => choose(event, sheet.id)}
							>
								<span class="paper-of"
									>{#if picture}<img
											src={picture.url}
											alt=""
											style="rotate: {sheet.turn}deg; scale: {sheet.turn % 180 === 0 ? 1 : 0.76}"
										/>{/if}</span
								>
								<span class="caption"
									>{joined.size > 1 ? `${nameOf(sheet.paperId)} ` : ''}{sheet.page}{sheet.out
										? ', left out'
										: picture?.blank
											? ', looks blank'
											: ''}</span
								>
							</button>
						</li>
					{/each}
				</ol>
			</div>
		</section>
	{:else}{#if !problem}<p class="py-6 pl-4 text-(--half) md:pl-[104px]">Opening {data.paper.name} …</p>{/if}{/each}
	<form
		method="post"
		class="bar"
		{@attach enhancedForm({ onPending: (begins) => (pending = begins), onProblem: (what) => (problem = what.message), readsAnew: false })}
	>
		<input type="hidden" name="plan" value={JSON.stringify(plan)} />
		<button type="button" class="act-quiet" disabled={chosen.size === 0} aria-keyshortcuts="t" onclick={() => act('turn')}
			>Turn <span class="key">t</span></button
		>
		<button type="button" class="act-quiet" disabled={chosen.size === 0} aria-keyshortcuts="o" onclick={() => act('out')}
			>{chosen.size > 0 && sheets.every(({ id, out }) => !chosen.has(id) || out) ? 'Take in again' : 'Leave out'} <span class="key">o</span></button
		>
		<button
			type="button"
			class="act-quiet"
			disabled={chosen.size === 0 || chosen.has(sheets[0]?.id)}
			aria-keyshortcuts="f"
			onclick={() => act('begin')}>{begins ? 'No new file here' : 'New file from here'} <span class="key">f</span></button
		>
		<button type="button" class="act-quiet" disabled={chosen.size === 0} onclick={() => act('earlier')}>Earlier</button>
		<button type="button" class="act-quiet" disabled={chosen.size === 0} onclick={() => act('later')}>Later</button>
		{#if chosen.size > 0}<button type="button" class="act-link text-sm" onclick={() => chosen.clear()}>Choose none</button>{/if}
		<span class="ml-auto flex items-center gap-3">
			{#if left > 0}<span class="text-sm text-(--half)">{pagesWords(left)} left out</span>{/if}
			<button class="act" disabled={pending || !changed || files.length === 0 || opening.length > 0}
				>{pending ? 'Making them …' : files.length > 1 ? `Make ${files.length} files` : 'Make this file'}</button
			>
		</span>
	</form>
</main>

<style>
	.file {
		display: grid;
		grid-template-columns: 86px minmax(0, 1fr);
		gap: 18px;
		padding: 10px 18px 6px 0;
		border-bottom: 1px solid var(--rule);
	}
	.about {
		display: grid;
		align-content: start;
		padding: 6px 8px 0;
		font-size: 0.78rem;
		text-align: right;
	}
	.sheets {
		display: flex;
		flex-wrap: wrap;
		gap: 10px;
		padding: 10px 0 8px;
	}
	.leaf-of {
		display: grid;
		width: 168px;
		padding: 6px 6px 4px;
		border: 2px solid transparent;
		border-radius: 6px;
	}
	.leaf-of:hover {
		background: var(--lamp-soft);
	}
	.leaf-of[aria-pressed='true'] {
		border-color: var(--lamp-edge);
		background: var(--lamp-light);
	}
	.paper-of {
		display: grid;
		place-items: center;
		height: 196px;
	}
	.paper-of img {
		max-width: 152px;
		max-height: 192px;
		border: 1px solid var(--rule-strong);
		background: #fff;
	}
	.left-out .paper-of img {
		opacity: 0.3;
	}
	.caption {
		overflow: hidden;
		padding-top: 3px;
		font-size: 0.76rem;
		color: var(--half);
		text-overflow: ellipsis;
		white-space: nowrap;
	}
	.left-out .caption {
		text-decoration: line-through;
	}
	@media (max-width: 640px) {
		.file {
			grid-template-columns: minmax(0, 1fr);
			gap: 2px;
			padding-left: 16px;
		}
		.about {
			display: flex;
			gap: 8px;
			padding: 0;
			text-align: left;
		}
	}
</style>
