import { guardCell } from '$lib/core/tables/formula-guard';
import { writeCsv } from '$lib/core/tables/write-csv';
import { answerInWords, type AnswerReader } from '$lib/core/items/answers';
import { fromMinor } from '$lib/core/items/minor-units';
import type { Answers, Question } from '$lib/core/items/questions';
import type { AnsweredBy } from '$lib/core/questionnaires/answers-of-many';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { loadFacts } from '../facts/firm-facts';
import { mayReadAnswer } from '../items/read-items';
import { readQuestionnaire } from '../library/questionnaires';
import type { Tx } from '../platform/db/database';

/** Most clients whose answers are shown at once; a file holds all of them. */
export const ANSWERS_SHOWN = 500;

/**
 * What was answered to a questionnaire of the Library: by the clients whom this person sees, and by anybody on its public page.
 * @param most rows; null for all
 */
export async function readAnswersOfMany(
	tx: Tx,
	actor: Actor,
	id: string,
	most: number | null
): Promise<{ name: string; questions: Question[]; all: AnsweredBy[]; total: number }> {
	requireStaff(actor, 'look');
	const { name, questions } = await readQuestionnaire(tx, actor, id, 'any');
	const facts = await loadFacts(tx);
	const readable = questions.filter((question) => mayReadAnswer(actor, facts, question));
	const rows = await tx.rows<AnsweredBy & { total: number }>(
		`select x.*, count(*) over () total from (
			select i.id, cl.id "clientId", cl.name "clientName", ct.name "contactName", i.state_at at, coalesce(i.questionnaire_version, 1) as version,
				coalesce(i.answer_data, '{}') answers, null public
			from item i join client cl on cl.id = i.client_id join contact ct on ct.id = i.contact_id
			where i.questionnaire_id = $1 and i.answer_data is not null and i.phase in ('to_look_at', 'settled')
			union all
			select a.id, null, coalesce(nullif(a.business, ''), nullif(a.name, ''), 'somebody unnamed'), a.name, a.came_at, a.version, a.answers, coalesce(a.outcome, 'waiting')
			from public_answer a where a.questionnaire_id = $1 and a.item_id is null and (a.outcome is null or a.outcome = 'kept')
		) x order by lower(x."clientName"), x.id limit $2`,
		[id, most]
	);
	const keys = new Set(readable.map(({ key }) => key));
	return {
		name,
		questions: readable,
		all: rows.map(({ total: _total, ...row }) => ({
			...row,
			answers: Object.fromEntries(Object.entries(row.answers).filter(([key]) => keys.has(key)))
		})),
		total: rows[0]?.total ?? 0
	};
}

/** What was put away of what came on the public page: who it said it was from, and when. */
export function readPutAway(tx: Tx, actor: Actor, id: string): Promise<{ id: string; name: string; cameAt: string }[]> {
	requireStaff(actor, 'look');
	return tx.rows(
		`select id, coalesce(nullif(business, ''), nullif(name, ''), 'somebody unnamed') as name, came_at "cameAt" from public_answer
		where questionnaire_id = $1 and outcome = 'put_away' order by came_at desc limit 100`,
		[id]
	);
}

/** The same as CSV (RFC 4180, UTF-8 with its mark), a row each client; cells that a spreadsheet would run are made harmless. */
export async function answersAsCsv(tx: Tx, actor: Actor, id: string, reader: AnswerReader): Promise<{ name: string; text: string }> {
	const { name, questions, all } = await readAnswersOfMany(tx, actor, id, null);
	await recordEvent(tx, actor, { verb: 'answers_taken_out', details: { title: name } });
	const header = ['Client', 'Asked', 'Answered', 'Version', ...questions.map(({ title }) => title)];
	const rows = all.map((one) => [
		one.clientName,
		one.contactName,
		one.at,
		String(one.version),
		...questions.map(({ key, answer }) => (key in one.answers ? answerInWords(answer, one.answers[key], reader) : ''))
	]);
	return { name, text: writeCsv([header.map(guardCell), ...rows.map((row) => row.map(guardCell))]) };
}

/** The same as JSON: the questions by their keys, then what each client answered; amounts in their currency. */
export async function answersAsJson(tx: Tx, actor: Actor, id: string): Promise<{ name: string; text: string }> {
	const { name, questions, all } = await readAnswersOfMany(tx, actor, id, null);
	await recordEvent(tx, actor, { verb: 'answers_taken_out', details: { title: name } });
	const money = new Map(questions.flatMap(({ key, answer }) => (answer.is === 'money' ? [[key, answer.currency] as const] : [])));
	const plain = (answers: Answers) =>
		Object.fromEntries(Object.entries(answers).map(([key, answer]) => [key, money.has(key) ? fromMinor(Number(answer), money.get(key)!) : answer]));
	const shown = all.map(({ clientName: client, contactName: contact, at, version, answers }) => ({
		client,
		contact,
		at,
		version,
		answers: plain(answers)
	}));
	const asked = questions.map(({ key, title, answer }) => ({ key, title, answer }));
	return { name, text: `${JSON.stringify({ questionnaire: name, questions: asked, answers: shown }, null, '\t')}\n` };
}
