import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { chasePlanOf } from '$lib/core/chasing/chase-plan';
import { DomainError } from '$lib/core/errors/domain-error';
import { endsSchema } from '$lib/core/items/brings';
import { questionSchema } from '$lib/core/items/questions';
import { nameForYear, type FromLibrary, type Questionnaire } from '$lib/core/questionnaires/questionnaire';
import { readQuestionnaireFile } from '$lib/core/questionnaires/questionnaire-file';
import { READY_MADE_QUESTIONNAIRES } from '$lib/core/questionnaires/ready-made';
import { settleQuestions } from '$lib/core/requests/facts-of-lines';
import type { QuestionnaireChoice } from '$lib/core/requests/writing-place';
import { asListLine, newLine, requestListSchema } from '$lib/core/requests/request-list';
import { afterBusinessDays } from '$lib/core/schedules/due-rule';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { loadFacts } from '../facts/firm-facts';
import { loadFirm } from '../firms/firm';
import { addList } from './request-lists';
import type { Tx } from '../platform/db/database';

export interface KeptQuestionnaire extends Questionnaire {
	id: string;
	version: number;
	beforeId: string | null;
	/** by which plan it is chased where it is asked; null as its list, the client or the firm has it */ chasePlan: string | null;
	changedBy: string;
	changedAt: string;
}
/** A questionnaire without its questions, as a row of the Library. */
export interface QuestionnaireRow {
	id: string;
	name: string;
	about: string;
	year: number | null;
	questions: number;
	version: number;
	/** asked and not handed in */
	open: number;
	/** handed in and not looked at */
	toLookAt: number;
	/** accepted */
	settled: number;
	/** its address is open to anybody */
	isPublic: boolean;
	changedBy: string;
	changedAt: string;
}

const questionsSchema = z.array(questionSchema);
const GONE = 'This questionnaire is not in the Library any more.';

/** The questionnaires of the Library by name, with how many clients of those that this person sees have which. */
export function readQuestionnaires(tx: Tx, actor: Actor): Promise<QuestionnaireRow[]> {
	requireStaff(actor, 'look');
	return tx.rows(
		`select q.id, q.name, q.about, q.year, jsonb_array_length(q.questions) questions, q.version, s.name "changedBy", q.changed_at "changedAt",
			coalesce(i.open, 0) as open, coalesce(i.to_look_at, 0) "toLookAt", coalesce(i.settled, 0) settled,
			exists (select from public_page p where p.questionnaire_id = q.id and p.closed_at is null) "isPublic"
		from questionnaire q join staff s on s.id = q.changed_by_id
			left join (select questionnaire_id, count(*) filter (where phase = 'open') as open, count(*) filter (where phase = 'to_look_at') to_look_at,
				count(*) filter (where state = 'accepted') settled from item where firm_id = $1 and questionnaire_id is not null group by questionnaire_id) i
				on i.questionnaire_id = q.id
		where q.firm_id = $1 and q.ended_at is null order by lower(q.name), q.id`,
		[tx.firmId]
	);
}

/** What of them can be asked by a line, by name. */
export function questionnaireChoices(tx: Tx): Promise<QuestionnaireChoice[]> {
	return tx.rows(
		'select id, name, version, jsonb_array_length(questions) questions, chase_plan "chasePlan" from questionnaire where firm_id = $1 and ended_at is null order by lower(name), id',
		[tx.firmId]
	);
}

/**
 * One questionnaire with its questions.
 * @param of also one that was taken out of the Library, for what was asked with it
 * @throws DomainError not_found
 */
export async function readQuestionnaire(tx: Tx, actor: Actor, id: string, of: 'in_use' | 'any' = 'in_use'): Promise<KeptQuestionnaire> {
	requireStaff(actor, 'look');
	const row = await tx.first<KeptQuestionnaire>(
		`select q.id, q.name, q.about, q.questions, q.files, q.signed, q.ends, q.year, q.version, q.chase_plan "chasePlan", q.before_id "beforeId", s.name "changedBy", q.changed_at "changedAt"
		from questionnaire q join staff s on s.id = q.changed_by_id where q.id = $1 and (q.ended_at is null or $2)`,
		[id, of === 'any']
	);
	if (!row) throw new DomainError('not_found', GONE);
	return { ...row, questions: questionsSchema.parse(row.questions), ends: endsSchema.parse(row.ends) };
}

/** The newest version of a questionnaire, as it is copied into a line that is sent. @throws DomainError not_found, by its name */
export async function questionnaireToSend(
	tx: Tx,
	from: FromLibrary
): Promise<Pick<Questionnaire, 'questions' | 'files' | 'signed' | 'ends'> & { from: FromLibrary }> {
	const row = await tx.first<Omit<Questionnaire, 'about' | 'year'> & { version: number; before: string | null }>(
		'select name, questions, files, signed, ends, version, before_id "before" from questionnaire where id = $1 and ended_at is null',
		[from.id]
	);
	if (!row)
		throw new DomainError('not_found', `The questionnaire “${from.name}” is not in the Library any more. Choose another one, or take the line out.`);
	const { name, version, before, files, signed } = row;
	return {
		questions: questionsSchema.parse(row.questions),
		files,
		signed,
		ends: endsSchema.parse(row.ends),
		from: { id: from.id, name, version, before }
	};
}

async function requireFreeName(tx: Tx, name: string, id: string | null): Promise<void> {
	const taken = await tx.first(
		'select 1 from questionnaire where firm_id = $1 and lower(name) = lower($2) and ended_at is null and id is distinct from $3',
		[tx.firmId, name, id]
	);
	if (taken) throw new DomainError('invalid', `There is a questionnaire “${name}” already.`, { name: 'Another questionnaire is called so.' });
}
async function freeName(tx: Tx, name: string): Promise<string> {
	const names = new Set((await questionnaireChoices(tx)).map((one) => one.name.toLowerCase()));
	let free = name;
	for (let n = 2; names.has(free.toLowerCase()); n++) free = `${name.slice(0, 110)} (${n})`;
	return free;
}

/** Adds a questionnaire. @returns its id */
export async function addQuestionnaire(
	tx: Tx,
	actor: Actor,
	input: Questionnaire & { chasePlan?: string | null },
	beforeId: string | null = null
): Promise<string> {
	requireStaff(actor, 'keep_library');
	await requireFreeName(tx, input.name, null);
	const questions = settleQuestions(input.questions, await loadFacts(tx), await loadFirm(tx));
	const id = randomUUID();
	await tx.rows(
		`insert into questionnaire (id, firm_id, name, about, questions, files, signed, ends, year, before_id, made_by_id, made_at, changed_by_id, changed_at, chase_plan)
		values ($1, $2, $3, $4, $5, $6, $11, $12, $7, $8, $9, $10, $9, $10, $13)`,
		[
			id,
			tx.firmId,
			input.name,
			input.about,
			JSON.stringify(questions),
			input.files,
			input.year,
			beforeId,
			actor.id,
			actor.now,
			input.signed,
			JSON.stringify(input.ends),
			input.chasePlan ?? null
		]
	);
	await recordEvent(tx, actor, { verb: 'questionnaire_added', details: { name: input.name } });
	return id;
}

/** Takes over a questionnaire that ships with the product. What it becomes as facts that the firm has retired stays an answer alone. @returns the copy's id */
export async function copyReadyQuestionnaire(tx: Tx, actor: Actor, readyId: string): Promise<string> {
	requireStaff(actor, 'keep_library');
	const { currency } = await loadFirm(tx);
	const ready = READY_MADE_QUESTIONNAIRES.find(({ id }) => id === readyId)?.of(currency, Number(actor.now.slice(0, 4)) - 1);
	if (!ready) throw new DomainError('not_found', 'There is no such questionnaire.');
	const facts = await loadFacts(tx);
	const questions = ready.questions.map((question) => ({
		...question,
		fact: question.fact && facts.get(question.fact)?.retired ? null : question.fact
	}));
	return addQuestionnaire(tx, actor, { ...ready, questions, name: await freeName(tx, ready.name) });
}

/** A copy of a questionnaire, to be changed by itself. @returns the copy's id */
export async function copyQuestionnaire(tx: Tx, actor: Actor, id: string): Promise<string> {
	requireStaff(actor, 'keep_library');
	const before = await readQuestionnaire(tx, actor, id);
	return addQuestionnaire(tx, actor, { ...before, name: await freeName(tx, `${before.name}, copy`.slice(0, 110)) });
}

/** The copy for the year after: what clients answered the year before is proposed to them to be confirmed. @returns the copy's id */
export async function copyForNextYear(tx: Tx, actor: Actor, id: string): Promise<string> {
	requireStaff(actor, 'keep_library');
	const before = await readQuestionnaire(tx, actor, id);
	const year = (before.year ?? Number(actor.now.slice(0, 4)) - 1) + 1;
	const next = await tx.first<{ id: string; name: string }>('select id, name from questionnaire where before_id = $1 and ended_at is null', [id]);
	if (next) throw new DomainError('invalid', `There is one for the year after already: “${next.name}”.`);
	return addQuestionnaire(tx, actor, { ...before, year, name: await freeName(tx, nameForYear(before.name, before.year, year)) }, id);
}

/** Adds a questionnaire out of its file. @returns its id, and in words what was left out of it */
export async function importQuestionnaire(tx: Tx, actor: Actor, text: string): Promise<{ id: string; leftOut: string[] }> {
	requireStaff(actor, 'keep_library');
	const { questionnaire, leftOut } = readQuestionnaireFile(text, await loadFacts(tx));
	const id = await addQuestionnaire(tx, actor, { ...questionnaire, name: await freeName(tx, questionnaire.name) });
	return { id, leftOut };
}

/** What is kept of a version. */
const contentOf = ({ name, about, questions, files, signed, ends, year }: Questionnaire): Questionnaire => ({
	name,
	about,
	questions,
	files,
	signed,
	ends,
	year
});

/**
 * Changes a questionnaire; the version before is kept, and what is out stays as it was.
 * @param version the one that was looked at
 * @throws DomainError changed_meanwhile if somebody was faster
 */
export async function changeQuestionnaire(tx: Tx, actor: Actor, id: string, version: number, input: Questionnaire): Promise<void> {
	requireStaff(actor, 'keep_library');
	const before = await readQuestionnaire(tx, actor, id);
	await requireFreeName(tx, input.name, id);
	const questions = settleQuestions(input.questions, await loadFacts(tx), await loadFirm(tx));
	const changed = await tx.first(
		`update questionnaire set name = $3, about = $4, questions = $5, files = $6, signed = $10, ends = $11, year = $7, changed_by_id = $8, changed_at = $9, version = version + 1
		where id = $1 and version = $2 returning id`,
		[
			id,
			version,
			input.name,
			input.about,
			JSON.stringify(questions),
			input.files,
			input.year,
			actor.id,
			actor.now,
			input.signed,
			JSON.stringify(input.ends)
		]
	);
	if (!changed)
		throw new DomainError('changed_meanwhile', `${before.changedBy} has changed this questionnaire meanwhile. What you wrote is still here.`);
	await tx.rows(
		'insert into questionnaire_version (firm_id, questionnaire_id, version, content, kept_at, kept_by_id) values ($1, $2, $3, $4, $5, $6)',
		[tx.firmId, id, version, JSON.stringify(contentOf(before)), actor.now, actor.id]
	);
	await recordEvent(tx, actor, { verb: 'questionnaire_changed', details: { name: input.name, version: version + 1 } });
}

/** Brings an earlier version back, as the newest one. */
export async function restoreQuestionnaire(tx: Tx, actor: Actor, id: string, version: number, seenVersion: number): Promise<void> {
	requireStaff(actor, 'keep_library');
	const kept = await tx.first<{ content: Questionnaire }>('select content from questionnaire_version where questionnaire_id = $1 and version = $2', [
		id,
		version
	]);
	if (!kept) throw new DomainError('not_found', 'There is no such version of this questionnaire.');
	await changeQuestionnaire(tx, actor, id, seenVersion, {
		...kept.content,
		// versions of before knew neither
		signed: kept.content.signed ?? false,
		ends: endsSchema.parse(kept.content.ends),
		questions: questionsSchema.parse(kept.content.questions)
	});
}

/** Takes a questionnaire out of the Library; what was asked with it stays. @throws DomainError invalid while a list asks it */
export async function removeQuestionnaire(tx: Tx, actor: Actor, id: string): Promise<void> {
	requireStaff(actor, 'keep_library');
	const { name } = await readQuestionnaire(tx, actor, id);
	const lists = await tx.rows<{ name: string }>(
		'select name from request_list where firm_id = $1 and ended_at is null and lines @> $2 order by lower(name) limit 3',
		[tx.firmId, JSON.stringify([{ spec: { from: { id } } }])]
	);
	if (lists.length > 0)
		throw new DomainError('invalid', `It is asked by a list: ${lists.map((list) => `“${list.name}”`).join(', ')}. Take it out of there first.`);
	await tx.rows('update questionnaire set ended_at = $2 where id = $1', [id, actor.now]);
	await tx.rows('update public_page set closed_at = $2 where questionnaire_id = $1 and closed_at is null', [id, actor.now]);
	await recordEvent(tx, actor, { verb: 'questionnaire_removed', details: { name } });
}

/**
 * A list that asks nothing but a questionnaire, with which it goes to many clients as lists do: the one that is there already, or a new one.
 * @returns the list's id
 */
export async function listThatAsks(tx: Tx, actor: Actor, id: string): Promise<string> {
	requireStaff(actor, 'keep_library');
	const { name, version } = await readQuestionnaire(tx, actor, id);
	const there = await tx.first<{ id: string }>(
		`select id from request_list where firm_id = $1 and ended_at is null and shared = 'all' and jsonb_array_length(lines) = 1 and lines @> $2 order by made_at limit 1`,
		[tx.firmId, JSON.stringify([{ spec: { from: { id } } }])]
	);
	if (there) return there.id;
	const line = newLine({
		key: randomUUID().slice(0, 8),
		kind: 'questionnaire',
		title: name,
		due: afterBusinessDays(10),
		dueOn: '',
		spec: { questions: [], files: false, signed: false, ends: [], from: { id, name, version, before: null } }
	});
	return addList(
		tx,
		actor,
		requestListSchema.parse({ name: name.slice(0, 80), about: 'Asks this questionnaire.', title: name, shared: 'all', lines: [asListLine(line)] })
	);
}

export interface QuestionnaireVersion {
	version: number;
	questions: number;
	keptAt: string;
	keptBy: string;
}
/** The versions before the one in use, newest first. */
export function readQuestionnaireVersions(tx: Tx, id: string): Promise<QuestionnaireVersion[]> {
	return tx.rows(
		`select v.version, jsonb_array_length(v.content -> 'questions') questions, v.kept_at "keptAt", s.name "keptBy"
		from questionnaire_version v join staff s on s.id = v.kept_by_id where v.questionnaire_id = $1 order by v.version desc limit 50`,
		[id]
	);
}

/** Chooses the plan by which a questionnaire is chased wherever it is asked from now on; null as its list, the client or the firm has it. @throws DomainError not_found */
export async function planQuestionnaire(tx: Tx, actor: Actor, id: string, chasePlan: string | null): Promise<void> {
	requireStaff(actor, 'keep_library');
	const kept = await tx.first<{ name: string; plan: string | null }>(
		'select name, chase_plan "plan" from questionnaire where id = $1 and ended_at is null for update',
		[id]
	);
	if (!kept) throw new DomainError('not_found', GONE);
	if (kept.plan === chasePlan) return;
	await tx.rows('update questionnaire set chase_plan = $2 where id = $1', [id, chasePlan]);
	const plan = chasePlan === null ? 'as its list, the client or the firm has it' : chasePlanOf(await loadFirm(tx), chasePlan).name;
	await recordEvent(tx, actor, { verb: 'questionnaire_plan_changed', details: { name: kept.name, plan } });
}
