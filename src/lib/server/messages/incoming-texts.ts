import { DomainError } from '$lib/core/errors/domain-error';
import { meaningOfAnswer } from '$lib/core/messages/text-message';
import { machine, requireStaff, type Actor } from '../actor';
import { recordEvent, recordOfPerson } from '../audit/record-event';
import { ofMyPeople } from '../clients/mine';
import type { Database, Tx } from '../platform/db/database';

/**
 * Takes in what a phone wrote to our number. STOP ends text messages to everybody with that number, at every firm that
 * uses ours; START allows them again. Anything else is shown to the firm that wrote to the number last.
 * @param answer its id keeps one that is handed over twice from counting twice
 */
export async function takeInTextMessage(db: Database, now: string, answer: { id: string; from: string; text: string }): Promise<void> {
	const meaning = meaningOfAnswer(answer.text);
	if (meaning) {
		const people = await db.queryOutsideFirm<{ firm_id: string; contact_id: string }>('select firm_id, contact_id from contacts_with_phone($1)', [
			answer.from
		]);
		for (const { firm_id, contact_id } of people) await db.inFirm(firm_id, (tx) => heed(tx, now, contact_id, answer.from, meaning));
		return;
	}
	const [last] = await db.queryOutsideFirm<{ firm_id: string; contact_id: string }>('select firm_id, contact_id from last_text_to($1)', [
		answer.from
	]);
	if (!last) return;
	await db.inFirm(last.firm_id, async (tx) => {
		const kept = await tx.first(
			'insert into incoming_text (id, firm_id, gateway_id, contact_id, words, came_at) values (gen_random_uuid(), $1, $2, $3, $4, $5) on conflict do nothing returning id',
			[tx.firmId, answer.id, last.contact_id, answer.text, now]
		);
		if (kept) await record(tx, now, last.contact_id, 'text_received', { words: answer.text });
	});
}

async function heed(tx: Tx, now: string, contactId: string, phone: string, meaning: 'stop' | 'start'): Promise<void> {
	const changed = await tx.first(
		meaning === 'stop'
			? `update contact set text_problem = 'stopped', text_problem_detail = 'answered STOP' where id = $1 and phone = $2 and text_problem is distinct from 'stopped' returning id`
			: `update contact set text_problem = null, text_problem_detail = null where id = $1 and phone = $2 and text_problem = 'stopped' returning id`,
		[contactId, phone]
	);
	if (changed) await record(tx, now, contactId, meaning === 'stop' ? 'texts_stopped' : 'texts_allowed', {});
}

/** Writes the event of a contact into the history of each of their clients. */
async function record(
	tx: Tx,
	now: string,
	contactId: string,
	verb: 'text_received' | 'texts_stopped' | 'texts_allowed',
	details: Record<string, string>
): Promise<void> {
	const person = await tx.first<{ name: string }>('select name from contact where id = $1', [contactId]);
	if (person) await recordOfPerson(tx, { ...machine(now), kind: 'contact', id: contactId, name: person.name }, contactId, { verb, details });
}

export interface IncomingTextMessage {
	id: string;
	words: string;
	cameAt: string;
	contactName: string;
	phone: string | null;
	clientId: string | null;
	clientName: string | null;
}

/** The answers nobody of the firm has read yet, oldest first; or one of them. */
export function readMessageTexts(
	tx: Tx,
	limit: number,
	of: { id?: string; /** whose clients they are about */ mineOf?: string | null } = {}
): Promise<IncomingTextMessage[]> {
	return tx.rows<IncomingTextMessage>(
		`select t.id, t.words, t.came_at as "cameAt", c.name as "contactName", c.phone, cl.id as "clientId", cl.name as "clientName"
		from incoming_text t join contact c on c.id = t.contact_id
			left join lateral (select client_id from client_contact where contact_id = c.id order by rank limit 1) cc on true left join client cl on cl.id = cc.client_id
		where t.firm_id = $1 and t.seen_at is null and ($3::uuid is null or t.id = $3)
			and ${ofMyPeople('t.contact_id', 4)}
		order by t.came_at, t.id limit $2`,
		[tx.firmId, limit, of.id ?? null, of.mineOf ?? null]
	);
}

/** Notes that somebody of the firm has read an answer, so that it leaves Rounds. */
export async function markTextMessageSeen(tx: Tx, actor: Actor, id: string): Promise<void> {
	requireStaff(actor, 'judge_item');
	const row = await tx.first<{ contact_id: string; client_id: string | null }>(
		`update incoming_text t set seen_at = $2, seen_by = $3 where id = $1 and seen_at is null
		returning contact_id, (select client_id from client_contact where contact_id = t.contact_id order by rank limit 1) client_id`,
		[id, actor.now, actor.name]
	);
	if (!row) throw new DomainError('changed_meanwhile', 'Somebody has read this already.');
	await recordEvent(tx, actor, { verb: 'text_seen', contactId: row.contact_id, clientId: row.client_id });
}
