<script lang="ts">
	import { checkFor, endsOf, MADE_OF, type Check } from '$lib/core/items/checks';
	import type { AnswerKind } from '$lib/core/items/questions';

	/** What an answer must keep to, beyond its kind. */
	let { check = $bindable(), is }: { check: Check | undefined; is: AnswerKind } = $props();
	const ends = $derived(endsOf(is));
	const change = (more: Partial<Check>) => (check = checkFor(is, { ...check, ...more }));
	const bound = (text: string): number | undefined => (text.trim() === '' || !Number.isFinite(Number(text)) ? undefined : Number(text));
	const UNIT = { characters: 'characters', amount: '', choices: 'choices', rows: 'rows' };
</script>

{#if ends}
	<span class="inline-flex flex-wrap items-center gap-1.5 text-sm">
		<span class="text-(--half)">{ends === 'amount' ? 'Not less than' : 'At least'}</span>
		<input
			class="line-input !w-20 text-sm"
			type="number"
			step="any"
			aria-label="At least"
			value={check?.least ?? ''}
			oninput={(event) => change({ least: bound(event.currentTarget.value) })}
		/>
		<span class="text-(--half)">{ends === 'amount' ? 'not more than' : 'at most'}</span>
		<input
			class="line-input !w-20 text-sm"
			type="number"
			step="any"
			aria-label="At most"
			value={check?.most ?? ''}
			oninput={(event) => change({ most: bound(event.currentTarget.value) })}
		/>
		<span class="text-(--half)">{UNIT[ends]}</span>
	</span>
{/if}
{#if is === 'date'}
	<label class="inline-flex items-center gap-2 text-sm"
		><span class="text-(--half)">The day is</span>
		<select
			class="line-input !w-auto text-sm"
			value={check?.day ?? ''}
			onchange={(event) => change({ day: (event.currentTarget.value || undefined) as Check['day'] })}
			><option value="">any</option><option value="not_future">not in the future</option><option value="not_past">not in the past</option></select
		></label
	>
{:else if is === 'line'}
	<label class="inline-flex items-center gap-2 text-sm"
		><span class="text-(--half)">Made of</span>
		<select
			class="line-input !w-auto text-sm"
			value={check?.madeOf ?? ''}
			onchange={(event) => change({ madeOf: (event.currentTarget.value || undefined) as Check['madeOf'] })}
			><option value="">anything</option>{#each Object.entries(MADE_OF) as [key, { words }] (key)}<option value={key}>{words}</option>{/each}</select
		></label
	>
{/if}
