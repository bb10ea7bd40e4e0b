import type { Component } from 'svelte';
import type { ItemKind } from '$lib/core/items/item-kinds';
import type { AnswerProps } from './answer';

interface ClientSide<Kind extends ItemKind> {
	/** where it is answered, and read afterwards; read when there is an item of the kind, for each brings its own along */
	answer: () => Promise<{ default: Component<AnswerProps<Kind>> }>;
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
	paper: { answer: () => import('./paper/Answer.svelte'), goOn: 'item.goOn.paper', sentOtherwise: true, briefAfterwards: true },
	question: { answer: () => import('./question/Answer.svelte'), goOn: 'item.goOn.answer' },
	questionnaire: { answer: () => import('./questionnaire/Answer.svelte'), goOn: 'item.goOn.answer' },
	read: { answer: () => import('./read/Answer.svelte'), goOn: 'item.goOn.answer' },
	approve: { answer: () => import('./approve/Answer.svelte'), goOn: 'item.goOn.answer', showsFiles: true },
	book: { answer: () => import('./book/Answer.svelte'), goOn: 'item.goOn.book' },
	do: { answer: () => import('./do/Answer.svelte'), goOn: 'item.goOn.answer' },
	access: { answer: () => import('./access/Answer.svelte'), goOn: 'item.goOn.answer' },
	transactions: { answer: () => import('./transactions/Answer.svelte'), goOn: 'item.goOn.answer' }
};

/** How items of a kind are answered, ready to be shown; null for letters. */
export type ReadyClientSide = Omit<ClientSide<ItemKind>, 'answer'> & { Answer: Component<AnswerProps<ItemKind>> };

/** Reads how items of a kind are answered. */
export async function readClientSide(kind: ItemKind): Promise<ReadyClientSide | null> {
	if (kind === 'letter') return null;
	const { answer, ...side } = CLIENT_SIDE[kind] as unknown as ClientSide<ItemKind>;
	return { ...side, Answer: (await answer()).default };
}
