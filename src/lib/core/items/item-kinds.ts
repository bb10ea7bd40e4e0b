import type { z } from 'zod';
import type { StatementLineAnswers } from '../transactions/statement-line-answers';
import type { Answer } from './answers';
import type { ItemKindDefinition } from './item-kind';
import { access } from './kinds/access';
import { approve, type Verdict } from './kinds/approve';
import { book, type Booking } from './kinds/book';
import { toDo } from './kinds/do';
import { letter } from './kinds/letter';
import { paper } from './kinds/paper';
import { question } from './kinds/question';
import { questionnaire } from './kinds/questionnaire';
import { read } from './kinds/read';
import { transactions } from './kinds/transactions';
import type { Answers } from './questions';

/** Everything that can be asked, in the order in which it is offered. What server and screens do with each is listed by the same names. */
export const ITEM_KINDS = {
	paper,
	question,
	questionnaire,
	letter,
	read,
	approve,
	book,
	do: toDo,
	access,
	transactions
} as const;
export type ItemKind = keyof typeof ITEM_KINDS;
export const ITEM_KIND_NAMES = Object.keys(ITEM_KINDS) as ItemKind[];

export type ItemSpec<Kind extends ItemKind> = z.output<(typeof ITEM_KINDS)[Kind]['spec']>;

/** What an item holds of its answer, where that is more than words. */
export interface AnswerData {
	paper: never;
	question: Answer;
	questionnaire: Answers;
	letter: never;
	read: never;
	approve: Verdict;
	book: Booking;
	do: never;
	access: never;
	transactions: StatementLineAnswers;
}

/** Something that has a kind and, with it, what it asks for: an item or a line of one of the kinds. */
export type OfKind<Kind extends ItemKind, Base> = Base & { kind: Kind; spec: ItemSpec<Kind> };
export type OfAnyKind<Base> = { [Kind in ItemKind]: OfKind<Kind, Base> }[ItemKind];

/** What holds for a kind, for whoever does not know which one it is. */
export function kindOf<Kind extends ItemKind>(kind: Kind): ItemKindDefinition<z.ZodType<ItemSpec<Kind>>> {
	return ITEM_KINDS[kind] as unknown as ItemKindDefinition<z.ZodType<ItemSpec<Kind>>>;
}
