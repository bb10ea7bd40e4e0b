import { addToInstant } from '$lib/core/calendar/firm-calendar';
import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { likenessInWords } from '$lib/core/clients/likeness';
import { DomainError } from '$lib/core/errors/domain-error';
import { answersOfFiles, questionSchema, type Answers, type Question } from '$lib/core/items/questions';
import { phoneInWords } from '$lib/core/people/phone';
import { OUTCOMES, type Outcome } from '$lib/core/public-pages/public-page';
import { requireStaff, type Actor, type Staff } from '../actor';
import { recordEvent } from '../audit/record-event';
import { addClient, findContactByEmail } from '../clients/add-client';
import { lockClient } from '../clients/client-record';
import { addContact } from '../clients/contacts';
import { loadFacts } from '../facts/firm-facts';
import { loadFirm, type Firm } from '../firms/firm';
import { keepFacts } from '../item-kinds/kinds/facts-of-answers';
import { mayReadAnswer } from '../items/read-items';
import type { Database, Tx } from '../platform/db/database';
import type { PaperStore } from '../platform/files/paper-store';
import { moveFilesToItem, readPublicFiles } from './public-files';

/** What somebody answered on a public page, as the firm reads it. */
export interface CameIn {
	id: string;
	questionnaireId: string;
	title: string;
	version: number;
	/** those that were answered, in their order */
	questions: Question[];
	answers: Answers;
	/** files that were added since; each answers the question that `slot` is the key of */
	files: { id: string; name: string; slot: string | null }[];
	/** keys of answers that are not shown to this person */
	withheld: string[];
	name: string;
	business: string;
	email: string | null;
	phone: string | null;
	phoneWords: string | null;
	/** they have proved by a code that the address is theirs */
	confirmed: boolean;
	cameAt: string;
	outcome: Outcome | null;
}
/** A client that whoever answered may belong to, and why. */
export interface Match {
	clientId: string;
	clientName: string;
	why: string;
	/** the person of the client who it may be */
	contactId: string | null;
	contactName: string | null;
}

const questionsSchema = z.array(questionSchema);
const GONE = 'This answer is not here any more.';

/** @throws DomainError not_found */
export async function readCameIn(tx: Tx, actor: Actor, firm: Pick<Firm, 'country'>, id: string): Promise<CameIn> {
	requireStaff(actor, 'look');
	const row = await tx.first<Omit<CameIn, 'withheld' | 'phoneWords' | 'files'>>(
		`select id, questionnaire_id "questionnaireId", title, version, questions, answers, name, business, email::text, phone, confirmed_at is not null confirmed,
			came_at "cameAt", outcome from public_answer where id = $1`,
		[id]
	);
	if (!row) throw new DomainError('not_found', GONE);
	const facts = await loadFacts(tx);
	const all = questionsSchema.parse(row.questions);
	const files = await readPublicFiles(tx, id);
	const answers: Answers = { ...row.answers, ...answersOfFiles(all, files) };
	const questions = all.filter(({ key }) => key in answers);
	const withheld = questions.flatMap((question) => (mayReadAnswer(actor, facts, question) ? [] : [question.key]));
	return {
		...row,
		questions,
		withheld,
		files: files.map(({ id: file, name, slot }) => ({ id: file, name, slot })),
		answers: Object.fromEntries(Object.entries(answers).filter(([key]) => !withheld.includes(key))),
		phoneWords: row.phone && phoneInWords(row.phone, firm.country)
	};
}

/** The clients whom this person sees that whoever answered may belong to: by address, phone, tax number, then by a name like theirs. */
export async function readMatches(
	tx: Tx,
	actor: Actor,
	answer: Pick<CameIn, 'email' | 'phone' | 'business' | 'name' | 'questions' | 'answers'>
): Promise<Match[]> {
	requireStaff(actor, 'look');
	const wanted = (answer.business || answer.name).toLowerCase();
	const taxQuestion = answer.questions.find(({ fact }) => fact === 'tax_number');
	const rows = await tx.rows<Match & { likeness: number }>(
		`select m.client_id "clientId", c.name "clientName", m.why, m.contact_id "contactId", m.contact_name "contactName", m.likeness from (
			select distinct on (f.client_id) * from (
				select cc.client_id, 1 place, 'has this address' why, ct.id contact_id, ct.name contact_name, 1::real likeness
					from contact ct join client_contact cc on cc.contact_id = ct.id where ct.firm_id = $1 and ct.email = $2::citext and ct.removed_at is null
				union all
				select cc.client_id, 2, 'has this phone number', ct.id, ct.name, 1
					from contact ct join client_contact cc on cc.contact_id = ct.id where ct.firm_id = $1 and ct.phone = $3 and ct.removed_at is null
				union all
				select client_id, 3, 'has this tax number', null, null, 1 from fact where firm_id = $1 and name = 'tax_number' and lower(value) = lower($4) and replaced_at is null
				union all
				select client_id, 4, '', null, null, likeness from similar_clients($5, 5)
			) f order by f.client_id, f.place
		) m join client c on c.id = m.client_id order by m.place, m.likeness desc, lower(c.name), c.id limit 6`,
		[tx.firmId, answer.email, answer.phone, taxQuestion ? String(answer.answers[taxQuestion.key] ?? '') : '', wanted]
	);
	return rows.flatMap(({ likeness, ...match }) => {
		const why = match.why || likenessInWords(wanted, match.clientName, likeness);
		return why ? [{ ...match, why }] : [];
	});
}

async function lockWaiting(tx: Tx, id: string) {
	const row = await tx.first<{
		id: string;
		title: string;
		version: number;
		questionnaire_id: string;
		questions: unknown;
		answers: Answers;
		name: string;
		business: string;
		email: string | null;
		phone: string | null;
		came_at: string;
		outcome: Outcome | null;
	}>(
		'select id, title, version, questionnaire_id, questions, answers, name, business, email::text, phone, came_at, outcome from public_answer where id = $1 for update',
		[id]
	);
	if (!row) throw new DomainError('not_found', GONE);
	if (row.outcome) throw new DomainError('changed_meanwhile', `Somebody has dealt with it meanwhile: it is ${OUTCOMES[row.outcome]}.`);
	return row;
}
type Waiting = Awaited<ReturnType<typeof lockWaiting>>;

const settle = (tx: Tx, actor: Staff, id: string, outcome: Outcome | null, of: { clientId: string; itemId: string } | null = null) =>
	tx.rows('update public_answer set outcome = $2, dealt_at = $3, dealt_by_id = $4, client_id = $5, item_id = $6 where id = $1', [
		id,
		outcome,
		outcome && actor.now,
		outcome && actor.id,
		of?.clientId ?? null,
		of?.itemId ?? null
	]);

/**
 * Writes what was answered into a client's record, as a questionnaire that was handed in and is still to be looked at. What was not known of
 * the client becomes known; what is known stays as it is, for nobody has shown who they are on a public page.
 */
async function writeIntoRecord(tx: Tx, actor: Actor, answer: Waiting, clientId: string, contactId: string): Promise<string> {
	const [requestId, itemId] = [randomUUID(), randomUUID()];
	const questions = questionsSchema.parse(answer.questions);
	await tx.rows(
		`insert into request (id, firm_id, client_id, contact_id, title, message, idempotency_key, created_by_id, sent_at, quiet)
		values ($1, $2, $3, $4, $5, '', $6, $7, $8, true)`,
		[requestId, tx.firmId, clientId, contactId, answer.title, randomUUID(), actor.id, actor.now]
	);
	await tx.rows(
		`insert into item (id, firm_id, client_id, request_id, contact_id, position, kind, title, required, spec, answer_data, state, state_at, asked_on, chased_through)
		values ($1, $2, $3, $4, $5, 0, 'questionnaire', $6, false, $7, $8, 'handed_in', $9, $10, $10)`,
		[
			itemId,
			tx.firmId,
			clientId,
			requestId,
			contactId,
			answer.title,
			JSON.stringify({
				questions,
				files: false,
				signed: false,
				ends: [],
				from: { id: answer.questionnaire_id, name: answer.title, version: answer.version, before: null }
			}),
			JSON.stringify(answer.answers),
			answer.came_at,
			localDate(actor.now, (await loadFirm(tx)).calendar)
		]
	);
	const files = await moveFilesToItem(tx, { id: answer.id, questions }, { clientId, itemId, contactId });
	await tx.rows('update item set answer_data = answer_data || $2 where id = $1', [itemId, JSON.stringify(files)]);
	const known = new Set(
		(await tx.rows<{ name: string }>('select name from fact where client_id = $1 and replaced_at is null', [clientId])).map(({ name }) => name)
	);
	const facts = await loadFacts(tx);
	const said = questions.flatMap(({ key, fact }) => {
		const definition = fact ? facts.get(fact) : undefined;
		return definition && key in answer.answers && !known.has(definition.name) ? [{ fact, answer: answer.answers[key] }] : [];
	});
	const visitor: Actor = { ...actor, kind: 'contact', id: contactId, name: `${answer.name || 'somebody'} (on a public page)`, role: null };
	await keepFacts(tx, visitor, { id: itemId, client_id: clientId }, said);
	await recordEvent(tx, actor, {
		verb: 'public_answer_joined',
		clientId,
		contactId,
		requestId,
		itemId,
		details: { title: answer.title, who: answer.name || answer.business || 'somebody' }
	});
	return itemId;
}

/**
 * Makes whoever answered a client with them as its person; somebody with their address who is known already is that person. Nobody is
 * invited by it.
 * @returns the client's id
 * @throws DomainError changed_meanwhile, invalid
 */
export async function makeClientOf(
	tx: Tx,
	actor: Actor,
	id: string,
	input: { name: string; kind: 'business' | 'person'; responsibleId: string; contactName: string }
): Promise<string> {
	requireStaff(actor, 'add_client');
	const answer = await lockWaiting(tx, id);
	const known = answer.email ? await findContactByEmail(tx, answer.email) : null;
	const clientId = await addClient(tx, actor, {
		name: input.name,
		kind: input.kind,
		responsibleId: input.responsibleId,
		contacts: [{ id: known?.id ?? null, name: input.contactName, email: answer.email }]
	});
	const contact = await tx.first<{ id: string }>('select contact_id id from client_contact where client_id = $1 order by rank limit 1', [clientId]);
	if (answer.phone) await tx.rows('update contact set phone = $2 where id = $1 and phone is null', [contact!.id, answer.phone]);
	const itemId = await writeIntoRecord(tx, actor, answer, clientId, contact!.id);
	await settle(tx, actor, id, 'client', { clientId, itemId });
	return clientId;
}

/**
 * Joins what was answered to a client: as one of its people if the address or the phone is theirs, else as somebody who is added to them,
 * or as the client's first person.
 * @returns the client's id
 * @throws DomainError changed_meanwhile, not_found for a client that this person does not see
 */
export async function joinToClient(tx: Tx, actor: Actor, id: string, input: { clientId: string; addPerson: boolean }): Promise<string> {
	requireStaff(actor, 'judge_item');
	const answer = await lockWaiting(tx, id);
	await lockClient(tx, input.clientId);
	const people = await tx.rows<{ id: string; theirs: boolean }>(
		`select c.id, coalesce(c.email = $2::citext or c.phone = $3, false) theirs from client_contact cc join contact c on c.id = cc.contact_id
		where cc.client_id = $1 and c.removed_at is null order by 2 desc, cc.rank`,
		[input.clientId, answer.email, answer.phone]
	);
	const known = people.find(({ theirs }) => theirs);
	const contactId = known?.id ?? (input.addPerson ? await addPersonOf(tx, actor, answer, input.clientId) : people[0]?.id);
	if (!contactId) throw new DomainError('invalid', 'This client has nobody yet. Add whoever answered to its people.');
	const itemId = await writeIntoRecord(tx, actor, answer, input.clientId, contactId);
	await settle(tx, actor, id, 'joined', { clientId: input.clientId, itemId });
	return input.clientId;
}

async function addPersonOf(tx: Tx, actor: Actor, { name, email, phone }: Waiting, clientId: string): Promise<string> {
	if (!name) throw new DomainError('invalid', 'They have not said what they are called. Join it without adding them.');
	const known = email ? await findContactByEmail(tx, email) : null;
	return addContact(tx, actor, { clientId, knownId: known?.id ?? null, name, email, phone, role: '', channels: 'email' });
}

/** Says that nothing is to be done about it: it stays among the answers, or is put away and does not count. */
export async function settleWithoutClient(tx: Tx, actor: Actor, id: string, outcome: 'kept' | 'put_away'): Promise<void> {
	requireStaff(actor, 'judge_item');
	const answer = await lockWaiting(tx, id);
	await settle(tx, actor, id, outcome);
	await recordEvent(tx, actor, { verb: 'public_answer_dealt', details: { title: answer.title, outcome: OUTCOMES[outcome] } });
}

/** Takes that back: it waits in Rounds again. @throws DomainError invalid if it is a client's by now */
export async function bringBack(tx: Tx, actor: Actor, id: string): Promise<void> {
	requireStaff(actor, 'judge_item');
	const row = await tx.first<{ title: string; outcome: Outcome | null }>('select title, outcome from public_answer where id = $1 for update', [id]);
	if (!row) throw new DomainError('not_found', GONE);
	if (row.outcome === null) return;
	if (row.outcome === 'client' || row.outcome === 'joined') throw new DomainError('invalid', 'It is in the record of a client, and stays there.');
	await settle(tx, actor, id, null);
	await recordEvent(tx, actor, { verb: 'public_answer_back', details: { title: row.title } });
}

/** Days for which answers of a public page that were put away can be brought back; then they are gone. */
export const PUT_AWAY_DAYS = 90;

/** Removes answers that were put away a while ago, with their files: nobody keeps what strangers sent for nothing. */
export async function removePutAway(place: { db: Database; papers: Pick<PaperStore, 'remove'> }, firmId: string, now: string): Promise<void> {
	const keys = await place.db.inFirm(firmId, async (tx) => {
		const old = [addToInstant(now, { hours: -24 * PUT_AWAY_DAYS })];
		const files = await tx.rows<{ key: string }>(
			`delete from public_file f using public_answer a where a.id = f.answer_id and a.outcome = 'put_away' and a.dealt_at < $1 returning f.storage_key as key`,
			old
		);
		await tx.rows(`delete from public_answer where outcome = 'put_away' and dealt_at < $1`, old);
		return files.map(({ key }) => key);
	});
	for (const key of keys) await place.papers.remove(key);
}
