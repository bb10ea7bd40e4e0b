<script lang="ts">
	import { onMount } from 'svelte';
	import { afterNavigate, goto, invalidate } from '$app/navigation';
	import { navigating, page } from '$app/state';
	import { may } from '$lib/core/people/roles';
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';
	import { shortFirmName } from '$lib/core/firms/short-name';
	import FindOrDo from '$lib/ui/desk/FindOrDo.svelte';
	import LanternMark from '$lib/ui/desk/LanternMark.svelte';
	import { isTyping } from '$lib/ui/desk/leaf-keys';
	import TakeBack from '$lib/ui/talk/TakeBack.svelte';
	import SignInAgain from '$lib/ui/sign-in/SignInAgain.svelte';
	import { clearCopies } from '$lib/ui/forms/typed-copies';

	let { data, children } = $props();
	/** Who is at the desk, and whose it is. A desk that is being left for an error page is drawn once more, without its data. */
	const person = $derived((data as Partial<typeof data>).person ?? { id: '', name: '', email: '', role: 'filing' as const });
	const firmName = $derived((data as Partial<typeof data>).firm?.name ?? '');
	const places = [
		{ name: 'Rounds', path: '/desk/rounds' },
		{ name: 'Clients', path: '/desk/clients' },
		{ name: 'Almanac', path: '/desk/almanac' },
		{ name: 'Arrivals', path: '/desk/arrivals' },
		{ name: 'Library', path: '/desk/library' },
		{ name: 'Postroom', path: '/desk/postroom' },
		{ name: 'Firm', path: '/desk/firm' }
	];
	let keysDialog: HTMLDialogElement;
	let clockDialog: HTMLDialogElement | undefined = $state();
	let moving = $state(false);
	let clockProblem = $state('');
	let find: FindOrDo;
	let yours: HTMLDetailsElement | undefined = $state();
	// what was chosen from it is there now
	afterNavigate(() => yours?.removeAttribute('open'));

	onMount(() => {
		let timer: ReturnType<typeof setTimeout> | undefined;
		const events = new EventSource('/desk/live');
		const refresh = () => {
			clearTimeout(timer);
			timer = setTimeout(readAnew, 250);
		};
		/** Not while a change of page is under way, which it would break off, nor while the line is down, which would cost the page. */
		async function readAnew() {
			// asked as whoever is signed in: a session that has ended is renewed in place, and what is being typed stays
			const reachable =
				!navigating.to &&
				(await fetch('/desk/still-here').then(
					(answer) => answer.ok,
					() => false
				));
			if (reachable && !navigating.to) await invalidate('desk:live');
			else timer = setTimeout(readAnew, 1000);
		}
		// the first message after each opening tells the newest event, so that nothing is missed in between
		events.onmessage = (message) => {
			document.documentElement.dataset.live = 'yes';
			const [newest, justNow] = String(message.data).split(' ');
			if (justNow || Number(newest) > data.latestEvent) refresh();
		};
		const minute = setInterval(refresh, 60_000);
		return () => {
			events.close();
			clearTimeout(timer);
			clearInterval(minute);
		};
	});

	function onkeydown(event: KeyboardEvent) {
		if (event.defaultPrevented || event.altKey || event.metaKey) return;
		if (event.ctrlKey && event.key === 'k') {
			event.preventDefault();
			return find.focus();
		}
		if (isTyping(event)) return;
		const place = places[Number(event.key) - 1];
		if (place) return void goto(place.path);
		if (event.key === '/') {
			event.preventDefault();
			find.focus();
		} else if (event.key === '?') keysDialog.showModal();
		else if (event.key === 'n' && may(person.role, 'add_client')) void goto('/desk/clients/new');
		else if (event.key === 'Escape') closeLeaf();
		else if (event.key === 'ArrowDown' || event.key === 'ArrowUp') moveInList(event);
	}

	function closeLeaf() {
		const close = document.querySelector<HTMLAnchorElement>('[data-close-leaf]');
		if (close) close.click();
	}

	function moveInList(event: KeyboardEvent) {
		const rows = [...document.querySelectorAll<HTMLAnchorElement>('[data-row]')].filter((row) => row.checkVisibility());
		if (rows.length === 0) return;
		event.preventDefault();
		const current = rows.findIndex((row) => row === document.activeElement || row.getAttribute('aria-current') === 'true');
		const next = event.key === 'ArrowDown' ? Math.min(rows.length - 1, current + 1) : Math.max(0, current - 1);
		rows[next].focus();
	}

	function switchTheme() {
		const next = document.documentElement.dataset.mode === 'dark' ? 'light' : 'dark';
		document.documentElement.dataset.mode = next;
		localStorage.setItem('lantern-theme', next === 'dark' ? 'night' : 'day');
	}
</script>

<svelte:window {onkeydown} />

<a href="#sheet" class="sr focus:not-sr-only">Skip to the list</a>
{#if data.practice}
	<div class="practice no-print" role="note">
		<span><b>Practice.</b> The clients are made up, and nothing leaves the building.</span>
		<span class="flex flex-wrap items-baseline gap-x-4">
			<a class="act-link" href="/desk/practice">Clear or fill it</a>
			<form method="post" action="/desk/practice?/leave"><button class="act-link">Back to the real workspace</button></form>
		</span>
	</div>
{/if}
<header class="no-print flex min-h-[46px] flex-wrap items-stretch gap-x-6 min-[1180px]:flex-nowrap border-b border-(--rule-strong) bg-(--sheet) px-4">
	<a href="/desk/rounds" class="flex shrink-0 items-center gap-2 py-2 no-underline"
		><LanternMark /><span class="serif text-[17px] font-semibold">{shortFirmName(firmName)}</span></a
	>
	<nav aria-label="Places" class="flex flex-wrap items-stretch min-[1180px]:shrink-0 min-[1180px]:flex-nowrap">
		{#each places as place (place.path)}
			{@const here = page.url.pathname.startsWith(place.path)}
			<a href={place.path} aria-current={here ? 'page' : undefined} class="place" class:here>
				{place.name}{#if place.name === 'Rounds' && data.roundsCount > 0}<span class="ml-1.5 text-xs font-semibold text-(--lamp)"
						>{data.roundsCount}</span
					>{/if}
			</a>
		{/each}
	</nav>
	<FindOrDo bind:this={find} />
	<div class="flex shrink-0 items-center gap-3 py-1 text-right text-xs leading-tight">
		<div>
			{#if data.demo}<button
					class="font-semibold underline decoration-dotted underline-offset-2"
					onclick={() => clockDialog?.showModal()}
					title="Move the demo's clock forward">{data.nowWords}</button
				>
			{:else}<span class="font-semibold">{data.nowWords}</span>{/if}
			<div class="text-(--half)">
				{#if data.nextChases}next chases {data.nextChases.words}, to {data.nextChases.people}
					{data.nextChases.people === 1 ? 'person' : 'people'}{:else}no chases are waiting{/if}
			</div>
		</div>
		<details class="relative" bind:this={yours}>
			<summary class="act-quiet list-none" aria-label="You and this desk">{person.name.split(' ')[0]}</summary>
			<div class="absolute right-0 z-20 mt-1 w-52 border border-(--rule-strong) bg-(--sheet) p-2 text-left text-sm shadow-md">
				<p class="px-2 py-1 text-(--half)">{person.name}, {person.role}</p>
				{#if !data.practice}<a class="menu-line no-underline" href="/desk/you">Sign-in and devices</a>
					<a class="menu-line no-underline" href="/desk/told">What you are told</a>
					<a class="menu-line no-underline" href="/desk/practice">Practice workspace</a>{/if}
				<button class="menu-line" onclick={switchTheme}>Day or Night</button>
				<button class="menu-line" onclick={() => keysDialog.showModal()}>Keys <span class="key">?</span></button>
				<form method="post" action="/desk/sign-out" onsubmit={clearCopies}><button class="menu-line">Sign out</button></form>
			</div>
		</details>
	</div>
</header>

{@render children()}

<dialog bind:this={keysDialog} class="sheet-dialog" aria-labelledby="keys-title">
	<h2 id="keys-title" class="text-xl">Keys</h2>
	<dl class="facts mt-3">
		{#each [[`1 … ${places.length}`, 'go to a place'], ['/ or Ctrl K', 'find or do'], ['n', 'new client'], ['↑ ↓, Enter', 'move in a list, open a row'], ['Esc', 'close the leaf'], ['a', 'accept what is open, or file it'], ['b', 'send it back'], ['w', 'waive it'], ['d', 'move its due date'], ['p', 'remind of it later'], ['q', 'write about it'], ['Ctrl ↵', 'send what is written to a client'], ['Alt ↵', 'keep a note of ours'], ['Alt z', 'take back what was just sent'], ['.', 'what can be done with it'], ['?', 'this list']] as [key, what] (key)}
			<div>
				<dt><span class="key">{key}</span></dt>
				<dd>{what}</dd>
			</div>
		{/each}
	</dl>
	<form method="dialog" class="mt-4"><button class="act">Close</button></form>
</dialog>

<TakeBack />
<SignInAgain {person} signIn="/desk/sign-in" stillHere="/desk/still-here" locale="en" />

{#if data.demo}
	<dialog bind:this={clockDialog} class="sheet-dialog" aria-labelledby="clock-title">
		<h2 id="clock-title" class="text-xl">Move the demo’s clock</h2>
		<p class="mt-2 text-sm text-(--half)">
			It is {data.nowWords}. Everything that falls due in between is done in order, and the chases go out. Time only goes forward.
		</p>
		{#if clockProblem}<p class="notice-wrong mt-3" role="alert">{clockProblem}</p>{/if}
		<form
			method="post"
			action="/desk/clock"
			class="mt-4 flex flex-wrap gap-2"
			{@attach enhancedForm({
				onPending: (p) => (moving = p),
				onProblem: (p) => (clockProblem = p.message),
				onSuccess: () => clockDialog?.close()
			})}
		>
			<button class="act" name="by" value="next_morning" disabled={moving}>To tomorrow 09:00</button>
			<button class="act-quiet" name="by" value="hour" disabled={moving}>One hour</button>
			<button class="act-quiet" name="by" value="week" disabled={moving}>One week</button>
			<button class="act-quiet ml-auto" type="button" onclick={() => clockDialog?.close()}>Close</button>
		</form>
		<p class="mt-3 min-h-5 text-sm" aria-live="polite">{moving ? 'Moving. The chases of the time between are going out …' : ''}</p>
	</dialog>
{/if}

<style>
	.practice {
		display: flex;
		flex-wrap: wrap;
		justify-content: space-between;
		gap: 0.2rem 1.5rem;
		padding: 0.35rem 1rem;
		font-size: 0.86rem;
		color: var(--ink);
		border-bottom: 6px solid transparent;
		border-image: repeating-linear-gradient(135deg, var(--lamp-edge) 0 10px, var(--sheet) 10px 20px) 6;
		background: var(--lamp-light);
	}
	.place {
		display: flex;
		align-items: center;
		padding: 0 0.7rem;
		min-height: 44px;
		font-size: 0.9rem;
		color: var(--half);
		text-decoration: none;
		border-bottom: 3px solid transparent;
	}
	.place:hover {
		color: var(--ink);
	}
	.here {
		color: var(--ink);
		font-weight: 700;
		border-bottom-color: var(--lamp-edge);
	}
	.menu-line {
		display: flex;
		justify-content: space-between;
		width: 100%;
		padding: 0.35rem 0.5rem;
		text-align: left;
		cursor: pointer;
	}
	.menu-line:hover {
		background: var(--lamp-soft);
	}
	:global(.sheet-dialog) {
		margin: auto;
		width: min(32rem, calc(100vw - 2rem));
		padding: 1.5rem;
		background: var(--sheet);
		color: var(--ink);
		border: 1px solid var(--rule-strong);
		box-shadow: 0 12px 40px rgb(0 0 0 / 0.25);
	}
	:global(.sheet-dialog::backdrop) {
		background: rgb(16 21 28 / 0.45);
	}
</style>
