<script lang="ts">
	import type { FactKind, FirmFacts } from '$lib/core/facts/fact-definition';
	import { factKeys } from '$lib/core/facts/fact-words';
	import { factKindOfAnswer } from '$lib/core/items/comparable';
	import type { Question } from '$lib/core/items/questions';
	import {
		comparedKind,
		counts,
		firstCondition,
		needsValue,
		testsOf,
		testWords,
		type AnswerCondition,
		type Condition,
		type FactCondition,
		type FactTest
	} from '$lib/core/requests/conditions';
	import Self from './ConditionEditor.svelte';

	/**
	 * For whom a line is asked: conditions about facts, services and the kind of client; groups nest. For a question of a questionnaire also
	 * about the answers before it.
	 */
	let {
		condition = $bindable(),
		services,
		facts,
		earlier = [],
		depth = 0,
		remove
	}: {
		condition: Condition;
		services: string[];
		facts: FirmFacts;
		/** the questions before the one whose condition it is, each with its number */ earlier?: readonly (Question & { number: number })[];
		depth?: number;
		remove?: () => void;
	} = $props();
	const DEPTH = 3;

	const KINDS = [
		['answer', 'an earlier answer'],
		['fact', 'a fact'],
		['service', 'a service'],
		['client', 'the kind of client'],
		['all', 'all of several'],
		['any', 'one of several']
	] as const;

	const definition = $derived(condition.kind === 'fact' ? facts.get(condition.fact) : undefined);

	function fresh(kind: Condition['kind']): Condition {
		if (kind === 'answer') return ofAnswer(earlier.at(-1)?.key ?? '');
		if (kind === 'service') return { kind, name: services[0] ?? '', is: 'has' };
		if (kind === 'client') return { kind, is: 'business' };
		if (kind === 'all' || kind === 'any') return { kind, of: condition.kind === 'all' || condition.kind === 'any' ? condition.of : [condition] };
		return firstCondition(facts);
	}
	/** A condition on a fact, or on a column of its table, with the first test that makes sense. */
	function about(fact: string, column?: string, wanted?: FactTest): FactCondition {
		const made: FactCondition = { kind: 'fact', fact, ...(column === undefined ? {} : { column }), is: 'known', value: '' };
		const is = comparedKind(facts, made);
		if (!is) return made;
		const tests = testsOf(is, column === undefined ? 'fact' : 'column');
		made.is = wanted && tests.includes(wanted) ? wanted : tests[0];
		made.value = startOf(is, made.is);
		if (made.is === 'between') made.to = '';
		return made;
	}
	/** A condition on an earlier answer, or on a column of its table, with the first test that makes sense. */
	function ofAnswer(question: string, column?: string, wanted?: FactTest): AnswerCondition {
		const made: AnswerCondition = { kind: 'answer', question, ...(column === undefined ? {} : { column }), is: 'known', value: '' };
		const compared = kindOfAnswer(made);
		if (!compared) return made;
		const tests = testsOf(compared, column === undefined ? 'fact' : 'column');
		made.is = wanted && tests.includes(wanted) ? wanted : tests[0];
		made.value = startOf(compared, made.is);
		if (made.is === 'between') made.to = '';
		return made;
	}
	function kindOfAnswer({ question, column }: AnswerCondition): FactKind | null {
		const of = earlier.find(({ key }) => key === question);
		if (!of) return null;
		const whole = factKindOfAnswer(of.answer);
		if (column === undefined) return whole;
		return whole.kind === 'table' ? (whole.columns.find(({ key }) => key === column)?.is ?? null) : null;
	}
	const asked = $derived(
		condition.kind === 'answer' ? earlier.find(({ key }) => condition.kind === 'answer' && key === condition.question) : undefined
	);
	/** The same question or fact, asked in another way. */
	function again(column: string | undefined, wanted?: FactTest) {
		if (condition.kind === 'answer') condition = ofAnswer(condition.question, column, wanted);
		else if (condition.kind === 'fact') condition = about(condition.fact, column, wanted);
	}
	const columns = $derived(asked?.answer.is === 'table' ? asked.answer.columns : definition?.is.kind === 'table' ? definition.is.columns : []);
	function startOf(is: FactKind, test: FactTest): string {
		if (!needsValue(test)) return '';
		if (counts(test)) return test === 'older' || test === 'newer' ? '365' : '1';
		if (test === 'one_of_these') return '[]';
		return is.kind === 'yes_no' ? 'yes' : is.kind === 'choice' || is.kind === 'several' ? is.choices[0].key : '';
	}
	const is = $derived(condition.kind === 'fact' ? comparedKind(facts, condition) : condition.kind === 'answer' ? kindOfAnswer(condition) : null);
	/** Facts to choose from: those that are asked, and the one that is chosen already. */
	const offered = $derived(definition && !facts.asked.includes(definition) ? [...facts.asked, definition] : facts.asked);
	const inputType = (kind: FactKind) => (kind.kind === 'date' ? 'date' : 'text');
	function toggle(key: string, on: boolean) {
		if (condition.kind !== 'fact' && condition.kind !== 'answer') return;
		const keys = factKeys(condition.value).filter((other) => other !== key);
		condition.value = JSON.stringify(on ? [...keys, key] : keys);
	}
</script>

{#snippet value(kind: FactKind, test: FactTest, label: string, current: string, change: (value: string) => void)}
	{#if counts(test)}
		<input
			class="line-input !w-20 text-sm"
			aria-label={test === 'older' || test === 'newer' ? 'Days' : 'Rows'}
			inputmode="numeric"
			value={current}
			oninput={(event) => change(event.currentTarget.value)}
		/>{test === 'older' || test === 'newer' ? 'days' : ''}
	{:else if test === 'one_of_these' && kind.kind === 'choice'}
		{#each kind.choices as choice, i (i)}<label class="flex items-center gap-1 text-sm"
				><input
					type="checkbox"
					checked={factKeys(current).includes(choice.key)}
					onchange={(event) => toggle(choice.key, event.currentTarget.checked)}
				/>
				{choice.words}</label
			>{/each}
	{:else if kind.kind === 'yes_no' || kind.kind === 'choice' || kind.kind === 'several'}
		<select class="line-input !w-auto text-sm" aria-label={label} value={current} onchange={(event) => change(event.currentTarget.value)}>
			{#each kind.kind === 'yes_no' ? [{ key: 'yes', words: 'yes' }, { key: 'no', words: 'no' }] : kind.choices as choice, i (i)}<option
					value={choice.key}>{choice.words}</option
				>{/each}
		</select>
	{:else}
		<input
			class="line-input !w-40 text-sm"
			aria-label={label}
			value={current}
			oninput={(event) => change(event.currentTarget.value)}
			type={inputType(kind)}
			inputmode={kind.kind === 'number' || kind.kind === 'money' ? 'decimal' : undefined}
			placeholder={kind.kind === 'day_of_year' ? 'MM-DD' : ''}
		/>
	{/if}
{/snippet}

<div class="flex flex-wrap items-center gap-1.5">
	<select
		class="line-input !w-auto text-sm"
		aria-label="What decides"
		value={condition.kind}
		onchange={(event) => (condition = fresh(event.currentTarget.value as Condition['kind']))}
	>
		{#each KINDS as [kind, words] (kind)}{#if (depth < DEPTH || (kind !== 'all' && kind !== 'any')) && (kind !== 'answer' || earlier.length > 0)}<option
					value={kind}>{words}</option
				>{/if}{/each}
	</select>
	{#if condition.kind === 'fact' || condition.kind === 'answer'}
		{#if condition.kind === 'fact'}
			<select
				class="line-input !w-auto text-sm"
				aria-label="Fact"
				value={definition?.name ?? ''}
				onchange={(event) => (condition = about(event.currentTarget.value))}
			>
				{#if !definition}<option value="">choose a fact</option>{/if}
				{#each offered as fact (fact.name)}<option value={fact.name}>{fact.label}</option>{/each}
			</select>
		{:else}
			<select
				class="line-input !w-auto max-w-72 text-sm"
				aria-label="Question"
				value={condition.question}
				onchange={(event) => (condition = ofAnswer(event.currentTarget.value))}
			>
				{#if !asked}<option value={condition.question}>choose a question</option>{/if}
				{#each earlier as one (one.key)}<option value={one.key}>{one.number}. {one.title}</option>{/each}
			</select>
		{/if}
		{#if columns.length > 0}
			<select
				class="line-input !w-auto text-sm"
				aria-label="Of the table"
				value={condition.column ?? ''}
				onchange={(event) => again(event.currentTarget.value || undefined)}
			>
				<option value="">as a whole</option>
				{#each columns as column (column.key)}<option value={column.key}>any row where {column.label}</option>{/each}
			</select>
		{/if}
		{#if is}
			<select
				class="line-input !w-auto text-sm"
				aria-label="How it is compared"
				value={condition.is}
				onchange={(event) =>
					(condition.kind === 'fact' || condition.kind === 'answer') && again(condition.column, event.currentTarget.value as FactTest)}
			>
				{#each testsOf(is, condition.column === undefined ? 'fact' : 'column') as test (test)}<option value={test}
						>{condition.kind === 'answer' && test === 'known'
							? 'is answered'
							: condition.kind === 'answer' && test === 'unknown'
								? 'is not answered'
								: testWords(test)}</option
					>{/each}
			</select>
			{#if needsValue(condition.is)}
				{@render value(
					is,
					condition.is,
					'Value',
					condition.value,
					(text) => (condition.kind === 'fact' || condition.kind === 'answer') && (condition.value = text)
				)}
				{#if condition.is === 'between'}
					and {@render value(
						is,
						condition.is,
						'And',
						condition.to ?? '',
						(text) => (condition.kind === 'fact' || condition.kind === 'answer') && (condition.to = text)
					)}
				{/if}
			{/if}
		{/if}
	{:else if condition.kind === 'service'}
		<select class="line-input !w-auto text-sm" aria-label="Whether we do it" bind:value={condition.is}
			><option value="has">we do</option><option value="has_not">we do not do</option></select
		>
		<select class="line-input !w-auto text-sm" aria-label="Service" bind:value={condition.name}>
			{#each [...new Set([...services, condition.name])] as name (name)}<option value={name}>{name}</option>{/each}
		</select>
	{:else if condition.kind === 'client'}
		<select class="line-input !w-auto text-sm" aria-label="Kind of client" bind:value={condition.is}
			><option value="business">is a business</option><option value="person">is a person</option></select
		>
	{/if}
	{#if remove}<button type="button" class="act-link text-sm" onclick={remove}>Remove</button>{/if}
</div>
{#if condition.kind === 'all' || condition.kind === 'any'}
	<ul class="mt-1.5 space-y-1.5 border-l-2 border-(--rule-strong) pl-3">
		{#each condition.of as _, i (i)}
			<li>
				<Self
					bind:condition={condition.of[i]}
					{services}
					{facts}
					{earlier}
					depth={depth + 1}
					remove={condition.of.length > 1
						? () => {
								if (condition.kind === 'all' || condition.kind === 'any') condition.of.splice(i, 1);
							}
						: undefined}
				/>
			</li>
		{/each}
		<li>
			<button
				type="button"
				class="act-link text-sm"
				onclick={() => {
					if (condition.kind === 'all' || condition.kind === 'any') condition.of.push(firstCondition(facts));
				}}>{condition.kind === 'all' ? 'and another one' : 'or another one'}</button
			>
		</li>
	</ul>
{/if}
