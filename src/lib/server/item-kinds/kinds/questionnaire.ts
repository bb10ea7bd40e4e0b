import { localDate } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { openWhileAskedBack, reviewAfterHandIn, shutAnswers, unknownField, type AnswerReview } from '$lib/core/items/answer-review';
import { answersOf, answersOfFiles, type Answers } from '$lib/core/items/questions';
import { whichApply } from '$lib/core/items/which-apply';
import { settleQuestions } from '$lib/core/requests/facts-of-lines';
import { saying } from '$lib/words/sayings';
import type { Actor } from '../../actor';
import { readClientsKnown } from '../../clients/clients-known';
import { loadFacts } from '../../facts/firm-facts';
import { loadFirm } from '../../firms/firm';
import { questionnaireToSend } from '../../library/questionnaires';
import type { Tx } from '../../platform/db/database';
import { moveItem, type LockedOf } from '../../items/change-item';
import type { GivenAnswer, ServerItemKind, TypedForm } from '../item-kind';
import { lockOwnItem, requireKind } from '../../items/own-item';
import { mayReadAnswer } from '../../items/read-items';
import { signAnswers } from '../../signing/sign-answers';
import { keepFacts } from './facts-of-answers';

/** The answers to those questions that want files, in the order in which these came. */
async function fileAnswers(tx: Tx, item: LockedOf<'questionnaire'>): Promise<Answers> {
	if (!item.spec.questions.some(({ answer }) => answer.is === 'file')) return {};
	const papers = await tx.rows<{ id: string; name: string; slot: string | null }>(
		'select id, name, slot from paper where item_id = $1 and removed_at is null order by uploaded_at, id',
		[item.id]
	);
	return answersOfFiles(item.spec.questions, papers);
}

/**
 * Reads the answers of those questions that apply, and keeps those as facts that are facts. What was typed for a question that does not
 * apply, or is not there any more, is no answer.
 * @throws DomainError invalid with a saying for each question that lacks its answer
 */
async function take(
	tx: Tx,
	actor: Actor,
	item: LockedOf<'questionnaire'>,
	typed: TypedForm
): Promise<GivenAnswer & { data: Answers; review: AnswerReview }> {
	if (actor.kind === 'staff' && item.spec.signed)
		throw new DomainError('invalid', 'These answers are signed by the client themselves, on their page. They cannot be written down by phone.');
	const { questions } = item.spec;
	const firm = await loadFirm(tx);
	const today = localDate(actor.now, firm.calendar);
	const known = (await readClientsKnown(tx, [item.client_id], today)).get(item.client_id)!;
	const row = await tx.first<{ before: Answers | null; review: AnswerReview }>(
		'select answer_data before, answer_review review from item where id = $1',
		[item.id]
	);
	const before = row?.before ?? {};
	const review = row?.review ?? {};
	// of what was asked back the rest stays as it was handed in, whatever a form says
	const client = { known, facts: await loadFacts(tx) };
	const open = openWhileAskedBack(questions, review, before, whichApply(questions, before, client, today));
	const read = answersOf(
		questions.filter(({ key }) => !open || open.has(key)),
		typed,
		true,
		{ ...firm, today },
		await fileAnswers(tx, item)
	);
	// on the phone nobody can hand over a file: it is asked back, or comes later
	if (actor.kind === 'staff') for (const { key, answer } of questions) if (answer.is === 'file') delete read.problems[key];
	const answered: Answers = { ...shutAnswers(before, open), ...read.answers };
	const applies = whichApply(questions, answered, client, today);
	const asked = questions.filter(({ key }) => applies.get(key) === 'yes');
	const unknown = asked.flatMap(({ key }) => (!(key in answered) && typed[unknownField(key)] === 'yes' ? [key] : []));
	const problems = Object.fromEntries(
		asked.flatMap(({ key }) => (key in read.problems && !unknown.includes(key) ? [[key, read.problems[key]]] : []))
	);
	if (actor.kind === 'staff' && asked.some((question) => question.key in problems && !mayReadAnswer(actor, client.facts, question)))
		throw new DomainError(
			'not_allowed',
			'Some of these questions are about facts that your role does not see. Somebody who sees them has to write this down.'
		);
	const left = Object.keys(problems).length;
	if (left > 0) throw new DomainError('invalid', saying('wrong.answers.open', { count: left }), problems);
	const given = asked.filter(({ key }) => key in answered);
	const answers: Answers = Object.fromEntries(given.map(({ key }) => [key, answered[key]]));
	await keepFacts(
		tx,
		actor,
		item,
		given.flatMap(({ key, fact }) => (key in read.answers ? [{ fact, answer: answers[key] }] : []))
	);
	return { data: answers, review: reviewAfterHandIn(review, before, answers, unknown) };
}

/**
 * Hands in the answers of a questionnaire, all at once.
 * @throws DomainError invalid with a saying for each question that lacks its answer
 */
export async function answerQuestionnaire(tx: Tx, actor: Actor, input: { itemId: string; typed: TypedForm }): Promise<void> {
	const item = requireKind(await lockOwnItem(tx, actor, input.itemId), 'questionnaire');
	const given = await take(tx, actor, item, input.typed);
	if (item.spec.signed)
		await signAnswers(tx, actor, item, input.typed, { questions: item.spec.questions, answers: given.data, unknown: given.review.unknown ?? [] });
	await moveItem(tx, actor, await loadFirm(tx), item, 'hand_in', given);
}

export const questionnaire: ServerItemKind<'questionnaire'> = {
	beforeSending: async (tx, line, { firm }) => {
		// what the Library has now goes out, whatever it had when the line was written
		const spec = line.spec.from ? await questionnaireToSend(tx, line.spec.from) : line.spec;
		return { ...line, spec: { ...spec, questions: settleQuestions(spec.questions, await loadFacts(tx), firm) } };
	},
	handIn: (tx, actor, itemId, typed) => answerQuestionnaire(tx, actor, { itemId, typed }),
	fillIn: take
};
