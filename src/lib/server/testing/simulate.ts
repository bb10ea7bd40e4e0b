import { randomUUID } from 'node:crypto';
import { Temporal } from 'temporal-polyfill';
import { invitationDraft } from '../invitations/invitation-draft';
import { aroundDue } from '$lib/core/chasing/chase-plan';
import { forecastInvitationChases } from '../chasing/chase-invitations';
import { doWhatIsDue } from '../due/do-what-is-due';
import { pauseReminders } from '../chasing/holds';
import { readForecast } from '../chasing/read-forecast';
import { saveChasePlan, stampOfPlan } from '../firm-settings/chase-plans';
import { loadFirm } from '../firms/firm';
import { inviteContacts } from '../invitations/invite';
import { takeUpInvitation } from '../invitations/take-up-invitation';
import { requeueLostMessages } from '../messages/stuck-messages';
import { stopReminders } from '../people/stop-reminders';
import { answerItem } from '../item-kinds/kinds/question';
import { askForTime } from '../items/client-item';
import { acceptItem, moveDueDate, sendItemBack, waiveItem } from '../requests/judge-item';
import { writeRemark } from '../items/remarks';
import { sendRequest } from '../requests/send-request';
import { readRounds } from '../rounds/read-rounds';
import { readAnnouncements } from '../announcements/announce-requests';
import type { KilledWorkers } from './killed-workers';
import { makeClient, makeFirm, questionLine, requestTo, sendPlanned, type TestClient, type TestContext } from './test-firm';

/** What a simulated time came to. */
export interface Simulated {
	days: number;
	acts: number;
	messages: number;
	/** mornings on which the forecast was held against what was planned */
	compared: number;
	/** worker processes that were killed */
	killed: number;
	/** whatever broke a rule, each with its day */
	faults: string[];
}

/** Numbers that look random and are the same for the same seed (mulberry32). */
export function dice(seed: number): () => number {
	let state = seed >>> 0;
	return () => {
		state = (state + 0x6d2b79f5) >>> 0;
		let t = Math.imul(state ^ (state >>> 15), 1 | state);
		t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
		return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
	};
}

/** Kinds that go by themselves, as they stand in the Almanac. */
const BY_ITSELF = `(m.kind in ('chase', 'invitation_chase') or m.idempotency_key like 'announcement %')`;

/**
 * Lets a firm, its clients, a worker and a mail server live for some time, by the real use cases against a real database: staff ask, judge
 * and write, clients answer, ask for time, come in or stop reminders, the worker is late or away for a day, the server refuses, is
 * away or breaks off. Every day is then read from the tables and held against the rules, which are written down here a second time.
 * @param seed the same seed is the same life, as long as no workers are killed
 * @param workers real processes that do the work of some mornings and evenings, and are killed over it
 */
export async function simulate(
	context: TestContext,
	seed: number,
	days: number,
	timeZone: string,
	start = '2026-02-23',
	workers: KilledWorkers | null = null
): Promise<Simulated> {
	const roll = dice(seed * 1009 + timeZone.length);
	const chance = (share: number) => roll() < share;
	const pick = <One>(of: readonly One[]): One => of[Math.floor(roll() * of.length)];
	const result: Simulated = { days, acts: 0, messages: 0, compared: 0, killed: 0, faults: [] };
	const at = (day: Temporal.PlainDate, time: string) => day.toZonedDateTime({ timeZone, plainTime: time }).toInstant().toString();
	let today = Temporal.PlainDate.from(start);
	const holidays = [today.add({ days: 9 }), today.add({ days: 25 })].map(String);
	context.clock.set(at(today, '05:00'));
	const firm = await makeFirm(context, { timeZone, holidays });
	const [first, ...more] = [await makeClient(context, firm, { name: 'One' })];
	const clients: TestClient[] = [
		first,
		...more,
		// one person with two businesses
		await makeClient(context, firm, { name: 'Two', contactId: first.contactId, email: first.email }),
		...(await Promise.all([3, 4, 5].map((n) => makeClient(context, firm, { name: `Client ${n}` })))),
		...(await Promise.all([6, 7].map((n) => makeClient(context, firm, { name: `Client ${n}`, access: false }))))
	];
	const contacts = [...new Set(clients.map((client) => client.contactId))];
	// two people with times of their own: one with hours, one with a quiet day and one reminder a week
	const [hours, quiet] = [clients[3].contactId, clients[4].contactId];
	await context.owner.query('update contact set times = $2 where id = $1', [
		hours,
		JSON.stringify({ timeZone: null, from: '12:00', to: '16:00', quietDays: [], perWeek: null })
	]);
	await context.owner.query('update contact set times = $2 where id = $1', [
		quiet,
		JSON.stringify({ timeZone: null, from: null, to: null, quietDays: [3], perWeek: 1 })
	]);
	const fault = (what: string) => void result.faults.push(`${timeZone}, seed ${seed}, ${today}: ${what}`);
	const isBusinessDay = (day: Temporal.PlainDate) => day.dayOfWeek <= 5 && !holidays.includes(String(day));
	const rows = async <Row extends object>(sql: string, values: unknown[] = []) => (await context.owner.query(sql, values)).rows as Row[];
	const localDay = `to_char(m.planned_at at time zone '${timeZone}', 'YYYY-MM-DD')`;

	/** One thing that somebody does; what is not allowed just now is not done. */
	async function act(): Promise<void> {
		const client = pick(clients);
		const open = await rows<{ id: string; version: number; state: string; contact_id: string }>(
			`select id, version, state, contact_id from item where client_id = $1 and state in ('asked', 'seen', 'started', 'sent_back', 'handed_in')`,
			[client.id]
		);
		const item = open.length > 0 ? pick(open) : null;
		const odalys = firm.odalys();
		const doings: (() => Promise<unknown>)[] = [
			() =>
				sendRequest(
					context,
					firm.id,
					odalys,
					requestTo(
						client,
						Array.from({ length: 1 + Math.floor(roll() * 3) }, (_, i) =>
							questionLine(`Q${i}`, String(today.add({ days: 1 + Math.floor(roll() * 20) })))
						),
						{ withInvitation: true, idempotencyKey: randomUUID(), tellNow: chance(0.1) }
					)
				),
			() =>
				firm.run((tx) =>
					moveDueDate(tx, odalys, { itemId: item!.id, version: item!.version, dueOn: String(today.add({ days: Math.floor(roll() * 15) + 1 })) })
				),
			() => firm.run((tx) => waiveItem(tx, odalys, { itemId: item!.id, version: item!.version })),
			() => firm.run((tx) => acceptItem(tx, odalys, { itemId: item!.id, version: item!.version })),
			() => firm.run((tx) => sendItemBack(tx, odalys, { itemId: item!.id, version: item!.version, reason: 'Again, please.' })),
			() => firm.run((tx) => writeRemark(tx, odalys, { itemId: item!.id, words: 'A word about it.', pinned: null })),
			() => client.run((tx) => answerItem(tx, client.mara(), { itemId: item!.id, answer: 'Here.' })),
			() => client.run((tx) => answerItem(tx, client.mara(), { itemId: item!.id, answer: 'Here.' })),
			() => client.run((tx) => askForTime(tx, client.mara(), { itemId: item!.id, until: String(today.add({ days: 1 + Math.floor(roll() * 25) })) })),
			// until a day, until they are heard from, or until something is done
			() =>
				firm.run(async (tx) =>
					pauseReminders(
						tx,
						odalys,
						await loadFirm(tx),
						pick([{ clientId: client.id }, { contactId: client.contactId, ofClient: client.id }, { itemId: pick(open).id }]),
						{
							until: String(today.add({ days: 2 + Math.floor(roll() * 12) })),
							reason: 'Not now',
							sooner: pick([null, { endsWith: 'heard' as const }, { endsWith: 'done' as const, itemId: pick(open).id }])
						}
					)
				),
			async () => {
				const { subject, body } = await firm.run(async (tx) => invitationDraft(await loadFirm(tx), 'them'));
				await firm.run((tx) =>
					inviteContacts(tx, odalys, { clientId: client.id, contactIds: [client.contactId], subject, body, idempotencyKey: randomUUID() })
				);
			}
		];
		if (chance(0.02)) {
			const [message] = await rows<{ id: string }>(`select id from message where contact_id = $1 and kind = 'chase' limit 1`, [client.contactId]);
			if (message) doings.unshift(() => stopReminders(context.db, { ...odalys, kind: 'nobody', id: null, role: null }, message.id));
		}
		if (chance(0.02)) doings.unshift(() => context.owner.query('update contact set suspended_at = now() where id = $1', [client.contactId]));
		if (chance(0.03))
			doings.unshift(() =>
				firm.run(async (tx) =>
					saveChasePlan(
						tx,
						{ ...firm.partner, role: 'administrator', now: context.clock.now() },
						{ key: 'usual', seen: stampOfPlan((await loadFirm(tx)).chasePlan) },
						{
							name: 'Gentle',
							steps: [
								aroundDue(-1 - Math.floor(roll() * 3)),
								aroundDue(1),
								{ when: { kind: 'silent', days: 2 }, by: 'usual', firmer: chance(0.5) },
								...(chance(0.5)
									? [{ when: { kind: 'weekly' as const, weekday: 3, times: 2 }, by: 'email' as const, firmer: false }]
									: [aroundDue(6)]),
								{ when: { kind: 'after', days: 2 }, by: chance(0.5) ? 'call' : 'partner', firmer: false }
							]
						}
					)
				)
			);
		if (chance(0.15)) {
			const waiting = context.mailer.sent.findLast((mail) => mail.to.address === client.email && /\/join\//.test(mail.text));
			const token = waiting && /\/join\/([\w-]+)/.exec(waiting.text)?.[1];
			if (token)
				doings.unshift(() => takeUpInvitation(context.db, { ...odalys, kind: 'nobody', id: null, role: null }, token, 'kites above the harbour'));
		}
		const doing = chance(0.3) ? doings[0] : pick(doings);
		// what the rules refuse is no act: it is refused with a code, a bug is not
		await doing().then(
			() => result.acts++,
			(error: { code?: unknown; name?: string }) => {
				if (error.name !== 'ZodError' && !(error instanceof TypeError) && error.code === undefined) throw error;
			}
		);
	}

	/** What goes by itself until a time of today if nothing else happens, as the desk shows it. */
	const promised = (until: string) =>
		firm.run(async (tx) => {
			const now = await loadFirm(tx);
			const day = String(today);
			const chases = (await readForecast(tx, firm.odalys(), now, contacts, 1)).filter(
				(chase) => chase.localDay === day && chase.at <= until && !chase.heldBack && chase.by.length > 0
			);
			const invitations = (await forecastInvitationChases(tx, firm.odalys(), now, day)).filter((one) => one.localDay === day && one.at <= until);
			const reminded = new Set(chases.map((chase) => chase.contactId));
			const news = (await readAnnouncements(tx, firm.odalys(), now)).filter(
				(one) => one.localDay === day && one.at <= until && !reminded.has(one.contactId)
			);
			return [
				...chases.map((chase) => `chase ${chase.contactId} ${chase.itemIds.toSorted().join()}`),
				...invitations.map((one) => `invitation_chase ${one.contactId} `),
				...news.map((one) => `request ${one.contactId}`)
			].toSorted();
		});

	async function beat(): Promise<void> {
		const now = context.clock.now();
		await requeueLostMessages(context.place);
		await doWhatIsDue(context, firm.id, now);
		for (let n = 0; n < 3; n++)
			if (chance(0.08))
				context.mailer.answers.push(
					pick([
						{ outcome: 'try_later' as const, reason: 'busy' },
						{ outcome: 'try_later' as const, reason: 'busy' },
						{ outcome: 'unclear' as const, reason: 'cut off' },
						{ outcome: 'refused' as const, reason: 'the mail server answered 550' }
					])
				);
		await sendPlanned(context, firm);
		context.mailer.answers.length = 0;
	}

	/** What went by itself today so far, in the words of `promised`. */
	const gone = async () =>
		(
			await rows<{ what: string }>(
				`select m.kind || ' ' || m.contact_id || case m.kind when 'chase' then ' ' || (select string_agg(item_id::text, ',' order by item_id::text) from message_item where message_id = m.id)
					when 'invitation_chase' then ' ' else '' end what
				from message m where m.firm_id = $1 and ${BY_ITSELF} and m.planned_at >= $2`,
				[firm.id, at(today, '00:00')]
			)
		)
			.map((row) => row.what)
			.toSorted();

	/** Lets real workers do what is due, and be killed over it, until what was promised has gone. */
	async function workAndBeKilled(killed: KilledWorkers, from: string, forecast: string[] | null): Promise<void> {
		const stopped = await killed.run(from, 3, async () => {
			const [{ n }] = await rows<{ n: number }>(`select count(*)::int n from message where firm_id = $1 and state = 'planned' and tries = 0`, [
				firm.id
			]);
			return n === 0 && (forecast === null || JSON.stringify(await gone()) === JSON.stringify(forecast));
		});
		context.clock.set(stopped);
	}

	/** What is reminded of has to be open, and not put off; read while it is still as it was. */
	async function checkNamed(since: string): Promise<void> {
		for (const one of await rows<{ contact_id: string; named: number; open: number; put_off: number }>(
			`select m.contact_id, count(mi.item_id)::int named, count(*) filter (where i.phase = 'open')::int open,
				count(*) filter (where i.asked_time_until > $3::date and mi.step is null)::int put_off
			from message m left join message_item mi on mi.message_id = m.id left join item i on i.id = mi.item_id
			where m.firm_id = $1 and m.kind = 'chase' and m.planned_at >= $2 group by m.id`,
			[firm.id, since, String(today)]
		)) {
			if (one.named === 0 || one.open !== one.named) fault(`a reminder names ${one.named} things, ${one.open} of them open`);
			if (one.put_off > 0) fault('a reminder names what a client asked time for');
		}
	}

	for (let n = 0; n < days; n++) {
		context.clock.set(at(today, '06:00'));
		const beginning = at(today, chance(0.8) ? '09:00' : '10:37');
		const forecast = await promised(beginning);
		const away = chance(0.06);
		const opening = at(today, '09:00');
		if (!away) {
			if (workers && n % 4 === 1) await workAndBeKilled(workers, beginning, forecast);
			else {
				context.clock.set(beginning);
				await beat();
			}
			await checkNamed(opening);
			const fact = await gone();
			result.compared++;
			if (JSON.stringify(fact) !== JSON.stringify(forecast)) fault(`promised ${JSON.stringify(forecast)}, planned ${JSON.stringify(fact)}`);
			for (const time of ['11:20', '13:05', '16:30']) {
				context.clock.set(at(today, time));
				while (chance(0.4)) await act();
				const before = context.clock.now();
				await beat();
				await checkNamed(before);
			}
		}
		context.clock.set(at(today, '19:40'));
		while (chance(0.72)) await act();
		if (workers && !away && n % 8 === 5) await workAndBeKilled(workers, at(today, '19:41'), null);
		else if (!away) await beat();

		// the day as it stands in the tables
		for (const one of await rows<{ contact_id: string; n: number; others: number }>(
			`select m.contact_id, count(*) filter (where ${BY_ITSELF})::int n,
				count(*) filter (where not ${BY_ITSELF} and m.kind in ('request', 'invitation', 'sent_back', 'remark', 'thanks')
					and m.planned_at < (select min(b.planned_at) from message b where b.contact_id = m.contact_id and b.firm_id = m.firm_id
						and (b.kind in ('chase', 'invitation_chase') or b.idempotency_key like 'announcement %') and (b.planned_at at time zone '${timeZone}')::date = $2::text::date))::int others
			from message m where m.firm_id = $1 and m.contact_id is not null and ${localDay} = $2 group by 1`,
			[firm.id, String(today)]
		)) {
			if (one.n > 1) fault(`${one.n} messages by themselves to one person`);
			if (one.n > 0 && one.others > 0) fault('a message by itself after another one on the same day');
		}
		const planned = await rows<{ hour: string; contact_id: string }>(
			`select m.contact_id, to_char(m.planned_at at time zone '${timeZone}', 'HH24:MI') as hour from message m where m.firm_id = $1 and ${BY_ITSELF} and ${localDay} = $2`,
			[firm.id, String(today)]
		);
		if (planned.length > 0 && !isBusinessDay(today)) fault('a message by itself on a day off');
		for (const { hour } of planned) if (hour < '09:00' || hour >= '17:00') fault(`a message by itself at ${hour}`);
		for (const { hour, contact_id } of planned) {
			if (contact_id === hours && (hour < '12:00' || hour >= '16:00')) fault(`a message by itself at ${hour}, outside their own hours`);
			if (contact_id === quiet && today.dayOfWeek === 3) fault('a message by itself on their quiet day');
		}
		// nobody who is late drops out of sight: either a reminder comes, or the firm sees them
		context.clock.set(at(today, '20:00'));
		const late = await rows<{ client_id: string; contact_id: string; id: string }>(
			`select client_id, contact_id, id from item where firm_id = $1 and phase = 'open' and due_on < $2`,
			[firm.id, String(today)]
		);
		if (late.length > 0) {
			const coming = await firm.run(async (tx) => readForecast(tx, firm.odalys(), await loadFirm(tx), contacts, 90));
			const reminded = new Set(coming.filter((chase) => !chase.heldBack).flatMap((chase) => chase.because.map((one) => one.itemId)));
			const { rows: inRounds } = await firm.run(async (tx) => readRounds(tx, firm.odalys(), await loadFirm(tx), { due: (date) => date }));
			const seen = new Set(inRounds.filter((row) => row.section === 'ran_out' || row.section === 'calls').map((row) => row.clientId));
			for (const item of late) if (!reminded.has(item.id) && !seen.has(item.client_id)) fault(`late, not reminded of, and not in Rounds: ${item.id}`);
		}
		today = today.add({ days: 1 });
	}
	// the firm's pace, over the whole time
	const reminders = await rows<{ contact_id: string; days: string[] }>(
		`select m.contact_id, array_agg(distinct ${localDay} order by ${localDay}) days from message m where m.firm_id = $1 and m.kind in ('chase', 'invitation_chase') group by 1`,
		[firm.id]
	);
	for (const { days: on, contact_id } of reminders)
		for (const [i, day] of on.entries()) {
			const ago = (earlier: string) => Temporal.PlainDate.from(earlier).until(day).days;
			if (i > 0 && ago(on[i - 1]) < 2) fault(`reminded on ${on[i - 1]} and on ${day}`);
			if (on.slice(0, i).filter((earlier) => ago(earlier) < 7).length > (contact_id === quiet ? 0 : 1))
				fault(`reminded too often in the week up to ${day}`);
		}
	const ids = [
		...context.mailer.sent.map((mail) => mail.messageId),
		...(workers ? [...workers.received].flatMap(([id, times]) => Array<string>(times).fill(id)) : [])
	];
	if (new Set(ids).size !== ids.length) fault('a message was sent twice');
	// what is said to be sent came in, and what came in is not said to be still on its way
	const arrived = new Set(ids);
	for (const { message_id, state } of await rows<{ message_id: string; state: string }>(
		`select message_id, state from message where firm_id = $1 and channel = 'email'`,
		[firm.id]
	)) {
		if (state === 'sent' && !arrived.has(message_id)) fault(`a message is said to be sent and never came in: ${message_id}`);
		if (arrived.has(message_id) && !['sent', 'unclear', 'sending'].includes(state)) fault(`a message came in and is ${state}: ${message_id}`);
	}
	result.killed = workers?.killed ?? 0;
	result.messages = (await rows<{ n: number }>('select count(*)::int n from message where firm_id = $1', [firm.id]))[0].n;
	return result;
}
