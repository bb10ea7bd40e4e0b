<script lang="ts">
	import { enhancedForm } from '$lib/ui/forms/enhanced-form';

	let { data } = $props();
	const news = $derived(data.rows.filter((r) => r.isNew).length);
</script>

<div class="hidden p-6 text-sm text-(--half) lg:block">
	{#if data.roundsCount > 0}
		<h2 class="text-lg text-(--ink)">One after the other</h2>
		<p class="mt-2">
			Open the first row with <span class="key">↓</span> and <span class="key">Enter</span>. What you deal with leaves the list, and the next one
			opens.
		</p>
	{/if}
	{#if news > 0}
		<p class="mt-4">{news === 1 ? 'One thing is' : `${news} things are`} marked as new since {data.lastLooked}.</p>
		<form method="post" action="/desk/rounds?/noteLooked" class="mt-2" {@attach enhancedForm()}>
			<button class="act-quiet">Clear the marks</button>
		</form>
	{/if}
</div>
