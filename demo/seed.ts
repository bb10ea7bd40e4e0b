import { randomUUID } from 'node:crypto';
import { Readable } from 'node:stream';
import pg from 'pg';
import { addBusinessDays, compareInstants, localInstant, openingsBetween, type FirmCalendar } from '../src/lib/core/calendar/firm-calendar';
import { DEFAULT_CHASE_PLAN } from '../src/lib/core/chasing/chase-plan';
import { fillText } from '../src/lib/core/letters/merge-fields';
import { READY_MADE_LETTER } from '../src/lib/core/letters/ready-made-letter';
import { READY_MADE_LISTS } from '../src/lib/core/requests/ready-made-lists';
import type { Actor } from '../src/lib/server/actor';
import { chaseInvitations } from '../src/lib/server/chasing/chase-invitations';
import { chasePeople } from '../src/lib/server/chasing/chase-people';
import { addClient, findContactByEmail } from '../src/lib/server/clients/add-client';
import { changeContact } from '../src/lib/server/clients/contacts';
import { moveClient, sayFact, writeEngagement, writeNote } from '../src/lib/server/clients/client-record';
import { beginImport } from '../src/lib/server/clients/import/prepare-import';
import { runImport, startImport } from '../src/lib/server/clients/import/run-import';
import { addService } from '../src/lib/server/firms/services';
import { inviteContacts, openInvitation, takeUpInvitation } from '../src/lib/server/invitations/invite';
import { openHouse } from '../src/lib/server/house';
import { takeInText } from '../src/lib/server/messages/incoming-texts';
import { sendMessage, takeInReport, type SendingPlace } from '../src/lib/server/messages/send-message';
import { handClock } from '../src/lib/server/platform/clock';
import { migrate } from '../src/lib/server/platform/db/migrations';
import { receivedMail, startMailStandin } from '../src/lib/server/platform/mail/standin';
import { keepText } from '../src/lib/server/platform/texts/standin';
import { receiveReports } from '../src/lib/server/platform/mail/bounce-receiver';
import { smtpMailer } from '../src/lib/server/platform/mail/mailer';
import { hashPassword } from '../src/lib/server/platform/passwords';
import { settings } from '../src/lib/server/platform/settings';
import { takeInPaper } from '../src/lib/server/papers/papers';
import { acceptItem, sendItemBack } from '../src/lib/server/requests/judge-item';
import { answerItem, handInPapers, sayDoesNotApply, seeItem } from '../src/lib/server/requests/client-item';
import { sendRequest, dueAfterBusinessDays } from '../src/lib/server/requests/send-request';
import { countersignLetter, noteLetterOpened, noteShownWhole, signLetter } from '../src/lib/server/signing/sign-letter';
import { ensureFirmSeal } from '../src/lib/server/signing/firm-seal';
import { say } from '../src/lib/words/words';
import { demoStatement } from './demo-papers';
import {
	CLIENTS,
	CONTACT_PASSWORD,
	DEMO_NOW,
	DEMO_START,
	FIRM,
	HANDED_OVER,
	HOLIDAYS,
	RECORDS,
	SERVICES,
	STAFF,
	STAFF_PASSWORD,
	TEXT_ANSWER,
	TEXTED,
	type DemoClient,
	type DemoRequest
} from './scenario';

const ANSWERS = [
	'We build and repair, mostly by hand, and sell at the market and by post.',
	'Two people, both paid monthly.',
	'R-204-881, registered in 2023.',
	'Nothing out of the ordinary.',
	'About 4,300, mostly to the island and back.'
];

const given = settings();
await migrate(given.DATABASE_URL);
const owner = new pg.Client({ connectionString: given.DATABASE_URL });
await owner.connect();
const [state] = (
	await owner.query<{ firms: number; cut_off: boolean }>(
		'select (select count(*) from firm) firms, not exists (select from demo_clock) and exists (select from firm where is_demo) cut_off'
	)
).rows;
if (state.cut_off) {
	console.log('The demo scenario was not loaded to its end; beginning anew.');
	await owner.query('drop schema public cascade; drop schema graphile_worker cascade; create schema public');
	await migrate(given.DATABASE_URL);
}
if (state.cut_off || state.firms === 0) await seed();
await owner.end();

/** Plays several months of the firm's life through the use cases, day by day, with real mail to the stand-in. */
async function seed(): Promise<void> {
	console.log('Loading the demo scenario …');
	const firmId = randomUUID();
	const staff = new Map<string, Actor>();
	const staffHash = await hashPassword(STAFF_PASSWORD);
	await owner.query('begin');
	await owner.query(
		`insert into firm (id, slug, name, time_zone, country, brand_color, welcome, address, mail_from, chase_steps, chase_plan_name, is_demo, second_step_staff, created_at)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, true, false, $12)`,
		[
			firmId,
			FIRM.slug,
			FIRM.name,
			FIRM.timeZone,
			FIRM.country,
			FIRM.brandColor,
			FIRM.welcome,
			FIRM.address,
			FIRM.mailFrom,
			JSON.stringify(DEFAULT_CHASE_PLAN.steps),
			DEFAULT_CHASE_PLAN.name,
			DEMO_START
		]
	);
	for (const holiday of HOLIDAYS) await owner.query('insert into holiday values ($1, $2, $3)', [firmId, holiday.day, holiday.name]);
	for (const person of STAFF) {
		const id = randomUUID();
		await owner.query('insert into staff (id, firm_id, name, email, role, password_hash, created_at) values ($1, $2, $3, $4, $5, $6, $7)', [
			id,
			firmId,
			person.name,
			`${person.key}@pennywhistle.example`,
			person.role,
			staffHash,
			DEMO_START
		]);
		staff.set(person.key, { kind: 'staff', id, name: person.name, role: person.role, now: DEMO_START, ip: '198.51.100.7', userAgent: 'demo' });
	}
	await owner.query('commit');

	const folder = given.MAIL_STANDIN_FOLDER ?? '.lantern/mail';
	const clock = handClock(DEMO_START);
	const house = await openHouse(given);
	const bouncePort = given.BOUNCE_SMTP_PORT;
	const receiver = await receiveReports(bouncePort, (report) => takeInReport(house.db, clock.now(), report));
	const standin = await startMailStandin({ port: 0, folder, bouncePort });
	const mailer = smtpMailer(`smtp://127.0.0.1:${standin.port}?ignoreTLS=true`);
	const place: SendingPlace = {
		db: house.db,
		clock,
		mailer,
		texts: {
			send: async (text) => {
				await keepText(given.TEXT_STANDIN_FOLDER ?? '.lantern/texts', text);
				return { outcome: 'sent' };
			}
		},
		papers: house.papers,
		origin: given.ORIGIN,
		secretKey: given.SECRET_KEY,
		bounceDomain: given.BOUNCE_DOMAIN
	};
	const services = new Map<string, string>();
	await house.db.inFirm(firmId, async (tx) => {
		for (const name of SERVICES) services.set(name, await addService(tx, staff.get('tamsin')!, name));
	});
	await house.db.inFirm(firmId, (tx) => ensureFirmSeal(tx, FIRM.name, DEMO_START, given.SECRET_KEY));

	const calendar: FirmCalendar = {
		timeZone: FIRM.timeZone,
		businessDays: [1, 2, 3, 4, 5],
		holidays: HOLIDAYS.map((h) => h.day),
		sendFrom: '09:00',
		sendTo: '17:00'
	};
	const acts: { at: string; order: number; run: () => Promise<void> }[] = [];
	let order = 0;
	const at = (day: string, time: string, run: () => Promise<void>) => {
		const instant = localInstant(day, time, calendar);
		if (compareInstants(instant, DEMO_NOW) < 0) acts.push({ at: instant, order: order++, run });
	};
	const later = (day: string, days: number) => addBusinessDays(day, days, calendar);
	const as = (key: string): Actor => ({ ...staff.get(key)!, now: clock.now() });
	const inFirm = house.db.inFirm.bind(house.db);

	async function sendAll(): Promise<void> {
		const planned = await inFirm(firmId, (tx) => tx.rows<{ id: string }>(`select id from message where state = 'planned' order by planned_at`));
		for (const { id } of planned) await sendMessage(place, firmId, id);
		await standin.reportsDelivered();
		const texts = await inFirm(firmId, (tx) =>
			tx.rows<{ id: string }>(`select id from message where channel = 'text' and state = 'sent' and delivered_at is null`)
		);
		for (const { id } of texts) await takeInReport(house.db, clock.now(), { messageId: id, action: 'delivered', reason: '' });
	}

	CLIENTS.forEach((spec, index) => play(spec, index));

	/** What the firm writes down about a client over time. */
	function record(spec: DemoClient, index: number, ids: { client: string; contact: string }): void {
		const kept = RECORDS[spec.name];
		const [name, email] = spec.contact;
		at(spec.addedOn, '10:55', () =>
			inFirm(firmId, (tx) =>
				changeContact(tx, as('odalys'), {
					clientId: ids.client,
					contactId: ids.contact,
					name,
					email,
					phone: `+1902555${String(100 + (index % 100)).padStart(4, '0')}`,
					role: kept?.role ?? null,
					channels: TEXTED[spec.name] ?? 'email'
				})
			)
		);
		for (const [fact, value, on, by] of kept?.facts ?? [])
			at(on, '14:20', () => inFirm(firmId, (tx) => sayFact(tx, as(by), { clientId: ids.client, name: fact, value })));
		for (const [engagement, beganOn, chosen] of kept?.engagements ?? [])
			at(beganOn, '11:00', () =>
				inFirm(firmId, (tx) =>
					writeEngagement(tx, as('odalys'), {
						clientId: ids.client,
						engagementId: null,
						name: engagement,
						beganOn,
						services: chosen.map((service) => services.get(service)!)
					})
				)
			);
		for (const [words, on, by] of kept?.notes ?? [])
			at(on, '16:10', () => inFirm(firmId, (tx) => writeNote(tx, as(by), { clientId: ids.client, words })));
		if (kept?.closed) {
			const { move, on, reason, by } = kept.closed;
			at(on, '16:40', () => inFirm(firmId, (tx) => moveClient(tx, as(by), { clientId: ids.client, move, reason })));
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
		at(spec.addedOn, `10:${minute}`, async () => {
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
					onceKey: randomUUID(),
					subject: say('en', 'mail.invitation.subject', { firm: FIRM.name }),
					body: say('en', 'mail.invitation.body', { client: spec.name })
				})
			);
		});
		record(spec, index, ids);
		const invitedOn = spec.invitedWithRequest ? spec.requests[0].sentOn : spec.addedOn;
		const joinToken = async () => {
			const row = await inFirm(firmId, (tx) =>
				tx.first<{ message_id: string }>(
					'select m.message_id from invitation i join message m on m.id = i.message_id where i.contact_id = $1 and i.taken_up_at is null and i.replaced_at is null and (select password_hash from contact where id = $1) is null order by i.sent_at desc limit 1',
					[ids.contact]
				)
			);
			const mail = row && (await receivedMail(folder, row.message_id));
			return mail?.text ? /\/join\/([\w-]+)/.exec(mail.text)?.[1] : undefined;
		};
		if (spec.takesUp !== null)
			at(later(invitedOn, spec.takesUp), `12:${minute}`, async () => {
				const token = await joinToken();
				if (token) await takeUpInvitation(house.db, visitor(), token, CONTACT_PASSWORD);
			});
		else if (spec.opensOnly)
			at(later(invitedOn, 2), `20:${minute}`, async () => {
				const token = await joinToken();
				if (token) await openInvitation(house.db, visitor(), token);
			});
		for (const request of spec.requests) playRequest(spec, request, ids, contact, minute, index);
	}

	function playRequest(
		spec: DemoClient,
		request: DemoRequest,
		ids: { client: string; contact: string },
		contact: () => Actor,
		minute: string,
		index: number
	): void {
		const list = READY_MADE_LISTS.find((l) => l.id === request.list)!;
		const lines = list.lines.slice(0, request.lines);
		let items: string[] = [];
		at(request.sentOn, `11:${minute}`, async () => {
			const actor = as(spec.responsible === 'odalys' ? 'odalys' : spec.responsible);
			const requestId = await sendRequest(house, firmId, actor, {
				clientId: ids.client,
				contactId: ids.contact,
				title: request.title,
				message: fillText(say('en', 'mail.request.body', { client: spec.name }), {}),
				withInvitation: spec.invitedWithRequest ?? spec.takesUp === null,
				onceKey: randomUUID(),
				lines: lines.map((line) => {
					const common = {
						title: line.title,
						why: line.why,
						required: line.required,
						dueOn: dueAfterBusinessDays({ calendar }, clock.now(), line.dueInBusinessDays)
					};
					return line.kind === 'letter'
						? {
								kind: 'letter' as const,
								...common,
								title: `${line.title} 2026`,
								document: READY_MADE_LETTER,
								values: { start_date: '1 June 2026', monthly_fee: spec.fee, services: spec.services }
							}
						: { kind: line.kind, ...common };
				})
			});
			items = (await inFirm(firmId, (tx) => tx.rows<{ id: string }>('select id from item where request_id = $1 order by position', [requestId]))).map(
				(r) => r.id
			);
		});
		const pick = <T>(list: readonly T[], i: number) => list[Math.min(i, list.length - 1)];
		const state = async (i: number) =>
			(await inFirm(firmId, (tx) => tx.first<{ state: string; version: number }>('select state, version from item where id = $1', [items[i]])))!;
		const { behaviour } = request;
		lines.forEach((line, i) => {
			const handIn = pick(behaviour.handIn, i);
			const no = behaviour.no?.position === i ? behaviour.no : null;
			if (no)
				at(later(request.sentOn, no.after), `19:${minute}`, () =>
					inFirm(firmId, (tx) => sayDoesNotApply(tx, contact(), { itemId: items[i], reason: no.reason }), ids.contact)
				);
			if (handIn === null) return;
			const day = later(request.sentOn, Math.max(handIn, (spec.takesUp ?? 0) - 1));
			const hour = `${13 + (i % 5)}:${minute}`;
			const give = async () => {
				const actor = contact();
				if (line.kind === 'letter') {
					await inFirm(firmId, (tx) => noteLetterOpened(tx, actor, items[i]), ids.contact);
					await inFirm(firmId, (tx) => noteShownWhole(tx, actor, items[i]), ids.contact);
					await inFirm(
						firmId,
						(tx) => signLetter(tx, actor, { itemId: items[i], consent: true, signature: { method: 'typed', name: spec.contact[0] } }),
						ids.contact
					);
				} else if (line.kind === 'question') {
					await inFirm(firmId, (tx) => seeItem(tx, actor, items[i]), ids.contact);
					await inFirm(firmId, (tx) => answerItem(tx, actor, { itemId: items[i], answer: ANSWERS[(i + index) % ANSWERS.length] }), ids.contact);
				} else {
					const name = `${line.title.toLowerCase().replace(/[^a-z]+/g, '-')}.pdf`;
					await takeInPaper(house, firmId, actor, {
						itemId: items[i],
						name,
						content: Readable.from([Buffer.from(await demoStatement(line.title, spec.name, index * 7 + i))])
					});
					await inFirm(firmId, (tx) => handInPapers(tx, actor, items[i]), ids.contact);
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
					if (!behaviour.letterWaits)
						await countersignLetter({ ...house, secretKey: given.SECRET_KEY }, firmId, as('ferrin'), {
							itemId: items[i],
							signature: { method: 'typed', name: 'Ferrin Ashgrove' }
						});
				} else await inFirm(firmId, (tx) => acceptItem(tx, as(spec.responsible), { itemId: items[i], version: current.version }));
			});
		});
	}

	at(HANDED_OVER.on, '15:20', async () => {
		const id = await beginImport(house, firmId, as('odalys'), { fileName: HANDED_OVER.fileName, bytes: new TextEncoder().encode(HANDED_OVER.csv) });
		await inFirm(firmId, (tx) => startImport(tx, as('odalys'), id));
		await runImport(house, firmId, id, staff.get('odalys')!.id!, clock.now());
	});
	at(TEXT_ANSWER.on, '16:55', async () => {
		const person = await inFirm(firmId, (tx) =>
			tx.first<{ phone: string }>(
				'select c.phone from contact c join client_contact cc on cc.contact_id = c.id join client cl on cl.id = cc.client_id where cl.name = $1',
				[TEXT_ANSWER.client]
			)
		);
		await takeInText(house.db, clock.now(), { id: randomUUID(), from: person!.phone, text: TEXT_ANSWER.words });
	});
	at('2026-05-01', '16:40', async () => inFirm(firmId, async (tx) => void (await tx.rows('update staff set last_looked_at = $1', [clock.now()]))));
	for (const opening of openingsBetween(DEMO_START, DEMO_NOW, calendar))
		acts.push({
			at: opening,
			order: -1,
			run: async () => {
				await chasePeople(house.db, firmId, opening);
				await chaseInvitations(house.db, firmId, opening);
			}
		});
	acts.sort((a, b) => compareInstants(a.at, b.at) || a.order - b.order);
	for (const act of acts) {
		clock.set(act.at);
		await act.run();
		await sendAll();
	}
	// written last: a firm without a demo clock is a seeding that was cut off
	await owner.query('insert into demo_clock (offset_ms) values ($1)', [Date.parse(DEMO_NOW) - Date.now()]);
	mailer.close();
	await standin.close();
	await receiver.close();
	await house.close();
}
