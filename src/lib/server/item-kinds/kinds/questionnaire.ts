import { DomainError } from '$lib/core/errors/domain-error';
import { answersOf } from '$lib/core/items/questions';
import { saying } from '$lib/words/sayings';
import type { WordKey } from '$lib/words/words';
import type { Actor } from '../../actor';
import { loadFirm } from '../../firms/firm';
import type { Tx } from '../../platform/db/database';
import { moveItem, type LockedOf } from '../../items/change-item';
import type { GivenAnswer, ServerItemKind, TypedForm } from '../item-kind';
import { lockOwnItem, requireKind } from '../../items/own-item';
import { keepFacts } from './facts-of-answers';

/** Reads all answers, and keeps those as facts that are facts. @throws DomainError invalid with a saying for each question that lacks its answer */
async function take(tx: Tx, actor: Actor, item: LockedOf<'questionnaire'>, typed: TypedForm): Promise<GivenAnswer> {
	const { questions } = item.spec;
	const { answers, problems } = answersOf(questions, typed, true);
	if (Object.keys(problems).length > 0)
		throw new DomainError(
			'invalid',
			saying('wrong.answers.open', { count: Object.keys(problems).length }),
			Object.fromEntries(Object.entries(problems).map(([key, what]) => [key, saying(what as WordKey, { max: 10_000 })]))
		);
	await keepFacts(
		tx,
		actor,
		item,
		questions.flatMap(({ key, fact }) => (key in answers ? [{ fact, answer: answers[key] }] : []))
	);
	return { data: answers };
}

/**
 * Hands in the answers of a questionnaire, all at once.
 * @throws DomainError invalid with a saying for each question that lacks its answer
 */
export async function answerQuestionnaire(tx: Tx, actor: Actor, input: { itemId: string; typed: TypedForm }): Promise<void> {
	const item = requireKind(await lockOwnItem(tx, actor, input.itemId), 'questionnaire');
	await moveItem(tx, actor, await loadFirm(tx), item, 'hand_in', await take(tx, actor, item, input.typed));
}

export const questionnaire: ServerItemKind<'questionnaire'> = {
	handIn: (tx, actor, itemId, typed) => answerQuestionnaire(tx, actor, { itemId, typed }),
	fillIn: take
};
