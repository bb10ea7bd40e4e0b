<script lang="ts">
	import { tick } from 'svelte';
	import { enhancedForm } from '../forms/enhanced-form';
	import { lastSent } from './just-sent.svelte';

	/** Beside every page of the desk for some seconds: what was just sent to a client, and the way to take it back. */
	let problem = $state('');
	let pending = $state(false);
	/** where the words are that were taken back */
	let back = $state('');
	let link = $state<HTMLAnchorElement>();
	const sent = $derived(lastSent.one);
	let form = $state<HTMLFormElement>();
	/** seconds are few for whoever goes by keyboard */
	function onkeydown(event: KeyboardEvent) {
		if (!form || !event.altKey || event.ctrlKey || event.metaKey || event.code !== 'KeyZ') return;
		event.preventDefault();
		form.requestSubmit();
	}
	$effect(() => {
		if (sent) problem = back = '';
	});
</script>

<svelte:window {onkeydown} />

<div class="just-sent no-print" aria-live="polite">
	{#if sent}
		<form
			method="post"
			action={sent.action}
			class="note"
			bind:this={form}
			{@attach enhancedForm({
				onPending: (p) => (pending = p),
				onProblem(p) {
					problem = p.message;
					lastSent.one = null;
				},
				async onSuccess() {
					back = lastSent.one?.href ?? '';
					lastSent.takenBack();
					await tick();
					link?.focus();
				}
			})}
		>
			<input type="hidden" name="remarkId" value={sent.remarkId} />
			<span>Sent to {sent.to}.</span>
			<button class="act-quiet" disabled={pending} aria-keyshortcuts="Alt+Z">Take it back <span class="key">Alt z</span></button>
			<span class="text-xs text-(--half)">for a few seconds</span>
		</form>
	{:else if problem || back}
		<p class="note">
			{#if problem}{problem}{:else}Taken back, and no mail goes. <a class="act-link" href={back} bind:this={link}
					>Your words are where you wrote them.</a
				>{/if}
			<button class="act-link text-sm" onclick={() => (problem = back = '')}>Close</button>
		</p>
	{/if}
</div>

<style>
	.just-sent {
		position: fixed;
		z-index: 40;
		left: 1rem;
		bottom: 1rem;
	}
	.note {
		display: flex;
		align-items: center;
		flex-wrap: wrap;
		gap: 0.75rem;
		max-width: min(34rem, calc(100vw - 2rem));
		padding: 0.6rem 0.9rem;
		border: 1px solid var(--rule-strong);
		border-radius: 0.4rem;
		background: var(--sheet);
		box-shadow: 0 6px 24px rgb(0 0 0 / 0.16);
	}
</style>
