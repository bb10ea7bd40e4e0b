import type { Component } from 'svelte';
import type { ItemKind } from '$lib/core/items/item-kinds';
import AccessAnswer from './access/Answer.svelte';
import type { AnswerProps } from './answer';
import ApproveAnswer from './approve/Answer.svelte';
import BookAnswer from './book/Answer.svelte';
import DoAnswer from './do/Answer.svelte';
import PaperAnswer from './paper/Answer.svelte';
import QuestionAnswer from './question/Answer.svelte';
import QuestionnaireAnswer from './questionnaire/Answer.svelte';
import ReadAnswer from './read/Answer.svelte';
import TransactionsAnswer from './transactions/Answer.svelte';

interface ClientSide<Kind extends ItemKind> {
	/** where it is answered, and read afterwards */
	Answer: Component<AnswerProps<Kind>>;
	/** what going on with it is called, where that can be done */
	goOn: 'item.goOn.paper' | 'item.goOn.answer' | 'item.goOn.book';
	/** a client may say that they have sent it by another way */
	sentOtherwise?: true;
	/** shows the firm's files itself */
	showsFiles?: true;
	/** the firm's words are not read again once it is answered */
	briefAfterwards?: true;
}

/** How each kind is answered on the client's page. A letter is read and signed on a page of its own. */
const CLIENT_SIDE: { [Kind in Exclude<ItemKind, 'letter'>]: ClientSide<Kind> } = {
	paper: { Answer: PaperAnswer, goOn: 'item.goOn.paper', sentOtherwise: true, briefAfterwards: true },
	question: { Answer: QuestionAnswer, goOn: 'item.goOn.answer' },
	questionnaire: { Answer: QuestionnaireAnswer, goOn: 'item.goOn.answer' },
	read: { Answer: ReadAnswer, goOn: 'item.goOn.answer' },
	approve: { Answer: ApproveAnswer, goOn: 'item.goOn.answer', showsFiles: true },
	book: { Answer: BookAnswer, goOn: 'item.goOn.book' },
	do: { Answer: DoAnswer, goOn: 'item.goOn.answer' },
	access: { Answer: AccessAnswer, goOn: 'item.goOn.answer' },
	transactions: { Answer: TransactionsAnswer, goOn: 'item.goOn.answer' }
};

/** The same for whoever does not know which kind it is. */
export const clientSideOf = (kind: ItemKind): ClientSide<ItemKind> | null =>
	kind === 'letter' ? null : (CLIENT_SIDE[kind] as unknown as ClientSide<ItemKind>);
