import type { Component } from 'svelte';
import type { ItemKind } from '$lib/core/items/item-kinds';
import AccessReview from './access/Review.svelte';
import ApproveReview from './approve/Review.svelte';
import LetterReview from './letter/Review.svelte';
import QuestionnaireReview from './questionnaire/Review.svelte';
import type { ReviewProps } from './review';
import TransactionsReview from './transactions/Review.svelte';
import WordsReview from './WordsReview.svelte';

/** How the firm reads the answer to each kind. */
const REVIEWS: { [Kind in ItemKind]: Component<ReviewProps<Kind>> } = {
	paper: WordsReview as Component<ReviewProps<'paper'>>,
	question: WordsReview as Component<ReviewProps<'question'>>,
	questionnaire: QuestionnaireReview,
	letter: LetterReview,
	read: WordsReview as Component<ReviewProps<'read'>>,
	approve: ApproveReview,
	book: WordsReview as Component<ReviewProps<'book'>>,
	do: WordsReview as Component<ReviewProps<'do'>>,
	access: AccessReview,
	transactions: TransactionsReview
};

/** The same for whoever does not know which kind it is. */
export const reviewOf = (kind: ItemKind): Component<ReviewProps<ItemKind>> => REVIEWS[kind] as unknown as Component<ReviewProps<ItemKind>>;
