import { z } from 'zod';
import { answerInWords, type Answer } from '$lib/core/requests/answers';
import { answerOf, answersOf, factOf, ITEM_SPECS } from '$lib/core/requests/item-kinds';
import type { FactName } from '$lib/core/clients/facts';
import { DomainError } from '$lib/core/errors/domain-error';
import { answerReader } from '$lib/words/answers';
import { saying } from '$lib/words/sayings';
import type { WordKey } from '$lib/words/words';
import { requireStaff, type Actor } from '../actor';
import { sayFact } from '../clients/client-record';
import { loadFirm } from '../firms/firm';
import type { Tx } from '../platform/db/database';
import { lockItem, moveItem, requireUnchanged } from './change-item';
import type { TypedAnswers } from './client-item';

/**
 * Writes down what a client says by phone: a question, several of them, or that something is read or done. It is recorded as
 * filled in by whoever was on the phone; the client's page shows it like their own.
 * @throws DomainError invalid with what is missing; changed_meanwhile if somebody was faster
 */
export async function fillInByPhone(tx: Tx, actor: Actor, input: { itemId: string; version: number; typed: TypedAnswers }): Promise<void> {
	requireStaff(actor, 'judge_item');
	const item = await lockItem(tx, input.itemId);
	await requireUnchanged(tx, item, input.version);
	const firm = await loadFirm(tx);
	const contact = await tx.first<{ name: string }>('select name from contact where id = $1', [item.contact_id]);
	const details = { contact: contact?.name ?? '' };
	const note = async (name: FactName | null, answer: Answer) => {
		const value = name && factOf(name, answer);
		if (name && value !== null) await sayFact(tx, actor, { clientId: item.client_id, name, value });
	};
	switch (item.kind) {
		case 'question': {
			const { answer: how, fact } = ITEM_SPECS.question.parse(item.spec);
			const given = z.object({ answer: answerOf(how) }).parse(input.typed).answer;
			await note(fact, given);
			return moveItem(tx, actor, firm, item, 'fill_in', {
				answer: answerInWords(how, given, answerReader('en')),
				data: given,
				details
			});
		}
		case 'questionnaire': {
			const { questions } = ITEM_SPECS.questionnaire.parse(item.spec);
			const { answers, problems } = answersOf(questions, input.typed, true);
			if (Object.keys(problems).length > 0)
				throw new DomainError(
					'invalid',
					saying('wrong.answers.open', { count: Object.keys(problems).length }),
					Object.fromEntries(Object.entries(problems).map(([key, what]) => [key, saying(what as WordKey, { max: 10_000 })]))
				);
			for (const question of questions) if (question.key in answers) await note(question.fact, answers[question.key]);
			return moveItem(tx, actor, firm, item, 'fill_in', { data: answers, details });
		}
		case 'read':
		case 'do':
			return moveItem(tx, actor, firm, item, 'fill_in', { answer: item.kind === 'read' ? 'read' : 'done', details });
		default:
			throw new DomainError('invalid', 'This cannot be said by phone. Waive it, or ask for it in another way.');
	}
}
