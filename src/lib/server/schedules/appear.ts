import { randomUUID } from 'node:crypto';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { fillText } from '$lib/core/letters/merge-fields';
import { onceSigned, type AwaitedLetter } from '$lib/core/requests/after-letters';
import type { ListLine, RequestLine } from '$lib/core/requests/request-list';
import { tailor } from '$lib/core/requests/tailoring';
import { dueIn, occurrencesThrough, type Occurrence } from '$lib/core/schedules/recurrence';
import { toCatchUp } from '$lib/core/schedules/recurring-form';
import { periodWords } from '$lib/words/dates';
import { say } from '$lib/words/words';
import { machine, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { withBrandOf } from '../firms/brands';
import { loadFirm, type Firm } from '../firms/firm';
import { automaticValues } from '../letters/prepare-letter';
import type { Database, Tx } from '../platform/db/database';
import { loadFacts } from '../facts/firm-facts';
import { factValueWords } from '../requests/begin-request';
import { readRecipient } from '../requests/recipients';
import { writeRequest } from '../requests/send-request';
import { readClientsKnown } from '../clients/clients-known';
import { readOverrides } from '../requests/tailor-list';
import { readKnownStatements, spreadStatements } from '../statements/accounts';
import { placeNext } from './change-recurring';
import { startOf } from './read-occurrences';
import { asRecurring, COLUMNS, SOURCE, type RecurringRequest, type RecurringRow } from './recurring-requests';

/** A title or message with its period and other fields put in, in a reader's language. */
function filled(text: string, values: Record<string, string>, occurrence: Pick<Occurrence, 'period'>, locale: string): string {
	return fillText(text, { ...values, period: occurrence.period ? periodWords(locale, occurrence.period) : '' })
		.replace(/ ?\{period\}/g, '')
		.trim();
}

/** Makes one occurrence: its request, made to fit the client as they are now. @returns the request's id */
export async function appear(tx: Tx, actor: Actor, firm: Firm, recurring: RecurringRequest, occurrence: Occurrence): Promise<string> {
	const seen = await withBrandOf(tx, firm, { clientId: recurring.clientId });
	const people = [];
	for (const id of [recurring.contactId, ...recurring.others]) people.push({ id, ...(await readRecipient(tx, recurring.clientId, id)) });
	const [recipient] = people;
	const values = automaticValues(seen, recipient, actor.now);
	const client = (await readClientsKnown(tx, [recurring.clientId], localDate(actor.now, firm.calendar))).get(recurring.clientId)!;
	const overrides = recurring.listId ? ((await readOverrides(tx, recurring.listId, [recurring.clientId])).get(recurring.clientId) ?? {}) : {};
	const { lines: tailored } = tailor(recurring.lines, client, overrides, await loadFacts(tx), factValueWords(firm, actor));
	const statements = (await readKnownStatements(tx, actor, [recurring.clientId]))(recurring.clientId);
	const asked: (ListLine & { account: RequestLine['account'] })[] = [];
	for (const [i, line] of recurring.lines.entries()) {
		if (tailored[i].out) continue;
		const of = line.kind === 'paper' ? line.spec.statementsOf : 'none';
		if (of === 'none' || !occurrence.period) {
			asked.push({ ...line, account: null });
			continue;
		}
		// one line for each account and statement; without any account the line itself asks
		if (!statements.accounts.some((account) => of === 'all' || account.kind === of)) asked.push({ ...line, account: null });
		for (const one of spreadStatements(statements, { ...line, of }, occurrence.period, recipient.locale))
			asked.push({ ...line, key: `${line.key.slice(0, 20)} ${one.account.to}`, title: one.title, heading: one.heading, account: one.account });
	}
	const lines = asked.map(
		(line) =>
			({
				...line,
				title: filled(line.title, values, occurrence, recipient.locale),
				dueOn: dueIn(occurrence, line.due, firm.calendar)
			}) as RequestLine
	);
	const outcome = lines.length > 0 ? 'made' : 'passed_over';
	const [claimed] = await tx.rows(
		`insert into recurring_occurrence (firm_id, recurring_id, rule_day, outcome, at) values ($1, $2, $3, $4, $5) on conflict do nothing returning rule_day`,
		[tx.firmId, recurring.id, occurrence.ruleDay, outcome, actor.now]
	);
	if (!claimed) throw new DomainError('changed_meanwhile', 'This one has been made already.');
	const title = filled(recurring.title, values, occurrence, recipient.locale).slice(0, 160);
	if (lines.length === 0) {
		await recordEvent(tx, actor, { verb: 'occurrence_empty', clientId: recurring.clientId, details: { title } });
		return '';
	}
	const requestId = await writeRequest(
		tx,
		actor,
		seen,
		people,
		{
			clientId: recurring.clientId,
			contactId: recurring.contactId,
			others: recurring.others,
			each: false,
			title,
			message: recurring.message
				? filled(recurring.message, values, occurrence, recipient.locale)
				: say(recipient.locale, 'mail.request.body', { client: recipient.clientName }),
			quiet: recurring.quiet,
			tellNow: false,
			lines,
			withInvitation: false,
			idempotencyKey: randomUUID(),
			list: null
		},
		new Map(),
		{ tell: 'together', recurring: { id: recurring.id, period: occurrence.period } }
	);
	await tx.rows('update recurring_occurrence set request_id = $3 where recurring_id = $1 and rule_day = $2', [
		recurring.id,
		occurrence.ruleDay,
		requestId
	]);
	return requestId;
}

/** Most occurrences of one standing request that are made in one go: the rest follow at the next beat. */
const AT_ONCE = 40;

/**
 * Makes everything of a firm that is due to appear. Each standing request in a transaction of its own, its row locked: an
 * occurrence is made exactly once, however many workers there are and wherever one of them is cut off.
 * @returns how many requests appeared
 */
export async function appearDue(db: Database, firmId: string, now: string): Promise<number> {
	const due = await db.inFirm(firmId, async (tx) => {
		await resumePaused(tx, now);
		return tx.rows<{ id: string }>(
			`select s.id from recurring_request s join client cl on cl.id = s.client_id and cl.state = 'active'
			where s.firm_id = $1 and s.state = 'running' and s.next_at <= $2 order by s.next_at, s.id`,
			[firmId, now]
		);
	});
	let appeared = 0;
	for (const { id } of due) appeared += await db.inFirm(firmId, (tx) => appearOne(tx, id, now));
	return appeared;
}

/** Lets go on what was paused until a day that has come, or until letters are signed by all. */
async function resumePaused(tx: Tx, now: string): Promise<void> {
	const firm = await loadFirm(tx);
	const resumed = await tx.rows<{ client_id: string; title: string; letters: AwaitedLetter[] }>(
		`with ready as (
			select id, after_letters letters from recurring_request where firm_id = $1 and state = 'paused'
				and case when after_letters = '{}' then resumes_on <= $3 else letters_say(after_letters) = 'signed' end for update
		)
		update recurring_request s set state = 'running', state_reason = null, resumed_at = $2, resumes_on = null, after_letters = '{}', version = s.version + 1
		from ready where s.id = ready.id returning s.client_id, s.title, awaited_letters(ready.letters) letters`,
		[tx.firmId, now, localDate(now, firm.calendar)]
	);
	for (const one of resumed)
		await recordEvent(tx, machine(now), {
			verb: 'standing_resumed',
			clientId: one.client_id,
			details: { title: one.title, reason: one.letters.length > 0 ? `it was to go on ${onceSigned(one.letters)}` : 'its pause is over' }
		});
}

async function appearOne(tx: Tx, id: string, now: string): Promise<number> {
	const row = await tx.first<RecurringRow>(
		`select ${COLUMNS} ${SOURCE} where s.id = $1 and s.state = 'running' and s.next_at <= $2 and cl.state = 'active' for update of s skip locked`,
		[id, now]
	);
	if (!row) return 0;
	const recurring = asRecurring(row);
	const firm = await loadFirm(tx);
	const actor = machine(now);
	const coming = occurrencesThrough(recurring.schedule, startOf(recurring), localDate(now, firm.calendar), AT_ONCE, firm.calendar);
	const due = coming.filter((occurrence) => Date.parse(occurrence.at) <= Date.parse(now));
	// a moved day may come after later ones: only what lies before the first that is still to come is dealt with
	const upTo = coming.find((occurrence) => Date.parse(occurrence.at) > Date.parse(now) && !occurrence.skipped);
	const ready = due.filter((occurrence) => !upTo || occurrence.ruleDay < upTo.ruleDay);
	const { made, passedOver } = toCatchUp(
		ready.filter((occurrence) => !occurrence.skipped),
		await pausedUntil(tx, recurring),
		recurring.catchUp
	);
	let count = 0;
	for (const occurrence of made) {
		// asked on the day it really appears: nobody is late before they were asked
		const askedOn = localDate(now, firm.calendar);
		if (await appear(tx, actor, firm, recurring, { ...occurrence, askedOn: occurrence.askedOn > askedOn ? occurrence.askedOn : askedOn })) count++;
	}
	for (const occurrence of passedOver) {
		await tx.rows(
			`insert into recurring_occurrence (firm_id, recurring_id, rule_day, outcome, at) values ($1, $2, $3, 'passed_over', $4) on conflict do nothing`,
			[tx.firmId, id, occurrence.ruleDay, now]
		);
		await recordEvent(tx, actor, {
			verb: 'occurrence_passed_over',
			clientId: recurring.clientId,
			details: { title: recurring.title, day: occurrence.ruleDay }
		});
	}
	const last = ready.at(-1)?.ruleDay ?? recurring.doneThrough;
	await placeNext(tx, recurring, last, firm);
	return count;
}

/** When a pause of the request or of its client ended last, or null. */
async function pausedUntil(tx: Tx, recurring: RecurringRequest): Promise<string | null> {
	const client = await tx.first<{ at: string | null }>(
		`select max(at) at from event where client_id = $1 and verb in ('client_unlocked', 'client_reopened')`,
		[recurring.clientId]
	);
	return (
		[recurring.resumedAt, client?.at ?? null]
			.filter((at): at is string => at !== null)
			.sort((a, b) => Date.parse(a) - Date.parse(b))
			.at(-1) ?? null
	);
}
