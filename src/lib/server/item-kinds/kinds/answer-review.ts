import { localDate } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { bringKey, bringsAnything } from '$lib/core/items/brings';
import { correct, type AnswerReview } from '$lib/core/items/answer-review';
import { answersOf, type Answers, type Question } from '$lib/core/items/questions';
import { whichApply } from '$lib/core/items/which-apply';
import { saying } from '$lib/words/sayings';
import { requireStaff, type Actor } from '../../actor';
import { recordEvent } from '../../audit/record-event';
import { readClientsKnown } from '../../clients/clients-known';
import { loadFacts } from '../../facts/firm-facts';
import { loadFirm } from '../../firms/firm';
import { lockItem, moveItem, requireUnchanged, type LockedOf } from '../../items/change-item';
import { mayReadAnswer } from '../../items/read-items';
import { writeAboutItem } from '../../outbox/write-about-item';
import type { Tx } from '../../platform/db/database';
import { enqueue } from '../../platform/queue';
import { keepFacts } from './facts-of-answers';

type Reviewed = LockedOf<'questionnaire'> & { answers: Answers; review: AnswerReview };

/** Locks a questionnaire whose answers somebody of the firm has before them. @throws DomainError invalid for other items, or while the client answers */
async function lockAnswers(tx: Tx, actor: Actor, input: { itemId: string; version: number }): Promise<Reviewed> {
	requireStaff(actor, 'judge_item');
	const item = await lockItem(tx, input.itemId);
	await requireUnchanged(tx, item, input.version);
	if (item.kind !== 'questionnaire') throw new DomainError('invalid', saying('wrong.item.otherKind'));
	const row = await tx.first<{ answers: Answers | null; review: AnswerReview }>(
		'select answer_data answers, answer_review review from item where id = $1',
		[item.id]
	);
	if (!row?.answers || (item.state !== 'handed_in' && item.state !== 'accepted'))
		throw new DomainError('changed_meanwhile', `Nothing was changed: “${item.title}” is not handed in now. Please look at it again.`);
	return { ...item, answers: row.answers, review: row.review };
}

function questionOf(item: Reviewed, key: string): Question {
	const question = item.spec.questions.find((one) => one.key === key);
	if (!question) throw new DomainError('not_found', 'This question is not there any more. Load the page again.');
	return question;
}

/** Which questions a client was asked, given their answers. */
async function askedOf(tx: Tx, actor: Actor, item: Reviewed): Promise<Question[]> {
	const today = localDate(actor.now, (await loadFirm(tx)).calendar);
	const known = (await readClientsKnown(tx, [item.client_id], today)).get(item.client_id);
	const applies = whichApply(item.spec.questions, item.answers, known ? { known, facts: await loadFacts(tx) } : null, today);
	return item.spec.questions.filter(({ key }) => applies.get(key) === 'yes');
}

const LINE = 200;
/** Longest reason that a client reads. */
const REASON_MAX = 1000;

/**
 * Asks back single answers, each with what is to be put right: they alone are open again, the rest stays handed in. The client is written to
 * once, and reads everything in it.
 * @param input.words what to put right, by the keys of the questions
 */
export async function askBackAnswers(
	tx: Tx,
	actor: Actor,
	input: { itemId: string; version: number; words: Readonly<Record<string, string>> }
): Promise<void> {
	const item = await lockAnswers(tx, actor, input);
	const asked = Object.entries(input.words).map(([key, words]) => ({ question: questionOf(item, key), words }));
	if (asked.length === 0) throw new DomainError('invalid', 'Write at one answer at least what is to be put right.');
	const firm = await loadFirm(tx);
	if (item.state === 'accepted') throw new DomainError('changed_meanwhile', 'It is accepted already. Ask for it again first.');
	const reason = asked
		.map(({ question, words }) => `${question.title.slice(0, LINE)}: ${words}`)
		.join('\n')
		.slice(0, REASON_MAX);
	const keys = asked.map(({ question }) => question.key);
	await moveItem(tx, actor, firm, item, 'send_back', {
		reason,
		review: {
			...item.review,
			askedBack: input.words,
			accepted: item.review.accepted?.filter((key) => !keys.includes(key)),
			seen: item.answers
		}
	});
	await writeAboutItem(tx, actor, item, {
		kind: 'sent_back',
		idempotencyKey: `sent back ${item.id} ${item.version + 1}`,
		content: { itemTitle: item.title, reason },
		items: [{ itemId: item.id, step: null }]
	});
}

/**
 * Corrects one answer for the client; what they had said stays beside it, and a fact that it becomes follows.
 * @throws DomainError invalid with what is wrong with it
 */
export async function correctAnswer(tx: Tx, actor: Actor, input: { itemId: string; version: number; key: string; typed: unknown }): Promise<void> {
	const item = await lockAnswers(tx, actor, input);
	const question = questionOf(item, input.key);
	if (!mayReadAnswer(actor, await loadFacts(tx), question))
		throw new DomainError('not_found', 'This question is not there any more. Load the page again.');
	if (question.answer.is === 'file') throw new DomainError('invalid', 'A file is not corrected: ask it back, and they add another one.');
	const firm = await loadFirm(tx);
	const read = answersOf([question], { [question.key]: input.typed }, false, { ...firm, today: localDate(actor.now, firm.calendar) });
	const [problem] = Object.values(read.problems);
	if (problem) throw new DomainError('invalid', problem, { [question.key]: problem });
	if (!(question.key in read.answers))
		throw new DomainError('invalid', saying('wrong.answer.empty'), { [question.key]: saying('wrong.answer.empty') });
	const answers = { ...item.answers, ...read.answers };
	await tx.rows('update item set answer_data = $2, answer_review = $3, version = version + 1 where id = $1', [
		item.id,
		JSON.stringify(answers),
		JSON.stringify(correct(item.review, question.key, item.answers[question.key], actor.name, actor.now))
	]);
	await keepFacts(tx, actor, item, [{ fact: question.fact, answer: answers[question.key] }]);
	// what is accepted already brings about what follows from the right answer
	if (item.state === 'accepted' && bringsAnything(item.spec)) await enqueue(tx, 'bring_about', { firmId: tx.firmId, itemId: item.id });
	await recordEvent(tx, actor, {
		verb: 'item_answer_corrected',
		clientId: item.client_id,
		contactId: item.contact_id,
		requestId: item.request_id,
		itemId: item.id,
		details: { title: item.title, question: question.title }
	});
}

/** Accepts some of the answers, such as those of one part; with the last of them the whole is accepted. */
export async function acceptAnswers(tx: Tx, actor: Actor, input: { itemId: string; version: number; keys: readonly string[] }): Promise<void> {
	const item = await lockAnswers(tx, actor, input);
	if (item.state === 'accepted') return;
	const keys = input.keys.map((key) => questionOf(item, key).key);
	const accepted = [...new Set([...(item.review.accepted ?? []), ...keys])];
	const asked = await askedOf(tx, actor, item);
	const review = { ...item.review, accepted };
	if (asked.every(({ key }) => accepted.includes(key))) return moveItem(tx, actor, await loadFirm(tx), item, 'accept', { review });
	await tx.rows('update item set answer_review = $2, version = version + 1 where id = $1', [item.id, JSON.stringify(review)]);
	const part = asked.find(({ key }) => keys.includes(key));
	await recordEvent(tx, actor, {
		verb: 'item_part_accepted',
		clientId: item.client_id,
		contactId: item.contact_id,
		requestId: item.request_id,
		itemId: item.id,
		details: { title: item.title, count: keys.length, question: part?.title ?? '' }
	});
}

/**
 * Leaves out one thing that the answers would bring about, or lets it happen after all, before they are accepted.
 * @throws DomainError changed_meanwhile once they are: then it has happened
 */
export async function leaveOutBring(tx: Tx, actor: Actor, input: { itemId: string; version: number; key: string; out: boolean }): Promise<void> {
	const item = await lockAnswers(tx, actor, input);
	if (item.state !== 'handed_in') throw new DomainError('changed_meanwhile', 'It is accepted already: what follows from it has happened.');
	const known =
		item.spec.ends.some((end) => bringKey(null, end) === input.key) ||
		item.spec.questions.some((question) => question.brings?.some((bring) => bringKey(question, bring) === input.key));
	if (!known) throw new DomainError('not_found', 'This does not follow from it any more. Load the page again.');
	const others = (item.review.leftOut ?? []).filter((key) => key !== input.key);
	const leftOut = input.out ? [...others, input.key] : others;
	await tx.rows('update item set answer_review = $2, version = version + 1 where id = $1', [item.id, JSON.stringify({ ...item.review, leftOut })]);
	await recordEvent(tx, actor, {
		verb: input.out ? 'bring_left_out' : 'bring_put_back',
		clientId: item.client_id,
		requestId: item.request_id,
		itemId: item.id,
		details: { title: item.title }
	});
}
