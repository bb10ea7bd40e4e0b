<script lang="ts">
	import type { ComponentProps, Snippet } from 'svelte';
	import LineList from './LineList.svelte';

	/** Where the lines of a list are written: the lines on the sheet, and beside it to whom they go, when, or where they are kept. */
	let {
		back,
		heading,
		under,
		above,
		instead,
		besideLabel,
		besideWidth,
		beside,
		...lines
	}: {
		back: { href: string; words: string };
		heading: string;
		/** below the heading */ under: Snippet;
		/** between the heading and the lines */ above?: Snippet;
		/** stands where the lines would */ instead?: Snippet | null;
		besideLabel: string;
		/** of the part beside the lines, in pixels */ besideWidth: number;
		beside: Snippet;
	} & ComponentProps<typeof LineList> = $props();
	const readOnly = $derived(lines.mayChange === false);
</script>

<div class="grid lg:h-[calc(100dvh-47px)] lg:grid-cols-[minmax(0,1fr)_var(--beside)]" style="--beside: {besideWidth}px">
	<main id="sheet" class="line-sheet overflow-auto pb-10" tabindex="-1">
		<div class="line-masthead">
			<p class="text-sm"><a class="act-link" href={back.href}>{back.words}</a></p>
			<h1 class="mt-1 text-[1.65rem] leading-tight">{heading}</h1>
			<p class="mt-1 text-[0.9rem] text-(--half)">{@render under()}</p>
		</div>
		{@render above?.()}
		{#if instead}{@render instead()}{:else}<LineList {...lines} />{/if}
	</main>
	<!-- what is only read is scrolled from the keyboard too -->
	<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
	<aside class="overflow-auto border-l border-(--rule-strong) bg-(--leaf) p-5" aria-label={besideLabel} tabindex={readOnly ? 0 : undefined}>
		{@render beside()}
	</aside>
</div>
