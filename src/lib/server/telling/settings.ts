import { DomainError } from '$lib/core/errors/domain-error';
import type { Role } from '$lib/core/people/roles';
import { isTold, tellingSchema, TOLD_NOTHING, type Telling } from '$lib/core/telling/telling';
import { requireStaff, type Actor, type Staff } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Tx } from '../platform/db/database';

/** What is kept of how people are told; what an older release did not ask is as it is for whoever chose nothing. */
export function readSettings(kept: unknown): Telling {
	if (!kept) return TOLD_NOTHING;
	const { kinds, ...rest } = kept as Partial<Telling>;
	return tellingSchema.parse({ ...TOLD_NOTHING, ...rest, kinds: { ...TOLD_NOTHING.kinds, ...kinds } });
}

/** How somebody is told, and whether they chose that for themselves. */
export interface OwnTelling {
	telling: Telling;
	own: boolean;
	/** when the last summary went, or when they first chose to have them; null for who never did */
	lastAt: string | null;
	/** clients of whom they are told besides, or are not told */
	clients: { id: string; name: string; told: boolean }[];
}

/** How whoever asks is told. */
export async function readOwnTelling(tx: Tx, actor: Actor): Promise<OwnTelling> {
	requireStaff(actor, 'look');
	const row = await tx.first<{ settings: unknown; usual: unknown; last_at: string | null }>(
		`select t.settings, f.usual_telling usual, t.summary_at last_at from firm f left join staff_telling t on t.staff_id = $2 where f.id = $1`,
		[tx.firmId, actor.id]
	);
	const clients = await tx.rows<{ id: string; name: string; told: boolean }>(
		`select c.id, c.name, t.told from staff_told_client t join client c on c.id = t.client_id where t.staff_id = $1 order by lower(c.name), c.id`,
		[actor.id]
	);
	return { telling: readSettings(row?.settings ?? row?.usual), own: row?.settings != null, lastAt: row?.last_at ?? null, clients };
}

/** Where what is told begins: what begins only now tells nothing of before; what went on goes on from where it is. */
const beginsAnew = (before: Telling, after: Telling): { summary: boolean; atOnce: boolean } => ({
	summary: before.summary === 'none' && after.summary !== 'none',
	atOnce: !Object.values(before.kinds).includes('at_once') && Object.values(after.kinds).includes('at_once')
});

/** Keeps how whoever asks is told from now on. */
export async function changeOwnTelling(tx: Tx, actor: Actor, telling: Telling): Promise<void> {
	requireStaff(actor, 'look');
	const { summary, atOnce } = beginsAnew((await readOwnTelling(tx, actor)).telling, telling);
	await tx.rows(
		`insert into staff_telling as t (staff_id, firm_id, settings, summary_at, told_at) values ($1, $2, $3, $4, $4)
		on conflict (staff_id) do update set settings = excluded.settings, summary_at = case when $5 then $4 else t.summary_at end, told_at = case when $6 then $4 else t.told_at end`,
		[actor.id, tx.firmId, JSON.stringify(telling), actor.now, summary, atOnce]
	);
}

/** Tells whoever asks as the firm usually does it again. */
export async function tellAsUsual(tx: Tx, actor: Actor): Promise<void> {
	requireStaff(actor, 'look');
	const { summary, atOnce } = beginsAnew((await readOwnTelling(tx, actor)).telling, await readUsualTelling(tx));
	await tx.rows(
		`update staff_telling set settings = null, summary_at = case when $3 then $2 else summary_at end, told_at = case when $4 then $2 else told_at end where staff_id = $1`,
		[actor.id, actor.now, summary, atOnce]
	);
}

/** How the firm's people are told who have not chosen for themselves. */
export async function readUsualTelling(tx: Tx): Promise<Telling> {
	const row = await tx.first<{ usual: unknown }>('select usual_telling usual from firm where id = $1', [tx.firmId]);
	return readSettings(row?.usual);
}

/** Changes how the firm's people are told who have not chosen for themselves. */
export async function changeUsualTelling(tx: Tx, actor: Actor, telling: Telling): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	const { summary, atOnce } = beginsAnew(await readUsualTelling(tx), telling);
	await tx.rows('update firm set usual_telling = $2 where id = $1', [tx.firmId, JSON.stringify(telling)]);
	await tx.rows(
		`insert into staff_telling as t (staff_id, firm_id, summary_at, told_at) select id, firm_id, $1, $1 from staff where password_hash is not null
		on conflict (staff_id) do update set summary_at = case when $2 then $1 else t.summary_at end, told_at = case when $3 then $1 else t.told_at end where t.settings is null`,
		[actor.now, summary, atOnce]
	);
	await recordEvent(tx, actor, { verb: 'firm_changed', details: { what: 'usual way of telling its people' } });
}

/** How everybody of the firm is told. */
export async function readTellingOfAll(tx: Tx, actor: Actor): Promise<{ id: string; name: string; role: Role; telling: Telling; own: boolean }[]> {
	requireStaff(actor, 'look');
	const rows = await tx.rows<{ id: string; name: string; role: Role; settings: unknown; usual: unknown }>(
		`select s.id, s.name, s.role, t.settings, f.usual_telling usual from staff s join firm f on f.id = s.firm_id left join staff_telling t on t.staff_id = s.id
		where s.suspended_at is null order by lower(s.name), s.id`
	);
	return rows.map(({ settings, usual, ...person }) => ({ ...person, telling: readSettings(settings ?? usual), own: settings !== null }));
}

/** How somebody is told of a client: whether they are told of anything, whether of this one without having chosen so, and what they chose. */
async function readToldOf(tx: Tx, actor: Staff, clientId: string): Promise<{ anything: boolean; usually: boolean; chosen: boolean | null }> {
	const row = await tx.first<{ settings: unknown; usual: unknown; mine: boolean; told: boolean | null }>(
		`select t.settings, f.usual_telling usual, c.responsible_id = $2 mine, o.told from client c join firm f on f.id = c.firm_id
			left join staff_telling t on t.staff_id = $2 left join staff_told_client o on o.staff_id = $2 and o.client_id = c.id
		where c.id = $1`,
		[clientId, actor.id]
	);
	if (!row) throw new DomainError('not_found', 'There is no such client.');
	const telling = readSettings(row.settings ?? row.usual);
	return { anything: isTold(telling, actor.role), usually: telling.whose === 'all' || row.mine, chosen: row.told };
}

/** Whether whoever asks is told of a client; null for who is told of nothing at all. @throws DomainError not_found */
export async function isToldOf(tx: Tx, actor: Actor, clientId: string): Promise<boolean | null> {
	requireStaff(actor, 'look');
	const { anything, usually, chosen } = await readToldOf(tx, actor, clientId);
	return anything ? (chosen ?? usually) : null;
}

/**
 * Has whoever asks told of a client from now on, or not told. What they would be anyway is not kept apart.
 * @throws DomainError not_found
 */
export async function tellOf(tx: Tx, actor: Actor, input: { clientId: string; told: boolean }): Promise<void> {
	requireStaff(actor, 'look');
	const { usually } = await readToldOf(tx, actor, input.clientId);
	if (input.told === usually) await tellLikeOthers(tx, actor, input.clientId);
	else
		await tx.rows(
			`insert into staff_told_client (staff_id, client_id, firm_id, told) values ($1, $2, $3, $4) on conflict (staff_id, client_id) do update set told = excluded.told`,
			[actor.id, input.clientId, tx.firmId, input.told]
		);
}

/** Has whoever asks told of a client as of others, whichever of them they are told of by now. @throws DomainError not_found */
export async function tellLikeOthers(tx: Tx, actor: Actor, clientId: string): Promise<void> {
	requireStaff(actor, 'look');
	await readToldOf(tx, actor, clientId);
	await tx.rows('delete from staff_told_client where staff_id = $1 and client_id = $2', [actor.id, clientId]);
}
