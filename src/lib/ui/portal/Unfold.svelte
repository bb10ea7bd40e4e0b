<script lang="ts">
	import { browser } from '$app/environment';
	import type { Snippet } from 'svelte';

	/** Words that open what belongs to them below, also where no scripts run. */
	let {
		words,
		group,
		open = $bindable(false),
		quiet = false,
		children
	}: {
		words: string;
		/** only one of a group is open */ group?: string;
		open?: boolean;
		/** looks like a button rather than a link */ quiet?: boolean;
		children: Snippet<[() => void]>;
	} = $props();
	const id = $props.id();
	// what somebody opened before the page came alive stays open, and what they type in it goes on
	if (browser) open = (document.getElementById(id) as HTMLDetailsElement | null)?.open ?? open;
	let summary: HTMLElement;
	function close() {
		open = false;
		summary.focus();
	}
</script>

<details {id} name={group} bind:open>
	<summary bind:this={summary} class={quiet ? 'act-quiet w-full' : 'act-link'}>{words}</summary>
	<div class="unfolded">{@render children(close)}</div>
</details>

<style>
	summary {
		list-style: none;
		cursor: pointer;
	}
	summary::-webkit-details-marker {
		display: none;
	}
	details[open] > summary.act-link {
		font-weight: 700;
	}
</style>
