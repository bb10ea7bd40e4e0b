<script lang="ts">
	import type { SpecProps } from '../spec';

	let { line = $bindable(), place }: SpecProps<'book'> = $props();
	const book = $derived(line.spec);
	const { timeZone } = $derived(place);
	let newTime = $state('');

	/** What clocks in the firm's time zone show, as an instant. */
	function instantOf(local: string): string {
		const guess = new Date(`${local}:00Z`);
		const shown = new Intl.DateTimeFormat('sv-SE', { timeZone, dateStyle: 'short', timeStyle: 'short' }).format(guess).replace(' ', 'T');
		return new Date(guess.getTime() - (Date.parse(`${shown}:00Z`) - guess.getTime())).toISOString();
	}
	const timeInWords = (at: string) =>
		new Intl.DateTimeFormat('en-GB', { timeZone, weekday: 'short', day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' }).format(
			new Date(at)
		);
	function addTime() {
		if (!newTime) return;
		const at = instantOf(newTime);
		if (!book.times.includes(at)) book.times = [...book.times, at].sort();
		newTime = '';
	}
</script>

<div class="grid gap-3 sm:grid-cols-2">
	<label class="field"
		><span>Address of a page for booking, if you have one</span><input
			type="url"
			bind:value={book.link}
			maxlength="500"
			placeholder="https://…"
		/></label
	>
	<label class="field"><span>Where, or how</span><input bind:value={book.where} maxlength="200" placeholder="at our office; we ring you …" /></label>
</div>
<fieldset class="mt-3">
	<legend class="field-label">Times they can choose from ({timeZone.replaceAll('_', ' ')})</legend>
	<ul class="flex flex-wrap gap-2 text-sm">
		{#each book.times as time (time)}<li class="flex items-center gap-1.5 border border-(--rule-strong) bg-(--sheet) px-2 py-0.5">
				{timeInWords(time)}<button
					type="button"
					class="act-link"
					aria-label="Remove {timeInWords(time)}"
					onclick={() => (book.times = book.times.filter((other) => other !== time))}>×</button
				>
			</li>{/each}
	</ul>
	<div class="mt-1.5 flex flex-wrap gap-2">
		<input type="datetime-local" class="line-input !w-auto" bind:value={newTime} aria-label="A time" />
		<button type="button" class="act-quiet" onclick={addTime}>Offer this time</button>
		<label class="flex items-center gap-2 text-sm"
			><input type="number" class="line-input !w-20" min="5" max="480" bind:value={book.minutes} /> minutes each</label
		>
	</div>
</fieldset>
