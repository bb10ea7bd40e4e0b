<script lang="ts">
	import { tick, untrack } from 'svelte';
	import type { FactKind } from '$lib/core/facts/fact-definition';
	import { factRows } from '$lib/core/facts/fact-words';
	import FactInput from './FactInput.svelte';

	/** A table row by row, on a narrow screen each as a card; sent as one field. */
	let {
		is,
		name,
		value,
		label,
		locale = 'en',
		words,
		wrong = false,
		focus = false
	}: {
		is: Extract<FactKind, { kind: 'table' }>;
		/** in which the whole table is sent, as JSON */ name: string;
		value: string;
		label: string;
		locale?: string;
		words: { yes: string; no: string; day: string; month: string; row: string; addRow: string; removeRow: string };
		wrong?: boolean;
		/** takes the focus when it appears */ focus?: boolean;
	} = $props();
	let field = $state<HTMLInputElement>();
	const rowsOf = (text: string) => {
		const rows = factRows(text).map((row) => ({ ...row }) as Record<string, string>);
		return rows.length > 0 ? rows : [{}];
	};
	// what stands in the table is the person's from here on, whatever is read anew around it
	let rows = $state<Record<string, string>[]>(untrack(() => rowsOf(value)));
	let grown = $state(false);
	const filled = $derived(rows.filter((row) => Object.values(row).some((cell) => cell.trim() !== '')));
	const text = $derived(filled.length > 0 ? JSON.stringify(filled) : '');
	/** What keeps a form's words listens to its fields: the hidden one tells of a change as if it were typed into. */
	async function changed() {
		await tick();
		field?.dispatchEvent(new Event('input', { bubbles: true }));
	}
	/** Another device wrote into it meanwhile. */
	function written(event: Event & { currentTarget: HTMLInputElement }) {
		if (event.currentTarget.value !== text) rows = rowsOf(event.currentTarget.value);
	}
</script>

<fieldset class="w-full">
	<legend class="field-label">{label}</legend>
	<input type="text" hidden tabindex="-1" {name} value={text} bind:this={field} oninput={written} />
	<ol class="space-y-2">
		{#each rows as row, i (row)}
			<li class="flex flex-wrap items-end gap-2 border-l-2 border-(--rule-strong) pl-3">
				{#each is.columns as column, n (column.key)}
					<label class="field min-w-36 flex-1"
						><span>{column.label}</span><FactInput
							is={column.is}
							bind:value={
								() => row[column.key] ?? '',
								(cell) => {
									row[column.key] = cell;
									void changed();
								}
							}
							yesNo={words}
							{locale}
							{words}
							wrong={wrong && !row[column.key]}
							focus={n === 0 && i === rows.length - 1 && (focus || grown)}
						/></label
					>
				{/each}
				<button
					type="button"
					class="act-link min-h-9 text-sm"
					aria-label="{words.removeRow}: {words.row} {i + 1}"
					onclick={() => {
						rows.splice(i, 1);
						void changed();
					}}>{words.removeRow}</button
				>
			</li>
		{/each}
	</ol>
	<button
		type="button"
		class="act-link mt-2 text-sm"
		onclick={() => {
			grown = true;
			rows.push({});
		}}>{words.addRow}</button
	>
</fieldset>
