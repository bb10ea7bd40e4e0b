import { compareInstants, type IsoInstant } from '$lib/core/calendar/firm-calendar';
import type { Role } from '$lib/core/people/roles';
import { isSummaryDue, mayTellAgain, settledBy, verbsTold, type Telling } from '$lib/core/telling/telling';
import type { Told } from '$lib/core/telling/told';
import { machine, type Staff } from '../actor';
import { loadFirm } from '../firms/firm';
import { planMessage } from '../outbox/plan-message';
import { asStaff, type Database, type Tx } from '../platform/db/database';
import { readAtOnce, readSummary } from './read-told';
import { readSettings } from './settings';

interface ToldRow {
	staff_id: string;
	name: string;
	email: string;
	role: Role;
	settings: unknown;
	usual: unknown;
	summary_at: string;
	told_at: string;
	at_once_at: string | null;
}
const TOLD = `select t.staff_id, s.name, s.email::text, s.role, t.settings, f.usual_telling usual, t.summary_at, t.told_at, t.at_once_at
	from staff_telling t join staff s on s.id = t.staff_id join firm f on f.id = t.firm_id`;

/**
 * Tells the people of a firm what they want to know: at once, and in their summaries, each once. Safe to run at any time, by several
 * workers at once.
 * @returns how many messages were planned
 */
export async function tellStaff(db: Database, firmId: string, now: IsoInstant): Promise<number> {
	const due = await db.inFirm(firmId, async (tx) => {
		const firm = await loadFirm(tx);
		// nobody's mail leaves a practice workspace
		if (firm.isPractice) return [];
		// whoever came since the usual way was chosen is told from now on
		await tx.rows(
			`insert into staff_telling (staff_id, firm_id, summary_at, told_at) select s.id, s.firm_id, $2, $2 from staff s join firm f on f.id = s.firm_id
			where f.id = $1 and f.usual_telling is not null and s.password_hash is not null and not exists (select from staff_telling t where t.staff_id = s.id)
			on conflict do nothing`,
			[firmId, now]
		);
		const rows = await tx.rows<ToldRow>(`${TOLD} where t.firm_id = $1 and s.suspended_at is null`, [firmId]);
		const newest = (
			await tx.first<{ at: string | null }>(`select max(at) at from event where firm_id = $1 and actor_kind <> 'staff' and at <= $2`, [
				firmId,
				settledBy(now)
			])
		)?.at;
		return rows.filter((row) => {
			const telling = readSettings(row.settings ?? row.usual);
			return isSummaryDue(telling, firm.calendar, row.summary_at, now) || (newest && newest > row.told_at && atOnceDue(row, telling, now));
		});
	});
	let planned = 0;
	for (const { staff_id } of due) planned += await asStaff(db, staff_id).inFirm(firmId, (tx) => tellOne(tx, staff_id, now));
	return planned;
}

const atOnceDue = (row: ToldRow, telling: Telling, now: IsoInstant): boolean =>
	verbsTold(telling, row.role, 'at_once').length > 0 && mayTellAgain(row.at_once_at, now) && compareInstants(row.told_at, settledBy(now)) < 0;

/** Tells one person; the row of how they are told is held, so that nobody else does meanwhile. */
async function tellOne(tx: Tx, staffId: string, now: IsoInstant): Promise<number> {
	const row = await tx.first<ToldRow>(`${TOLD} where t.staff_id = $1 and s.suspended_at is null for update of t`, [staffId]);
	if (!row) return 0;
	const firm = await loadFirm(tx);
	const telling = readSettings(row.settings ?? row.usual);
	const person: Staff = { kind: 'staff', id: staffId, name: row.name, role: row.role, now, ip: '', userAgent: '' };
	const through = settledBy(now);
	const plan = async (kind: 'summary' | 'told_at_once', told: Told) =>
		(await planMessage(tx, machine(now), {
			kind,
			idempotencyKey: `${kind} ${staffId} ${told.through}`,
			to: { address: row.email, staffId },
			content: { told }
		})) === null
			? 0
			: 1;
	let planned = 0;
	if (atOnceDue(row, telling, now)) {
		const told = await readAtOnce(tx, person, telling, row.told_at, through);
		await tx.rows('update staff_telling set told_at = $2, at_once_at = case when $3 then $4::timestamptz else at_once_at end where staff_id = $1', [
			staffId,
			through,
			told !== null,
			now
		]);
		if (told) planned += await plan('told_at_once', told);
	}
	if (isSummaryDue(telling, firm.calendar, row.summary_at, now)) {
		const told = await readSummary(tx, person, firm, telling, settledBy(row.summary_at), through);
		await tx.rows('update staff_telling set summary_at = $2 where staff_id = $1', [staffId, now]);
		if (told) planned += await plan('summary', told);
	}
	return planned;
}
