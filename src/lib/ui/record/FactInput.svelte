<script lang="ts">
	import { tick } from 'svelte';
	import type { FactColumnKind } from '$lib/core/facts/fact-definition';
	import { dateWords } from '$lib/words/dates';

	/** The input of one value: in a form by its name, in a table by what is bound. */
	let {
		is,
		value = $bindable(),
		name,
		label,
		id,
		yesNo,
		choice = () => null,
		locale = 'en',
		words,
		wrong = false,
		focus = false
	}: {
		is: FactColumnKind;
		value: string;
		/** in which it is sent; none where something else sends it */ name?: string;
		/** where no label stands beside it */ label?: string;
		id?: string;
		yesNo: { yes: string; no: string };
		/** a choice in the reader's words, where they differ from the firm's */ choice?: (key: string) => string | null;
		locale?: string;
		words: { day: string; month: string };
		wrong?: boolean;
		/** takes the focus when it appears */ focus?: boolean;
	} = $props();
	const two = (n: number) => String(n).padStart(2, '0');
	const [month, day] = $derived(is.kind === 'day_of_year' && /^\d\d-\d\d$/.test(value) ? value.split('-') : ['', '']);
	const choices = $derived(
		is.kind === 'yes_no'
			? [
					{ key: 'yes', words: yesNo.yes },
					{ key: 'no', words: yesNo.no }
				]
			: is.kind === 'choice'
				? is.choices.map(({ key, words }) => ({ key, words: choice(key) ?? words }))
				: []
	);
	const TYPES: Partial<Record<FactColumnKind['kind'], string>> = { date: 'date', email: 'email', phone: 'tel' };
	const MODES: Partial<Record<FactColumnKind['kind'], 'decimal' | 'numeric' | 'url'>> = { number: 'decimal', money: 'decimal', web: 'url' };
	const takeFocus = (node: HTMLElement) => {
		if (focus) node.focus();
	};
	let field = $state<HTMLInputElement>();
	/** What keeps a form's words listens to its fields: the hidden one tells of a choice as if it were typed into. */
	async function choose(month: string, day: string) {
		value = `${month}-${day}`;
		await tick();
		field?.dispatchEvent(new Event('input', { bubbles: true }));
	}
	const invalid = $derived(wrong ? ('true' as const) : undefined);
</script>

{#if is.kind === 'yes_no' || is.kind === 'choice'}
	<select {id} {name} aria-label={label} aria-invalid={invalid} bind:value {@attach takeFocus}>
		{#if !choices.some(({ key }) => key === value)}<option value=""></option>{/if}
		{#each choices as one (one.key)}<option value={one.key}>{one.words}</option>{/each}
	</select>
{:else if is.kind === 'lines' || is.kind === 'address'}
	<textarea
		{id}
		{name}
		aria-label={label}
		aria-invalid={invalid}
		rows={is.kind === 'address' ? 4 : 3}
		maxlength={is.kind === 'lines' ? is.max : 300}
		bind:value
		{@attach takeFocus}></textarea>
{:else if is.kind === 'day_of_year'}
	<span class="flex gap-2">
		<input type="text" hidden tabindex="-1" {name} {value} bind:this={field} oninput={(event) => (value = event.currentTarget.value)} />
		<select
			{id}
			aria-label={words.day}
			aria-invalid={invalid}
			value={day}
			onchange={(event) => choose(month || '01', event.currentTarget.value)}
			{@attach takeFocus}
		>
			{#if !day}<option value=""></option>{/if}
			{#each Array.from({ length: 31 }, (_, i) => two(i + 1)) as d (d)}<option value={d}>{Number(d)}</option>{/each}
		</select>
		<select aria-label={words.month} aria-invalid={invalid} value={month} onchange={(event) => choose(event.currentTarget.value, day || '01')}>
			{#if !month}<option value=""></option>{/if}
			{#each Array.from({ length: 12 }, (_, i) => two(i + 1)) as m (m)}<option value={m}>{dateWords(locale, `2024-${m}-01`, 'month')}</option>{/each}
		</select>
	</span>
{:else}
	<input
		{id}
		{name}
		aria-label={label}
		aria-invalid={invalid}
		type={TYPES[is.kind] ?? 'text'}
		inputmode={MODES[is.kind]}
		maxlength={is.kind === 'words' ? is.max : 300}
		autocomplete="off"
		bind:value
		{@attach takeFocus}
	/>
{/if}
