import type { ItemKind } from '$lib/core/items/item-kinds';
import type { ServerItemKind } from './item-kind';
import { access } from './kinds/access';
import { approve } from './kinds/approve';
import { book } from './kinds/book';
import { read, toDo } from './kinds/confirmed';
import { letter } from './kinds/letter';
import { paper } from './kinds/paper';
import { question } from './kinds/question';
import { questionnaire } from './kinds/questionnaire';
import { transactions } from './kinds/transactions';

/** What the server does with each kind. */
const SERVER_ITEM_KINDS: { [Kind in ItemKind]: ServerItemKind<Kind, never> | ServerItemKind<Kind, unknown> } = {
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
};

/** The same for whoever does not know which kind it is. */
export function serverKindOf<Kind extends ItemKind>(kind: Kind): ServerItemKind<Kind, unknown> {
	return SERVER_ITEM_KINDS[kind] as ServerItemKind<Kind, unknown>;
}
