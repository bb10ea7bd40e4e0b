import type { Component } from 'svelte';
import type { ItemKind } from '$lib/core/items/item-kinds';
import type { ItemOf } from '$lib/server/items/read-items';
import AccessReview from './access/Review.svelte';
import AccessSpec from './access/Spec.svelte';
import ApproveNewVersion from './approve/NewVersion.svelte';
import ApproveReview from './approve/Review.svelte';
import BookSpec from './book/Spec.svelte';
import DoFillIn from './do/FillIn.svelte';
import type { FillInProps } from './fill-in';
import LetterReview from './letter/Review.svelte';
import LetterSpec from './letter/Spec.svelte';
import type { NewVersionProps } from './new-version';
import PaperSpec from './paper/Spec.svelte';
import QuestionFillIn from './question/FillIn.svelte';
import QuestionSpec from './question/Spec.svelte';
import QuestionnaireFillIn from './questionnaire/FillIn.svelte';
import QuestionnaireReview from './questionnaire/Review.svelte';
import QuestionnaireSpec from './questionnaire/Spec.svelte';
import ReadFillIn from './read/FillIn.svelte';
import ReadSpec from './read/Spec.svelte';
import type { ReviewProps } from './review';
import type { SpecProps } from './spec';
import TransactionsFillIn from './transactions/FillIn.svelte';
import TransactionsReview from './transactions/Review.svelte';
import TransactionsSpec from './transactions/Spec.svelte';
import WordsReview from './WordsReview.svelte';

interface DeskSide<Kind extends ItemKind> {
	/** where it is written what a line asks for; left out where its words and files say everything */
	Spec?: Component<SpecProps<Kind>, Record<string, never>, 'line'>;
	/** where the answer is read; left out where it is words */
	Review?: Component<ReviewProps<Kind>>;
	/** where it is written down what a client says by phone, and the action that does; left out where that is no answer */
	byPhone?: { Fields: Component<FillInProps<Kind>>; act: 'fillIn' | 'fillInLine'; /** not of this one */ not?: (item: ItemOf<Kind>) => boolean };
	/** shows the firm's files itself, with what was pinned to them */
	showsFiles?: true;
	/** where a changed version of what was shown is put up, and whether the client wants one */
	newVersion?: { Form: Component<NewVersionProps<Kind>>; wanted: (item: ItemOf<Kind>) => boolean };
}

/** How each kind is written, read and filled in at the desk. */
const DESK_SIDE: { [Kind in ItemKind]: DeskSide<Kind> } = {
	paper: { Spec: PaperSpec },
	question: { Spec: QuestionSpec, byPhone: { Fields: QuestionFillIn, act: 'fillIn' } },
	questionnaire: {
		Spec: QuestionnaireSpec,
		Review: QuestionnaireReview,
		byPhone: { Fields: QuestionnaireFillIn, act: 'fillIn', not: (item) => item.spec.signed }
	},
	letter: { Spec: LetterSpec, Review: LetterReview },
	read: { Spec: ReadSpec, byPhone: { Fields: ReadFillIn, act: 'fillIn' } },
	approve: {
		Review: ApproveReview,
		showsFiles: true,
		newVersion: { Form: ApproveNewVersion, wanted: (item) => item.state === 'handed_in' && item.answerData?.agrees === false }
	},
	book: { Spec: BookSpec },
	do: { byPhone: { Fields: DoFillIn, act: 'fillIn' } },
	access: { Spec: AccessSpec, Review: AccessReview },
	transactions: { Spec: TransactionsSpec, Review: TransactionsReview, byPhone: { Fields: TransactionsFillIn, act: 'fillInLine' } }
};

/** The same for whoever does not know which kind it is. */
export function deskSideOf(kind: ItemKind): DeskSide<ItemKind> & { Review: Component<ReviewProps<ItemKind>> } {
	const side = DESK_SIDE[kind] as unknown as DeskSide<ItemKind>;
	return { ...side, Review: side.Review ?? WordsReview };
}
