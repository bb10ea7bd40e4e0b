import { randomUUID } from 'node:crypto';
import { Readable } from 'node:stream';
import { addBusinessDays, addDays, compareInstants, localInstant, openingsBetween, type FirmCalendar } from '../src/lib/core/calendar/firm-calendar';
import { fillText } from '../src/lib/core/letters/merge-fields';
import { READY_MADE_LETTER } from '../src/lib/core/letters/ready-made-letter';
import type { RequestLine } from '../src/lib/core/requests/request-list';
import { dueDate } from '../src/lib/core/schedules/due-rule';
import type { Actor } from '../src/lib/server/actor';
import { doWhatIsDue } from '../src/lib/server/due/do-what-is-due';
import { addClient, findContactByEmail } from '../src/lib/server/clients/add-client';
import { noteCall } from '../src/lib/server/chasing/calls';
import { saveChasePlan } from '../src/lib/server/firm-settings/chase-plans';
import { changeContact } from '../src/lib/server/clients/contacts';
import { sayFact } from '../src/lib/server/clients/client-facts';
import { moveClient, writeEngagement } from '../src/lib/server/clients/client-record';
import { writeNote } from '../src/lib/server/talk/notes';
import { addFact } from '../src/lib/server/facts/change-facts';
import { loadFacts } from '../src/lib/server/facts/firm-facts';
import type { AppContext } from '../src/lib/server/context/app-context';
import { inviteContacts } from '../src/lib/server/invitations/invite';
import { openInvitation, takeUpInvitation } from '../src/lib/server/invitations/take-up-invitation';
import { takeInPaper } from '../src/lib/server/papers/papers';
import type { handClock } from '../src/lib/server/platform/clock';
import { derivedToken, keysOf } from '../src/lib/server/platform/tokens';
import { READY_MADE_FORMS } from '../src/lib/core/requests/client-forms';
import { playArrivals } from './arrivals';
import { playTalk } from './talk';
import { playReceipts } from './receipts';
import { playSharedPapers } from './shared-papers';
import { playSigning } from './signing';
import { playStatements } from './statements';
import { playQuestionnaires } from './questionnaires';
import { readForms, writeForm } from '../src/lib/server/library/client-forms';
import { raiseRequest } from '../src/lib/server/requests/own-requests';
import { answerItem } from '../src/lib/server/item-kinds/kinds/question';
import { answerQuestionnaire } from '../src/lib/server/item-kinds/kinds/questionnaire';
import { handInPapers } from '../src/lib/server/item-kinds/kinds/paper';
import { sayDoesNotApply, seeItem } from '../src/lib/server/items/client-item';
import { acceptItem, sendItemBack } from '../src/lib/server/requests/judge-item';
import { askManyFilterSchema, prepareForMany } from '../src/lib/server/requests/ask-many';
import { writeOwnRemark } from '../src/lib/server/items/remarks';
import { writeRecurring } from '../src/lib/server/schedules/change-recurring';
import { writeAccount } from '../src/lib/server/statements/accounts';
import { READY_MADE_LISTS } from '../src/lib/core/requests/ready-made-lists';
import { recurringSchema } from '../src/lib/core/schedules/recurring-form';
import { loadFirm } from '../src/lib/server/firms/firm';
import { sendDraft } from '../src/lib/server/requests/send-draft';
import { answerStatementLine } from '../src/lib/server/transactions/answer-statement-lines';
import { beginStatementLineQuestion, statementLineFilterSchema } from '../src/lib/server/transactions/choose-statement-lines';
import { bringInTransactions } from '../src/lib/server/transactions/transaction-files';
import { sendRequest } from '../src/lib/server/requests/send-request';
import { letterGoesOn } from '../src/lib/server/requests/letter-goes-on';
import { countersignLetter } from '../src/lib/server/signing/countersign-letter';
import { noteLetterOpened, noteShownWhole, signLetter } from '../src/lib/server/signing/sign-letter';
import { dateWords } from '../src/lib/words/dates';
import { say } from '../src/lib/words/words';
import { addList } from '../src/lib/server/library/request-lists';
import { demoStatement } from './demo-papers';
import { DEMO_LISTS } from './lists';
import {
	ACCOUNTS,
	CALLED,
	CONTACT_PASSWORD,
	DEMO_PLANS,
	DRAFTS_FOR,
	FORMS,
	FRENCH,
	QUESTION,
	STANDING,
	TRANSACTIONS,
	RAISED,
	RECORDS,
	TEXTED,
	type DemoClient,
	OWN_FACTS,
	type DemoRequest,
	type StaffKey
} from './scenario';

const ANSWERS = [
	'We build and repair, mostly by hand, and sell at the market and by post.',
	'Two people, both paid monthly.',
	'R-204-881, registered in 2023.',
	'Nothing out of the ordinary.',
	'About 4,300, mostly to the island and back.'
];

/** What the scenario is played in and with. */
export interface Stage {
	context: Pick<AppContext, 'db' | 'papers' | 'pdf' | 'lists' | 'lines' | 'limits'>;
	/** set to each moment of the scenario in turn */
	clock: ReturnType<typeof handClock>;
	firmId: string;
	firmName: string;
	/** who plays whom of the scenario's firm */
	staff: ReadonlyMap<StaffKey, Actor>;
	services: ReadonlyMap<string, string>;
	calendar: FirmCalendar;
	secretKey: string;
	/** of the product's addresses */ origin: string;
	clients: readonly DemoClient[];
	/** the scenario begins and ends at these instants */
	from: string;
	until: string;
	/** days by which everything lies later than it is written in the scenario: whole weeks, so that weekdays stay */
	shiftDays: number;
	/** sends what is planned, and waits until it is */
	sendAll(): Promise<void>;
	/** further acts */
	more?(stage: {
		at(day: string, time: string, run: () => Promise<void>): void;
		on(day: string): string;
		as(key: StaffKey): Actor;
		clock: Stage['clock'];
	}): void;
	/** told after each act, from 0 to 1 */
	progress?(share: number): Promise<void> | void;
}

/** "Your papers for March", for a request that goes out in April. */
function papersOfMonthBefore(day: string): string {
	return `Your papers for ${dateWords('en', addDays(`${day.slice(0, 8)}01`, -1), 'month')}`;
}

/** Plays several months of the firm's life through the use cases, day by day. */
export async function playScenario(stage: Stage): Promise<void> {
	const { context, clock, firmId, firmName, staff, services, calendar, secretKey, origin, clients, from, until, sendAll, more, progress } = stage;
	const on = (day: string) => addDays(day, stage.shiftDays);
	const acts: { at: string; order: number; run: () => Promise<void> }[] = [];
	let order = 0;
	const at = (day: string, time: string, run: () => Promise<void>) => {
		const instant = localInstant(day, time, calendar);
		if (compareInstants(instant, until) < 0) acts.push({ at: instant, order: order++, run });
	};
	const later = (day: string, days: number) => addBusinessDays(day, days, calendar);
	const as = (key: StaffKey): Actor => ({ ...staff.get(key)!, now: clock.now() });
	const inFirm = context.db.inFirm.bind(context.db);

	// what the firm asks with; a workspace that is filled again has them already
	clock.set(from);
	await inFirm(firmId, async (tx) => {
		const known = new Set((await loadFacts(tx)).all.map(({ label }) => label));
		for (const fact of OWN_FACTS) if (!known.has(fact.label)) await addFact(tx, as('odalys'), fact);
	});
	const lists = new Map<DemoRequest['list'], string>();
	for (const key of Object.keys(DEMO_LISTS) as DemoRequest['list'][]) {
		const known = await inFirm(firmId, (tx) =>
			tx.first<{ id: string }>('select id from request_list where name = $1 and ended_at is null', [DEMO_LISTS[key].name])
		);
		lists.set(key, known?.id ?? (await inFirm(firmId, (tx) => addList(tx, as('odalys'), DEMO_LISTS[key]))));
	}
	const plans = new Map<string, string>();
	for (const [key, plan] of Object.entries(DEMO_PLANS))
		await inFirm(firmId, async (tx) => {
			const known = (await loadFirm(tx)).furtherPlans.find(({ name }) => name === plan.name);
			plans.set(key, known?.key ?? (await saveChasePlan(tx, { ...as('odalys'), role: 'administrator' }, { key: null }, plan)));
		});
	clients.forEach((spec, index) => play(spec, index));

	/** What the firm writes down about a client over time. */
	function record(spec: DemoClient, index: number, ids: { client: string; contact: string }): void {
		const kept = RECORDS[spec.name];
		const [name, email] = spec.contact;
		at(on(spec.addedOn), '10:55', () =>
			inFirm(firmId, (tx) =>
				changeContact(tx, as('odalys'), {
					clientId: ids.client,
					contactId: ids.contact,
					name,
					email,
					phone: `+1902555${String(100 + (index % 100)).padStart(4, '0')}`,
					role: kept?.role ?? null,
					channels: TEXTED[spec.name] ?? 'email',
					locale: FRENCH.has(spec.name) ? 'fr' : 'en'
				})
			)
		);
		for (const [fact, value, said, by] of kept?.facts ?? [])
			at(on(said), '14:20', () => inFirm(firmId, (tx) => sayFact(tx, as(by), { clientId: ids.client, name: fact, value })));
		for (const [engagement, beganOn, chosen] of kept?.engagements ?? [])
			at(on(beganOn), '11:00', () =>
				inFirm(firmId, (tx) =>
					writeEngagement(tx, as('odalys'), {
						clientId: ids.client,
						engagementId: null,
						name: engagement,
						beganOn: on(beganOn),
						services: chosen.map((service) => services.get(service)!)
					})
				)
			);
		for (const [words, said, by] of kept?.notes ?? [])
			at(on(said), '16:10', () => inFirm(firmId, (tx) => writeNote(tx, as(by), { clientId: ids.client, words })));
		if (kept?.closed) {
			const { move, on: closedOn, reason, by } = kept.closed;
			at(on(closedOn), '16:40', () => inFirm(firmId, (tx) => moveClient(tx, as(by), { clientId: ids.client, move, reason })));
		}
	}

	function play(spec: DemoClient, index: number): void {
		const ids = { client: '', contact: '' };
		const minute = String(10 + (index % 40)).padStart(2, '0');
		const visitor = (): Actor => ({
			kind: 'nobody',
			id: null,
			name: spec.contact[0],
			role: null,
			now: clock.now(),
			ip: `203.0.113.${10 + index}`,
			userAgent: 'demo'
		});
		const contact = (): Actor => ({ ...visitor(), kind: 'contact', id: ids.contact });
		at(on(spec.addedOn), `10:${minute}`, async () => {
			const people = [spec.contact, ...(spec.second ? [spec.second] : [])];
			ids.client = await inFirm(firmId, async (tx) => {
				const contacts = [];
				for (const [name, email] of people) contacts.push({ id: (await findContactByEmail(tx, email))?.id ?? null, name, email });
				return addClient(tx, as('odalys'), { name: spec.name, kind: spec.kind, responsibleId: staff.get(spec.responsible)!.id!, contacts });
			});
			ids.contact = (await inFirm(firmId, (tx) => findContactByEmail(tx, spec.contact[1])))!.id;
			const hasAccess = await inFirm(firmId, (tx) =>
				tx.first<{ yes: boolean }>('select password_hash is not null as yes from contact where id = $1', [ids.contact])
			);
			if (spec.invitedWithRequest || hasAccess!.yes) return;
			await inFirm(firmId, (tx) =>
				inviteContacts(tx, as('odalys'), {
					contactIds: [ids.contact],
					clientId: ids.client,
					idempotencyKey: randomUUID(),
					subject: say('en', 'mail.invitation.subject', { firm: firmName }),
					body: say('en', 'mail.invitation.body', { client: spec.name })
				})
			);
		});
		record(spec, index, ids);
		const invitedOn = on(spec.invitedWithRequest ? spec.requests[0].sentOn : spec.addedOn);
		const joinToken = async () => {
			const row = await inFirm(firmId, (tx) =>
				tx.first<{ id: string }>(
					`select i.id from invitation i join message m on m.id = i.message_id and m.state = 'sent' join contact c on c.id = i.contact_id
					where i.contact_id = $1 and i.taken_up_at is null and i.replaced_at is null and c.password_hash is null order by i.sent_at desc limit 1`,
					[ids.contact]
				)
			);
			return row && derivedToken('invitation', row.id, keysOf(secretKey)[0]).token;
		};
		if (spec.takesUp !== null)
			at(later(invitedOn, spec.takesUp), `12:${minute}`, async () => {
				const token = await joinToken();
				if (token) await takeUpInvitation(context.db, visitor(), token, CONTACT_PASSWORD);
			});
		else if (spec.opensOnly)
			at(later(invitedOn, 2), `20:${minute}`, async () => {
				const token = await joinToken();
				if (token) await openInvitation(context.db, visitor(), token);
			});
		for (const request of spec.requests) playRequest(spec, request, ids, contact, minute, index);
	}

	/** Accounts, what repeats by itself, a question of a client's and drafts that wait. */
	function asking(): void {
		const clientOf = async (name: string) =>
			inFirm(firmId, (tx) =>
				tx.first<{ id: string; contact: string }>(
					`select cl.id, cc.contact_id contact from client cl join client_contact cc on cc.client_id = cl.id and cc.rank = 1 where cl.name = $1 and cl.state = 'active'`,
					[name]
				)
			);
		for (const [name, accounts] of Object.entries(ACCOUNTS))
			at(on('2026-04-20'), '15:05', async () => {
				const client = await clientOf(name);
				for (const [kind, institution, lastFour, closingDay, openedOn = null] of client ? accounts : [])
					await inFirm(firmId, (tx) =>
						writeAccount(
							tx,
							as('odalys'),
							client!.id,
							{ kind, institution, lastFour, closingDay, currency: 'CAD', openedOn: openedOn && on(openedOn), closedOn: null },
							null
						)
					);
			});
		const close = READY_MADE_LISTS.find((list) => list.id === 'month-close')!;
		for (const [name, day] of STANDING)
			at(on('2026-05-01'), '14:10', async () => {
				const client = await clientOf(name);
				if (!client) return;
				const form = recurringSchema.parse({
					contactId: client.contact,
					title: 'Your papers for {period}',
					lines: close.lines,
					pattern: { every: 'month', interval: 1, on: { by: 'day', day } },
					startsOn: on('2026-05-04'),
					at: '09:00',
					roll: 'following',
					period: { kind: 'month', shift: -1 }
				});
				await inFirm(firmId, (tx) => writeRecurring(tx, as('odalys'), client.id, form, null));
			});
		at(on('2026-03-02'), '15:40', async () => {
			for (const [ready, names] of FORMS) {
				const form = READY_MADE_FORMS.find((one) => one.id === ready)!;
				await inFirm(firmId, async (tx) => {
					if (!(await readForms(tx, as('odalys'))).some((one) => one.name === form.name))
						await writeForm(tx, as('odalys'), { ...form, services: names.map((name) => services.get(name)!) }, null);
				});
			}
		});
		at(on(RAISED.on), '19:15', async () => {
			const client = await clientOf(RAISED.client);
			if (!client) return;
			const about = await inFirm(firmId, (tx) =>
				tx.first<{ name: string; form: string }>(
					'select c.name, f.id form from contact c, client_form f where c.id = $1 and f.firm_id = c.firm_id and f.name = $2 and f.ended_at is null',
					[client.contact, READY_MADE_FORMS.find((one) => one.id === RAISED.form)!.name]
				)
			);
			const actor: Actor = {
				kind: 'contact',
				id: client.contact,
				name: about!.name,
				role: null,
				now: clock.now(),
				ip: '203.0.113.79',
				userAgent: 'demo'
			};
			await inFirm(
				firmId,
				async (tx) => {
					const itemId = await raiseRequest(tx, actor, { clientId: client.id, formId: about!.form });
					await answerQuestionnaire(tx, actor, { itemId, typed: RAISED.answers });
				},
				client.contact
			);
		});
		playStatements({ context, firmId, at, on, as, inFirm, clientOf });
		playArrivals({ context, firmId, at, on, as, inFirm, clientOf });
		playSharedPapers({ context, firmId, at, on, as, inFirm, clientOf });
		playSigning({ context, firmId, secretKey, origin, at, on, as, inFirm, clientOf });
		playReceipts({ context, firmId, at, on, as, clientOf });
		at(on(CALLED.day), CALLED.time, () =>
			inFirm(firmId, async (tx) => {
				const call = await tx.first<{ id: string }>(
					'select k.id from chase_call k join client c on c.id = k.client_id where c.name = $1 and k.done_at is null and not k.for_partner',
					[CALLED.client]
				);
				if (call) await noteCall(tx, as('odalys'), await loadFirm(tx), call.id, { outcome: 'promised', note: CALLED.note, until: on(CALLED.until) });
			})
		);
		playTalk({ context, firmId, secretKey, origin, at, on, as, inFirm, clientOf });
		playQuestionnaires({ context, firmId, secretKey, at, on, as, inFirm, clientOf });
		const withTransactions = () => clientOf(TRANSACTIONS.client);
		at(on(TRANSACTIONS.askedOn), '14:05', async () => {
			const client = await withTransactions();
			if (!client) return;
			const account = await inFirm(firmId, (tx) =>
				tx.first<{ id: string }>('select id from account where client_id = $1 and institution = $2', [client.id, TRANSACTIONS.institution])
			);
			const rows = TRANSACTIONS.lines.map(([day, ...cells]) => [on(day), ...cells].join(','));
			const fileId = await bringInTransactions(context, firmId, as('odalys'), {
				clientId: client.id,
				accountId: account?.id ?? null,
				name: TRANSACTIONS.file,
				content: Readable.from([Buffer.from(['Date,Payee,Description,Category,Amount', ...rows].join('\n'))])
			});
			const filter = statementLineFilterSchema.parse({ only: 'uncategorised', words: '', asked: false });
			const { draftId } = await inFirm(firmId, async (tx) =>
				beginStatementLineQuestion(tx, as('odalys'), await loadFirm(tx), fileId, filter, { asks: 'what', ids: [], all: true })
			);
			await sendDraft(context, firmId, as('odalys'), draftId);
		});
		at(on(TRANSACTIONS.answeredOn), '20:10', async () => {
			const client = await withTransactions();
			if (!client) return;
			const item = await inFirm(firmId, (tx) =>
				tx.first<{ id: string; name: string; lines: { id: string; who: string }[] }>(
					`select i.id, c.name, i.spec -> 'lines' lines from item i join contact c on c.id = i.contact_id where i.client_id = $1 and i.kind = 'transactions'`,
					[client.id]
				)
			);
			const actor: Actor = {
				kind: 'contact',
				id: client.contact,
				name: item!.name,
				role: null,
				now: clock.now(),
				ip: '203.0.113.78',
				userAgent: 'demo'
			};
			for (const [who, how, words] of TRANSACTIONS.answers) {
				const lineId = item!.lines.find((line) => line.who === who)!.id;
				await inFirm(firmId, (tx) => answerStatementLine(tx, actor, { itemId: item!.id, lineId, answer: { how, words } }), client.contact);
			}
		});
		at(on(QUESTION.on), '20:40', async () => {
			const client = await clientOf(QUESTION.client);
			const item =
				client &&
				(await inFirm(firmId, (tx) =>
					tx.first<{ id: string; contact: string; name: string }>(
						`select i.id, i.contact_id contact, c.name from item i join contact c on c.id = i.contact_id where i.client_id = $1 and i.kind = 'paper' and i.state in ('asked', 'seen', 'started') order by due_on limit 1`,
						[client.id]
					)
				));
			if (!item) return;
			const actor: Actor = {
				kind: 'contact',
				id: item.contact,
				name: item.name,
				role: null,
				now: clock.now(),
				ip: '203.0.113.77',
				userAgent: 'demo'
			};
			await inFirm(firmId, (tx) => writeOwnRemark(tx, actor, { itemId: item.id, words: QUESTION.words, pinned: null }), item.contact);
		});
		at(on('2026-05-01'), '17:30', async () => {
			const chosen = await inFirm(firmId, (tx) => tx.rows<{ id: string }>('select id from client where name = any ($1)', [DRAFTS_FOR]));
			if ((await clientOf(DRAFTS_FOR[0])) === null) return;
			const filter = askManyFilterSchema.parse({ again: '1', only: chosen.map((client) => client.id).join(',') });
			await inFirm(firmId, (tx) => prepareForMany(tx, as('odalys'), { listId: lists.get('year-end')!, filter, runId: randomUUID(), send: false }));
		});
	}

	function playRequest(
		spec: DemoClient,
		request: DemoRequest,
		ids: { client: string; contact: string },
		contact: () => Actor,
		minute: string,
		index: number
	): void {
		const lines = DEMO_LISTS[request.list].lines.slice(0, request.lines);
		const sentOn = on(request.sentOn);
		let items: string[] = [];
		at(sentOn, `11:${minute}`, async () => {
			const actor = as(spec.responsible === 'odalys' ? 'odalys' : spec.responsible);
			const requestId = await sendRequest(context, firmId, actor, {
				clientId: ids.client,
				contactId: ids.contact,
				title: request.title ?? papersOfMonthBefore(sentOn),
				message: fillText(say('en', 'mail.request.body', { client: spec.name }), {}),
				withInvitation: spec.invitedWithRequest ?? spec.takesUp === null,
				idempotencyKey: randomUUID(),
				others: [],
				each: false,
				quiet: false,
				tellNow: false,
				chasePlan: request.plan && plans.get(request.plan),
				list: { id: lists.get(request.list)!, version: 1 },
				lines: lines.map((line): RequestLine => {
					const dueOn = dueDate(line.due, { askedOn: sentOn, periodEnd: null }, calendar);
					return line.kind === 'letter'
						? {
								...line,
								dueOn,
								account: null,
								title: `${line.title} ${sentOn.slice(0, 4)}`,
								document: READY_MADE_LETTER,
								values: { start_date: '1 June 2026', monthly_fee: spec.fee, services: spec.services }
							}
						: { ...line, dueOn, account: null };
				})
			});
			items = (await inFirm(firmId, (tx) => tx.rows<{ id: string }>('select id from item where request_id = $1 order by position', [requestId]))).map(
				(r) => r.id
			);
		});
		const pick = <T>(list: readonly T[], i: number) => list[Math.min(i, list.length - 1)];
		const state = async (i: number) =>
			(await inFirm(firmId, (tx) => tx.first<{ state: string; version: number }>('select state, version from item where id = $1', [items[i]])))!;
		const digest = async (i: number) =>
			(await inFirm(firmId, (tx) => tx.first<{ sha256: string }>(`select encode(sha256, 'hex') sha256 from letter where item_id = $1`, [items[i]])))!
				.sha256;
		const letterId = async (i: number) =>
			(await inFirm(firmId, (tx) => tx.first<{ id: string }>('select letter_id id from letter_signer where item_id = $1', [items[i]])))!.id;
		const { behaviour } = request;
		lines.forEach((line, i) => {
			const handIn = pick(behaviour.handIn, i);
			const no = behaviour.no?.position === i ? behaviour.no : null;
			if (no)
				at(later(sentOn, no.after), `19:${minute}`, () =>
					inFirm(firmId, (tx) => sayDoesNotApply(tx, contact(), { itemId: items[i], reason: no.reason }), ids.contact)
				);
			if (handIn === null) return;
			const day = later(sentOn, Math.max(handIn, (spec.takesUp ?? 0) - 1));
			const hour = `${13 + (i % 5)}:${minute}`;
			const give = async () => {
				const actor = contact();
				if (line.kind === 'letter') {
					await inFirm(firmId, (tx) => noteLetterOpened(tx, actor, items[i]), ids.contact);
					await inFirm(firmId, (tx) => noteShownWhole(tx, actor, items[i]), ids.contact);
					await inFirm(
						firmId,
						(tx) => signLetter(tx, actor, { itemId: items[i], consent: true, signature: { method: 'typed', name: spec.contact[0] } }, secretKey),
						ids.contact
					);
				} else if (line.kind === 'question') {
					await inFirm(firmId, (tx) => seeItem(tx, actor, items[i]), ids.contact);
					await inFirm(firmId, (tx) => answerItem(tx, actor, { itemId: items[i], answer: ANSWERS[(i + index) % ANSWERS.length] }), ids.contact);
				} else {
					const name = `${line.title.toLowerCase().replace(/[^a-z]+/g, '-')}.pdf`;
					await takeInPaper(context, firmId, actor, {
						itemId: items[i],
						name,
						content: Readable.from([Buffer.from(await demoStatement(line.title, spec.name, index * 7 + i))])
					});
					await inFirm(firmId, (tx) => handInPapers(tx, actor, { itemId: items[i], without: false }), ids.contact);
				}
			};
			at(day, hour, give);
			const accept = pick(behaviour.accept, i);
			const back = behaviour.sentBack?.position === i ? behaviour.sentBack : null;
			if (back) {
				at(later(day, 1), `09:${minute}`, async () =>
					inFirm(firmId, async (tx) =>
						sendItemBack(tx, as('odalys'), {
							itemId: items[i],
							version: (await tx.first<{ version: number }>('select version from item where id = $1', [items[i]]))!.version,
							reason: back.reason
						})
					)
				);
				if (back.stays) return;
				at(later(day, 2), hour, give);
			}
			if (accept === null) return;
			at(later(day, accept + (back ? 2 : 0)), `16:${minute}`, async () => {
				const current = await state(i);
				if (current.state !== 'handed_in') return;
				if (line.kind === 'letter') {
					if (behaviour.letterWaits) return;
					const sha256 = await digest(i);
					await inFirm(firmId, (tx) =>
						countersignLetter(tx, as('ferrin'), { itemId: items[i], sha256, signature: { method: 'typed', name: 'Ferrin Ashgrove' } })
					);
					await letterGoesOn({ ...context, secretKey, origin }, firmId, await letterId(i), clock.now());
				} else await inFirm(firmId, (tx) => acceptItem(tx, as(spec.responsible), { itemId: items[i], version: current.version }));
			});
		});
	}

	asking();
	more?.({ at, on, as, clock });
	for (const opening of openingsBetween(from, until, calendar))
		acts.push({
			at: opening,
			order: -1,
			run: async () => {
				await doWhatIsDue(context, firmId, opening);
			}
		});
	let done = 0;
	acts.sort((a, b) => compareInstants(a.at, b.at) || a.order - b.order);
	for (const act of acts) {
		clock.set(act.at);
		await act.run();
		await sendAll();
		await progress?.(++done / acts.length);
	}
}
