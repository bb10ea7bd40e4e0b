import { randomBytes, randomUUID } from 'node:crypto';
import { z } from 'zod';
import { clearedWith, CLEARABLE, COUNTS_OF, countsInWords, type PracticeCounts } from '$lib/core/practice/clearing';
import { DomainError } from '$lib/core/errors/domain-error';
import { requireStaff, type Actor, type Staff } from '../actor';
import { recordEvent } from '../audit/record-event';
import { beginSession } from '../people/sessions';
import type { Database, Tx } from '../platform/db/database';
import { enqueue } from '../platform/queue';
import type { PaperStore } from '../platform/files/paper-store';
import { ensureFirmSeal } from '../signing/firm-seal';

export type PracticeState = 'empty' | 'filling' | 'ready';

/** The practice workspace beside a real firm, or null. */
export async function findPractice(db: Database, firmId: string): Promise<{ id: string; state: PracticeState } | null> {
	const [found] = await db.queryOutsideFirm<{ id: string | null }>('select practice_of_firm($1) as id', [firmId]);
	return found?.id ? readPractice(db, found.id) : null;
}

/** How a practice workspace stands. */
export async function readPractice(db: Database, id: string): Promise<{ id: string; state: PracticeState }> {
	const row = await db.inFirm(id, (tx) => tx.first<{ state: PracticeState }>('select practice_state as state from firm where id = $1', [id]));
	return { id, state: row!.state };
}

/**
 * Sets up the practice workspace of a firm, if there is none, and has it filled with made-up data. Asked for twice, it is
 * filled once.
 * @returns its id
 */
export async function beginPractice(db: Database, firmId: string, actor: Actor, secretKey: string): Promise<string> {
	requireStaff(actor, 'practise');
	const real = await db.inFirm(firmId, (tx) =>
		tx.first<{ firm: Record<string, unknown>; staff: MirroredStaff[] }>(
			`select to_jsonb(f) firm, (select coalesce(jsonb_agg(jsonb_build_object('id', s.id, 'name', s.name, 'email', s.email, 'role', s.role)), '[]')
				from staff s where s.suspended_at is null) staff
			from firm f where f.id = $1`,
			[firmId]
		)
	);
	if (!real || real.firm.practice_of_id) throw new DomainError('not_found', 'This is the practice workspace already.');
	const practiceId = (await findPractice(db, firmId))?.id ?? randomUUID();
	await db.inFirm(practiceId, async (tx) => {
		await tx.rows('select pg_advisory_xact_lock(hashtext($1))', [`practice ${firmId}`]);
		const [known] = await tx.rows<{ id: string | null }>('select practice_of_firm($1) as id', [firmId]);
		if (known.id && known.id !== practiceId) throw new DomainError('changed_meanwhile', 'Somebody is setting it up just now.');
		await tx.rows(
			`insert into firm (id, slug, name, time_zone, country, locale, client_language, brand_color, welcome, address, mail_from, phone, currency, business_days, send_from, send_to,
				chase_steps, chase_plan_name, is_demo, second_step_staff, created_at, practice_of_id, practice_state)
			select $1, $2, f.name, f.time_zone, f.country, f.locale, f.client_language, f.brand_color, f.welcome, f.address, f.mail_from, f.phone, f.currency, f.business_days, f.send_from, f.send_to,
				f.chase_steps, f.chase_plan_name, f.is_demo, false, $3, $4, 'empty'
			from jsonb_populate_record(null::firm, $5) f on conflict (practice_of_id) do nothing`,
			[practiceId, `practice-${randomBytes(6).toString('hex')}`, actor.now, firmId, JSON.stringify(real.firm)]
		);
		await mirror(tx, real.staff, actor.now);
		await ensureFirmSeal(tx, `${String(real.firm.name)} (practice)`, actor.now, secretKey);
		const me = await tx.first<{ id: string }>('select id from staff where practice_of_id = $1', [actor.id]);
		await fill(tx, me!.id);
	});
	return practiceId;
}

/** Has the practice workspace of `tx` filled by somebody of it, if it is empty. Asked for twice, it is filled once. */
async function fill(tx: Tx, staffId: string): Promise<void> {
	const filling = await tx.first(
		`update firm set practice_state = 'filling' where id = $1 and practice_state = 'empty' and not exists (select from client) returning id`,
		[tx.firmId]
	);
	if (filling) await enqueue(tx, 'fill_practice', { practiceId: tx.firmId, staffId });
}

interface MirroredStaff {
	id: string;
	name: string;
	email: string;
	role: string;
}

/** Lets the people of the real firm stand in the practice workspace, with their present names and roles. */
async function mirror(tx: Tx, staff: readonly MirroredStaff[], now: string): Promise<void> {
	await tx.rows(
		`insert into staff (id, firm_id, name, email, role, created_at, practice_of_id)
		select gen_random_uuid(), $1, s.name, s.email::citext, s.role, $3, s.id from jsonb_to_recordset($2) as s (id uuid, name text, email text, role text)
		on conflict (practice_of_id) do update set name = excluded.name, email = excluded.email, role = excluded.role`,
		[tx.firmId, JSON.stringify(staff), now]
	);
}

/**
 * Lets somebody of the firm into its practice workspace, beside their real session.
 * @throws DomainError not_found if there is none yet
 */
export async function enterPractice(db: Database, firmId: string, actor: Actor): Promise<{ token: string; expiresAt: string }> {
	requireStaff(actor, 'look');
	const practice = await findPractice(db, firmId);
	if (!practice) throw new DomainError('not_found', 'There is no practice workspace yet.');
	const person = await db.inFirm(firmId, (tx) => tx.first<MirroredStaff>('select id, name, email::text, role from staff where id = $1', [actor.id]));
	return db.inFirm(practice.id, async (tx) => {
		await mirror(tx, [person!], actor.now);
		const me = await tx.first<{ id: string }>('select id from staff where practice_of_id = $1', [actor.id]);
		return beginSession(tx, actor, { kind: 'staff', id: me!.id });
	});
}

/** Fills an emptied practice workspace anew, from within. */
export async function refillPractice(tx: Tx, actor: Actor): Promise<void> {
	await requirePractice(tx, actor);
	await fill(tx, actor.id!);
}

/** @throws DomainError not_allowed in a real firm, of which nothing is cleared */
async function requirePractice(tx: Tx, actor: Actor): Promise<PracticeState> {
	requireStaff(actor, 'practise');
	const row = await tx.first<{ state: PracticeState | null }>('select practice_state as state from firm where id = $1', [tx.firmId]);
	if (!row?.state) throw new DomainError('not_allowed', 'Only a practice workspace is cleared. Nothing was done.');
	return row.state;
}

/** How much there is of everything that can be cleared. */
export async function countPractice(tx: Tx): Promise<PracticeCounts> {
	const row = await tx.first<PracticeCounts>(
		`select (select count(*) from request where firm_id = $1) requests, (select count(*) from paper where firm_id = $1) papers,
			(select count(*) from letter where firm_id = $1) letters, (select count(*) from message where firm_id = $1) messages,
			(select count(*) from invitation where firm_id = $1) invitations, (select count(*) from client where firm_id = $1) clients,
			(select count(*) from contact where firm_id = $1) people`,
		[tx.firmId]
	);
	return row!;
}

export const clearSchema = z.object({
	kinds: z.array(z.enum(CLEARABLE)).min(1, 'Tick at least one kind.'),
	sure: z.literal('yes', 'Say that you are sure: it cannot be undone.')
});

/**
 * Clears chosen kinds of a practice workspace, with what hangs on them. It cannot be undone; what was cleared is kept as
 * numbers.
 * @returns what went
 * @throws DomainError not_allowed in a real firm, changed_meanwhile while it is being filled
 */
export async function clearPractice(
	place: { db: Database; papers: Pick<PaperStore, 'remove'> },
	firmId: string,
	actor: Actor,
	input: z.output<typeof clearSchema>
): Promise<Partial<PracticeCounts>> {
	const { counts, papers } = await place.db.inFirm(firmId, async (tx) => {
		if ((await requirePractice(tx, actor)) === 'filling')
			throw new DomainError('changed_meanwhile', 'It is being filled just now. Clear it when that is done.');
		await tx.rows('select 1 from firm where id = $1 for update', [firmId]);
		const kinds = clearedWith(input.kinds);
		const all = await countPractice(tx);
		const counts = Object.fromEntries(kinds.flatMap((kind) => COUNTS_OF[kind].map((what) => [what, all[what]])));
		const papers = await tx.rows<{ key: string }>('select clear_practice($1) as key', [kinds]);
		await noteClearing(tx, actor as Staff, counts);
		if (kinds.includes('clients')) await tx.rows(`update firm set practice_state = 'empty' where id = $1`, [firmId]);
		return { counts, papers };
	});
	for (const { key } of papers) await place.papers.remove(key);
	return counts;
}

async function noteClearing(tx: Tx, actor: Staff, counts: Partial<PracticeCounts>): Promise<void> {
	await tx.rows('insert into practice_clearing (id, firm_id, cleared_at, cleared_by, counts) values ($1, $2, $3, $4, $5)', [
		randomUUID(),
		tx.firmId,
		actor.now,
		actor.name,
		JSON.stringify(counts)
	]);
	await recordEvent(tx, actor, { verb: 'practice_cleared', details: { what: countsInWords(counts) } });
}

export interface Clearing {
	id: string;
	clearedAt: string;
	clearedBy: string;
	counts: Partial<PracticeCounts>;
}

/** What was cleared so far, newest first. */
export function readClearings(tx: Tx): Promise<Clearing[]> {
	return tx.rows(
		'select id, cleared_at as "clearedAt", cleared_by as "clearedBy", counts from practice_clearing where firm_id = $1 order by cleared_at desc, id limit 50',
		[tx.firmId]
	);
}
