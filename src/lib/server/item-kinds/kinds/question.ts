import { z } from 'zod';
import { answerInWords } from '$lib/core/items/answers';
import { answerOf } from '$lib/core/items/questions';
import { deskAnswerReader } from '$lib/words/desk-answers';
import type { Actor } from '../../actor';
import { loadFirm } from '../../firms/firm';
import type { Tx } from '../../platform/db/database';
import { moveItem, type LockedOf } from '../../items/change-item';
import type { GivenAnswer, ServerItemKind } from '../item-kind';
import { lockOwnItem, requireKind } from '../../items/own-item';
import { keepFacts } from './facts-of-answers';

/** Reads an answer in the way it is to be answered, and keeps it as a fact where it is one. */
async function take(tx: Tx, actor: Actor, item: LockedOf<'question'>, answer: unknown): Promise<GivenAnswer> {
	const { answer: how, fact } = item.spec;
	const given = z.object({ answer: answerOf(how, await loadFirm(tx)) }).parse({ answer }).answer;
	await keepFacts(tx, actor, item, [{ fact, answer: given }]);
	return {
		answer: answerInWords(how, given, deskAnswerReader()),
		data: given
	};
}

/**
 * Hands in the answer to a question, in the way it is answered.
 * @param input.answer as typed in the form; several values for several of several
 * @throws through Zod, with keys of the catalogue, what is wrong with it
 */
export async function answerItem(tx: Tx, actor: Actor, input: { itemId: string; answer: unknown }): Promise<void> {
	const item = requireKind(await lockOwnItem(tx, actor, input.itemId), 'question');
	await moveItem(tx, actor, await loadFirm(tx), item, 'hand_in', await take(tx, actor, item, input.answer));
}

export const question: ServerItemKind<'question'> = {
	handIn: (tx, actor, itemId, { answer }) => answerItem(tx, actor, { itemId, answer: answer ?? '' }),
	fillIn: (tx, actor, item, { answer }) => take(tx, actor, item, answer)
};
