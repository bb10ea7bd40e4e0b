import { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import type { AwaitedLetter } from '$lib/core/requests/after-letters';
import { listLineSchema, type ListLine } from '$lib/core/requests/request-list';
import type { Pattern, Schedule } from '$lib/core/schedules/recurrence';
import type { CatchUp } from '$lib/core/schedules/recurring-form';
import { requireStaff, type Actor } from '../actor';
import type { Tx } from '../platform/db/database';

export interface RecurringRequest {
	id: string;
	clientId: string;
	clientName: string;
	clientIsActive: boolean;
	contactId: string;
	contactName: string;
	others: string[];
	listId: string | null;
	title: string;
	message: string;
	lines: ListLine[];
	pattern: Pattern | null;
	schedule: Schedule;
	quiet: boolean;
	catchUp: CatchUp;
	state: 'running' | 'paused' | 'ended';
	stateReason: string | null;
	resumedAt: string | null;
	doneThrough: string | null;
	nextAt: string | null;
	/** paused until this day */
	resumesOn: string | null;
	/** paused until these letters are signed by all */
	after: AwaitedLetter[];
	problem: string | null;
	changedBy: string;
	version: number;
}

export interface RecurringRow extends Omit<RecurringRequest, 'schedule' | 'lines'> {
	lines: unknown;
	rule: string;
	startsOn: string;
	endsOn: string | null;
	times: number | null;
	appearsAt: string;
	roll: Schedule['roll'];
	periodKind: Schedule['period']['kind'];
	periodShift: number;
	skipped: string[];
	moved: Record<string, string>;
}

export const COLUMNS = `s.id, s.client_id as "clientId", cl.name as "clientName", cl.state = 'active' as "clientIsActive", s.contact_id as "contactId", c.name as "contactName", s.others,
	s.list_id as "listId", s.title, s.message, s.lines, s.pattern, s.rule, s.starts_on as "startsOn", s.ends_on as "endsOn", s.times, s.appears_at as "appearsAt", s.roll, s.period_kind as "periodKind",
	s.period_shift as "periodShift", s.skipped, s.moved, s.quiet, s.catch_up as "catchUp", s.state, s.state_reason as "stateReason", s.resumed_at as "resumedAt", s.done_through as "doneThrough",
	s.next_at as "nextAt", s.resumes_on as "resumesOn", case when s.after_letters = '{}' then '[]' else awaited_letters(s.after_letters) end as after, s.problem, st.name as "changedBy", s.version`;
export const SOURCE = `from recurring_request s join client cl on cl.id = s.client_id join contact c on c.id = s.contact_id join staff st on st.id = s.changed_by_id`;

export type Placed = 'rule' | 'startsOn' | 'endsOn' | 'times' | 'appearsAt' | 'roll' | 'periodKind' | 'periodShift' | 'skipped' | 'moved';
export const scheduleOfRow = (row: Pick<RecurringRow, Placed>): Schedule => ({
	rule: row.rule,
	startsOn: row.startsOn,
	endsOn: row.endsOn,
	times: row.times,
	at: row.appearsAt,
	roll: row.roll,
	period: { kind: row.periodKind, shift: row.periodShift },
	skipped: row.skipped,
	moved: row.moved
});

export function asRecurring(row: RecurringRow): RecurringRequest {
	const {
		rule: _r,
		startsOn: _s,
		endsOn: _e,
		times: _t,
		appearsAt: _a,
		roll: _o,
		periodKind: _k,
		periodShift: _h,
		skipped: _i,
		moved: _m,
		lines,
		...rest
	} = row;
	return { ...rest, lines: z.array(listLineSchema).parse(lines), schedule: scheduleOfRow(row) };
}

/** The standing requests of a client, those that have ended last. */
export async function readRecurringRequests(tx: Tx, actor: Actor, clientId: string): Promise<RecurringRequest[]> {
	requireStaff(actor, 'look');
	const rows = await tx.rows<RecurringRow>(
		`select ${COLUMNS} ${SOURCE} where s.client_id = $1 order by s.state = 'ended', s.next_at nulls last, s.id`,
		[clientId]
	);
	return rows.map(asRecurring);
}

/** @throws DomainError not_found */
export async function readRecurring(tx: Tx, actor: Actor, id: string): Promise<RecurringRequest> {
	requireStaff(actor, 'look');
	return lockedOrFound(await tx.first<RecurringRow>(`select ${COLUMNS} ${SOURCE} where s.id = $1`, [id]));
}

function lockedOrFound(row: RecurringRow | null): RecurringRequest {
	if (!row) throw new DomainError('not_found', 'There is no such standing request.');
	return asRecurring(row);
}

export async function lockRecurring(tx: Tx, id: string): Promise<RecurringRequest> {
	return lockedOrFound(await tx.first<RecurringRow>(`select ${COLUMNS} ${SOURCE} where s.id = $1 for update of s`, [id]));
}
