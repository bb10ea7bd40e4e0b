import type { Component } from 'svelte';
import type { ItemKind } from '$lib/core/items/item-kinds';
import DoFillIn from './do/FillIn.svelte';
import type { FillInProps } from './fill-in';
import QuestionFillIn from './question/FillIn.svelte';
import QuestionnaireFillIn from './questionnaire/FillIn.svelte';
import ReadFillIn from './read/FillIn.svelte';
import TransactionsFillIn from './transactions/FillIn.svelte';

interface ByPhone<Kind extends ItemKind> {
	Fields: Component<FillInProps<Kind>>;
	/** the action that writes it down */
	act: 'fillIn' | 'fillInLine';
}

/** How the firm writes down what a client says by phone; null where that is no answer to a kind. */
const FILL_INS: { [Kind in ItemKind]: ByPhone<Kind> | null } = {
	paper: null,
	question: { Fields: QuestionFillIn, act: 'fillIn' },
	questionnaire: { Fields: QuestionnaireFillIn, act: 'fillIn' },
	letter: null,
	read: { Fields: ReadFillIn, act: 'fillIn' },
	approve: null,
	book: null,
	do: { Fields: DoFillIn, act: 'fillIn' },
	access: null,
	transactions: { Fields: TransactionsFillIn, act: 'fillInLine' }
};

/** The same for whoever does not know which kind it is. */
export const fillInOf = (kind: ItemKind): ByPhone<ItemKind> | null => FILL_INS[kind] as unknown as ByPhone<ItemKind> | null;
