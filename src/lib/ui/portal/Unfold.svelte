<script lang="ts">
	import type { Snippet } from 'svelte';
	import { firstOf } from '../keep-focus';

	/** Words that open what belongs to them below, also where no scripts run. What is opened has the focus, Esc closes it. */
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
	let details: HTMLDetailsElement;
	let summary: HTMLElement;
	function close() {
		open = false;
		summary.focus();
	}
	/** Opened by a person, not with the page. */
	function onclick() {
		if (!details.open) setTimeout(() => details.open && firstOf(details.querySelector('.unfolded')!)?.focus());
	}
</script>

<!-- Esc closes what a press on the summary opened -->
<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
<details
	name={group}
	bind:this={details}
	bind:open
	onkeydown={(event) => {
		if (event.key !== 'Escape' || !open || event.defaultPrevented) return;
		event.preventDefault();
		close();
	}}
>
	<summary bind:this={summary} class={quiet ? 'act-quiet w-full' : 'act-link'} {onclick}>{words}</summary>
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
