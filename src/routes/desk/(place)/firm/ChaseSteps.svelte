<script lang="ts">
	/** The days of a chase plan, a field each. */
	let {
		name,
		words,
		days,
		most
	}: { /** of the fields in the form */ name: string; words: string; days: number[]; /** fields shown at least */ most: number } = $props();
</script>

<fieldset>
	<legend class="field-label">{words}</legend>
	<div class="flex flex-wrap gap-2">
		{#each Array.from({ length: Math.max(most, days.length) }, (_, i) => days[i] ?? '') as value, i (i)}<input
				{name}
				type="number"
				min="1"
				max="60"
				{value}
				class="line-input !w-16"
				aria-label="{words}, {i + 1}"
			/>{/each}
	</div>
</fieldset>
