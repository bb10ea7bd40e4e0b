import type { Component } from 'svelte';
import type { ItemKind } from '$lib/core/items/item-kinds';
import AccessSpec from './access/Spec.svelte';
import BookSpec from './book/Spec.svelte';
import LetterSpec from './letter/Spec.svelte';
import PaperSpec from './paper/Spec.svelte';
import QuestionSpec from './question/Spec.svelte';
import QuestionnaireSpec from './questionnaire/Spec.svelte';
import ReadSpec from './read/Spec.svelte';
import type { SpecProps } from './spec';
import TransactionsSpec from './transactions/Spec.svelte';

type SpecFields<Kind extends ItemKind> = Component<SpecProps<Kind>, Record<string, never>, 'line'>;

/** Where it is written what each kind asks for; null where its words and files say everything. */
const SPECS: { [Kind in ItemKind]: SpecFields<Kind> | null } = {
	paper: PaperSpec,
	question: QuestionSpec,
	questionnaire: QuestionnaireSpec,
	letter: LetterSpec,
	read: ReadSpec,
	approve: null,
	book: BookSpec,
	do: null,
	access: AccessSpec,
	transactions: TransactionsSpec
};

/** The same for whoever does not know which kind it is. */
export const specFieldsOf = (kind: ItemKind): SpecFields<ItemKind> | null => SPECS[kind] as unknown as SpecFields<ItemKind> | null;
