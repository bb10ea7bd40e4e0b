import type { ItemKind } from './item-kinds';

/** Minutes a client needs for one thing of a kind, roughly; what their page adds up. */
export const MINUTES_OF: Record<ItemKind, number> = {
	paper: 3,
	question: 2,
	questionnaire: 6,
	letter: 5,
	read: 3,
	approve: 5,
	book: 1,
	do: 5,
	access: 5,
	transactions: 8
};
