import { setImmediate } from 'node:timers/promises';
import { addDays, localDate } from '$lib/core/calendar/firm-calendar';
import { untilSigned } from '$lib/core/requests/after-letters';
import type { ListLine } from '$lib/core/requests/request-list';
import { dueIn, occurrences, occurrencesThrough, type Occurrence, type Schedule } from '$lib/core/schedules/recurrence';
import { periodWords } from '$lib/words/dates';
import { requireStaff, type Actor } from '../actor';
import type { Firm } from '../firms/firm';
import type { Tx } from '../platform/db/database';
import { COLUMNS, scheduleOfRow, SOURCE, type Placed, type RecurringRequest, type RecurringRow } from './recurring-requests';

export interface OccurrenceRow extends Occurrence {
	/** in the client's language */
	title: string;
	dues: string[];
}

/** The first day of the rule that was not dealt with. */
export const startOf = (recurring: Pick<RecurringRequest, 'doneThrough' | 'schedule'>) =>
	recurring.doneThrough ? addDays(recurring.doneThrough, 1) : recurring.schedule.startsOn;

/** What an occurrence is called. @param language of the client */
const titleOf = (title: string, occurrence: Occurrence, language: string) =>
	title.replace(/\{period\}/g, occurrence.period ? periodWords(language, occurrence.period) : '');

/** The next occurrences of a standing request, skipped ones included, with their titles and due dates. */
export function comingOccurrences(recurring: RecurringRequest, firm: Firm, most: number): OccurrenceRow[] {
	return describeOccurrences(recurring.schedule, recurring, startOf(recurring), firm, most);
}

/** The same for what is only being written. */
export function describeOccurrences(
	schedule: Schedule,
	of: { title: string; lines: readonly Pick<ListLine, 'due'>[] },
	from: string,
	firm: Firm,
	most: number
): OccurrenceRow[] {
	return occurrences(schedule, from, most, firm.calendar).map((occurrence) => ({
		...occurrence,
		title: titleOf(of.title, occurrence, firm.clientLanguage),
		dues: [...new Set(of.lines.map((line) => dueIn(occurrence, line.due, firm.calendar)))].sort()
	}));
}

/** What became of the occurrences so far, newest first. */
export async function readMadeOccurrences(
	tx: Tx,
	actor: Actor,
	recurringId: string
): Promise<
	{
		ruleDay: string;
		outcome: 'made' | 'skipped' | 'passed_over';
		at: string;
		title: string | null;
		open: number;
		items: number;
		told: boolean;
		quiet: boolean;
	}[]
> {
	requireStaff(actor, 'look');
	return tx.rows(
		`select o.rule_day as "ruleDay", o.outcome, o.at, r.title, r.quiet is true quiet, coalesce(i.open, 0) as open, coalesce(i.items, 0) items,
			not exists (select from request_announcement a where a.request_id = r.id and a.told_at is null) told
		from recurring_occurrence o left join request r on r.id = o.request_id
			left join lateral (select count(*) items, count(*) filter (where phase = 'open') open from item where request_id = r.id) i on true
		where o.recurring_id = $1 order by o.rule_day desc limit 40`,
		[recurringId]
	);
}

/** Most standing requests that the Almanac looks at: more than anybody reads in four weeks. */
const APPEARING_MOST = 2000;
/** How many of them are placed before others have their turn. */
const AT_A_TIME = 200;
const BY_NAME = new Intl.Collator('en');

export interface Appearing {
	key: string;
	day: string;
	time: string;
	clientId: string;
	clientName: string;
	contactId: string;
	contactName: string;
	/** nobody is told of it */
	quiet: boolean;
	recurringId: string;
	title: string;
	lines: number;
	/** why it does not appear, though it is its day */
	heldBack: string | null;
}

/** What appears by itself in the coming days, and what would but for a pause, with why the client does not see it yet. */
export async function readAppearing(tx: Tx, actor: Actor, firm: Firm, days: number): Promise<Appearing[]> {
	requireStaff(actor, 'look');
	const through = addDays(localDate(actor.now, firm.calendar), days);
	// the lines themselves are large, and nobody reads them here
	const rows = await tx.rows<
		Pick<
			RecurringRow,
			| Placed
			| 'id'
			| 'clientId'
			| 'clientName'
			| 'clientIsActive'
			| 'contactId'
			| 'contactName'
			| 'title'
			| 'state'
			| 'after'
			| 'doneThrough'
			| 'quiet'
		> & {
			lines: number;
		}
	>(
		`select ${COLUMNS.replace('s.lines', 'jsonb_array_length(s.lines) lines')} ${SOURCE} where s.firm_id = $1 and s.state <> 'ended' and (s.next_rule_day <= $2::date + 10
			or exists (select from unnest(s.skipped) skipped where skipped <= $2::date and (s.done_through is null or skipped > s.done_through))) order by s.next_rule_day, s.id limit $3`,
		[tx.firmId, through, APPEARING_MOST]
	);
	// most of a firm's standing requests follow the same few rules: each is placed once
	const placed = new Map<string, Occurrence[]>();
	const occurrencesOf = (schedule: Schedule, start: string) => {
		const key = JSON.stringify([schedule, start]);
		const known = placed.get(key) ?? occurrencesThrough(schedule, start, through, 31, firm.calendar);
		placed.set(key, known);
		return known;
	};
	const appearing: Appearing[] = [];
	for (let begun = 0; begun < rows.length; begun += AT_A_TIME) {
		// other requests are not kept waiting for all of them
		if (begun > 0) await setImmediate();
		for (const row of rows.slice(begun, begun + AT_A_TIME)) {
			const schedule = scheduleOfRow(row);
			const due = occurrencesOf(schedule, startOf({ ...row, schedule })).filter((occurrence) => occurrence.askedOn <= through);
			appearing.push(
				...due.map((occurrence) => ({
					key: `${row.id} ${occurrence.ruleDay}`,
					day: occurrence.askedOn,
					time: schedule.at,
					clientId: row.clientId,
					clientName: row.clientName,
					contactId: row.contactId,
					contactName: row.contactName,
					quiet: row.quiet,
					recurringId: row.id,
					title: titleOf(row.title, occurrence, firm.clientLanguage),
					lines: row.lines,
					heldBack: occurrence.skipped
						? 'skipped'
						: row.state === 'paused'
							? row.after.length > 0
								? `paused ${untilSigned(row.after)}`
								: 'paused'
							: row.clientIsActive
								? null
								: 'the client is on hold'
				}))
			);
		}
	}
	return appearing.sort((a, b) => (a.day === b.day ? BY_NAME.compare(a.clientName, b.clientName) : a.day < b.day ? -1 : 1));
}
