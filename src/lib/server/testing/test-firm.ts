import { randomUUID } from 'node:crypto';
import { mkdtemp } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { inject } from 'vitest';
import { JOBS } from '$lib/core/jobs';
import { DEFAULT_CHASE_PLAN } from '$lib/core/chasing/chase-plan';
import { READY_MADE_LETTER } from '$lib/core/letters/ready-made-letter';
import type { NewRequest, RequestLine } from '$lib/core/requests/request-list';
import type { Actor } from '../actor';
import { addClient } from '../clients/add-client';
import { beginSession } from '../people/sessions';
import { ensureFirmSeal } from '../signing/firm-seal';
import type { SendingPlace } from '../messages/send-message';
import { handClock } from '../platform/clock';
import { openDatabase, type Database, type Tx } from '../platform/db/database';
import { threadedStatementWork, type StatementWork } from '../transactions/statement-work';
import { threadedCalendarWork, type CalendarWork } from '../firms/calendar-work';
import { threadedListWork, type ListWork } from '../clients/import/list-work';
import { folderStore, type PaperStore } from '../platform/files/paper-store';
import type { MailAnswer, Mailer, OutgoingMail } from '../platform/mail/mailer';
import type { OutgoingTextMessage, TextMessageGateway } from '../platform/text-messages/text-message-gateway';
import { threadedPdfWork, type PdfWork } from '../platform/pdf/pdf-work';
import { openRateLimits, type RateLimits } from '../platform/rate-limits';

export const SECRET_KEY = '5e'.repeat(32);

/** A mailer that keeps what it is given and answers as it is told. */
export interface KeptMail extends Mailer {
	sent: OutgoingMail[];
	/** what the next messages are answered, in order; then everything is sent */
	answers: (MailAnswer | Error)[];
}

function keptMail(): KeptMail {
	const sent: OutgoingMail[] = [];
	const answers: (MailAnswer | Error)[] = [];
	return {
		sent,
		answers,
		async send(mail) {
			const answer = answers.shift() ?? { outcome: 'sent' };
			if (answer instanceof Error) throw answer;
			if (answer.outcome === 'sent') sent.push(mail);
			return answer;
		},
		reachable: async () => true,
		close: () => undefined
	};
}

/** A text gateway that keeps what it is given and answers as it is told. */
export interface KeptTextMessages extends TextMessageGateway {
	sent: OutgoingTextMessage[];
	answers: MailAnswer[];
}

function keptTexts(): KeptTextMessages {
	const sent: OutgoingTextMessage[] = [];
	const answers: MailAnswer[] = [];
	return {
		sent,
		answers,
		async send(text) {
			const answer = answers.shift() ?? { outcome: 'sent' };
			if (answer.outcome === 'sent') sent.push(text);
			return answer;
		}
	};
}

export interface TestContext {
	ownerUrl: string;
	db: Database;
	clock: ReturnType<typeof handClock>;
	mailer: KeptMail;
	texts: KeptTextMessages;
	papers: PaperStore;
	papersFolder: string;
	pdf: PdfWork;
	lists: ListWork;
	lines: StatementWork;
	calendars: CalendarWork;
	limits: RateLimits;
	place: SendingPlace;
	owner: pg.Client;
	close(): Promise<void>;
}

/** Does what the worker does for those who asked at a door to be mailed. */
export async function answerDoors(context: TestContext): Promise<void> {
	const { mailFromDoor } = await import('../people/door-mail');
	const { rows } = await context.owner.query(
		`delete from graphile_worker._private_jobs j using graphile_worker._private_tasks t where t.id = j.task_id and t.identifier = 'mail_from_door' returning j.payload`
	);
	for (const { payload } of rows) await mailFromDoor(context.db, JOBS.mail_from_door.parse(payload));
}

/** A context on a database of its own, cloned from the migrated template. Monday 4 May 2026, 08:30 in Halifax. */
export async function openTestContext(now = '2026-05-04T11:30:00Z'): Promise<TestContext> {
	const name = `test_${randomUUID().replaceAll('-', '')}`;
	const admin = new pg.Client({ connectionString: inject('ownerUrl') });
	await admin.connect();
	// a template cannot be cloned by two at the same moment
	for (let tries = 0; ; tries++) {
		try {
			await admin.query(`create database ${name} template lantern_template`);
			break;
		} catch (error) {
			if ((error as { code?: string }).code !== '55006' || tries > 100) throw error;
			await new Promise((resolve) => setTimeout(resolve, 50));
		}
	}
	await admin.end();
	const ownerUrl = inject('ownerUrl').replace(/\/postgres$/, `/${name}`);
	const db = openDatabase({ DATABASE_URL: ownerUrl, APP_DATABASE_URL: undefined }, 8);
	const owner = new pg.Client({ connectionString: ownerUrl });
	await owner.connect();
	const clock = handClock(now);
	const mailer = keptMail();
	const texts = keptTexts();
	const papersFolder = await mkdtemp(join(tmpdir(), 'lantern-papers-'));
	const papers = folderStore(papersFolder);
	const pdf = threadedPdfWork();
	const lists = threadedListWork();
	const lines = threadedStatementWork();
	const calendars = threadedCalendarWork();
	return {
		ownerUrl,
		db,
		clock,
		mailer,
		texts,
		papers,
		papersFolder,
		pdf,
		lists,
		lines,
		calendars,
		owner,
		limits: openRateLimits(db.pool),
		place: { db, clock, mailer, texts, papers, origin: 'http://localhost:3000', secretKey: SECRET_KEY, bounceDomain: 'bounces.localhost' },
		async close() {
			await pdf.close();
			await lists.close();
			await lines.close();
			await calendars.close();
			await db.close();
			await owner.end();
		}
	};
}

export interface TestFirm {
	id: string;
	slug: string;
	coordinator: Actor;
	partner: Actor;
	filing: Actor;
	/** the coordinator, at the clock's present time */
	odalys(): Actor;
	/** a transaction as staff have it */
	run<T>(work: (tx: Tx) => Promise<T>): Promise<T>;
}

let firms = 0;

/** A firm with three people, in America/Halifax unless told otherwise. */
export async function makeFirm(context: TestContext, options: { timeZone?: string; holidays?: string[] } = {}): Promise<TestFirm> {
	const id = randomUUID();
	const slug = `firm-${++firms}`;
	await context.owner.query(
		`insert into firm (id, slug, name, time_zone, country, brand_color, address, mail_from, chase_steps, chase_plan_name, created_at)
		values ($1, $2, 'Pennywhistle Row Bookkeeping', $3, 'CA', '#2f5d50', '4 Pennywhistle Row', 'office@pennywhistle.example', $4, 'Gentle', now())`,
		[id, slug, options.timeZone ?? 'America/Halifax', JSON.stringify(DEFAULT_CHASE_PLAN.steps)]
	);
	for (const day of options.holidays ?? []) await context.owner.query('insert into holiday values ($1, $2, $3)', [id, day, 'a holiday']);
	const person = async (name: string, role: Actor['role']): Promise<Actor> => {
		const personId = randomUUID();
		await context.owner.query(
			'insert into staff (id, firm_id, name, email, role, password_hash, created_at) values ($1, $2, $3, $4, $5, $6, now())',
			[personId, id, name, `${personId}@staff.example`, role, 'x']
		);
		return { kind: 'staff', id: personId, name, role, now: context.clock.now(), ip: '198.51.100.7', userAgent: 'test' };
	};
	await context.db.inFirm(id, (tx) => ensureFirmSeal(tx, 'Pennywhistle Row Bookkeeping', context.clock.now(), SECRET_KEY));
	const coordinator = await person('Odalys Fenwick', 'coordinator');
	return {
		id,
		slug,
		coordinator,
		partner: await person('Ferrin Ashgrove', 'partner'),
		filing: await person('Bram Okoro', 'filing'),
		odalys: () => ({ ...coordinator, now: context.clock.now() }),
		run: (work) => context.db.inFirm(id, work)
	};
}

export interface TestClient {
	id: string;
	contactId: string;
	email: string;
	/** the contact, at the clock's present time */
	mara(): Actor;
	/** a transaction as the contact has it */
	run<T>(work: (tx: Tx) => Promise<T>): Promise<T>;
}

/** A client with one contact who has access already, unless told otherwise. */
export async function makeClient(
	context: TestContext,
	firm: TestFirm,
	options: { name?: string; email?: string; contactId?: string; access?: boolean } = {}
): Promise<TestClient> {
	const email = options.email ?? `${randomUUID()}@client.example`;
	const id = await context.db.inFirm(firm.id, (tx) =>
		addClient(tx, firm.odalys(), {
			name: options.name ?? 'Gull & String Kites',
			kind: 'business',
			responsibleId: firm.coordinator.id!,
			contacts: [{ id: options.contactId ?? null, name: 'Mara Whitlock', email }]
		})
	);
	const { rows } = await context.owner.query<{ contact_id: string }>('select contact_id from client_contact where client_id = $1', [id]);
	const contactId = rows[0].contact_id;
	if (options.access !== false) await context.owner.query(`update contact set password_hash = 'x' where id = $1`, [contactId]);
	return {
		id,
		contactId,
		email,
		mara: () => ({
			kind: 'contact',
			id: contactId,
			name: 'Mara Whitlock',
			role: null,
			now: context.clock.now(),
			ip: '203.0.113.9',
			userAgent: 'test'
		}),
		run: (work) => context.db.inFirm(firm.id, work, contactId)
	};
}

export function paperLine(title: string, dueOn: string): RequestLine {
	return { kind: 'paper', ...BARE_LINE, key: randomUUID(), title, dueOn, spec: { slots: [], statementsOf: 'none' } };
}
export function questionLine(title: string, dueOn: string): RequestLine {
	return { kind: 'question', ...BARE_LINE, key: randomUUID(), title, dueOn, spec: { answer: { is: 'words' }, fact: null } };
}
export function letterLine(
	title: string,
	dueOn: string,
	values: Record<string, string>,
	document: Extract<RequestLine, { kind: 'letter' }>['document'] = READY_MADE_LETTER
): RequestLine {
	return { kind: 'letter', ...BARE_LINE, key: randomUUID(), title, dueOn, spec: {}, document, values };
}
const BARE_LINE = { heading: '', why: null, required: true, acceptsItself: false, attachments: [], account: null };

export function requestTo(client: TestClient, lines: RequestLine[], more: Partial<NewRequest> = {}): NewRequest {
	return {
		clientId: client.id,
		contactId: client.contactId,
		others: [],
		each: false,
		quiet: false,
		tellNow: false,
		list: null,
		title: 'Getting started',
		message: 'A few things, please.',
		lines,
		withInvitation: false,
		idempotencyKey: randomUUID(),
		...more
	};
}

/** The id of a session that somebody of the firm has. */
export async function sessionOf(context: TestContext, firm: Pick<TestFirm, 'id'>, actor: Actor): Promise<string> {
	await context.db.inFirm(firm.id, (tx) => beginSession(tx, actor, { kind: 'staff', id: actor.id! }));
	const { rows } = await context.owner.query('select id from session where staff_id = $1 order by created_at desc limit 1', [actor.id]);
	return rows[0].id;
}

/** The items of a request, in order. */
export async function itemsOf(
	context: TestContext,
	requestId: string
): Promise<{ id: string; state: string; version: number; next_chase_on: string | null; chased_through: string; kind: string }[]> {
	return (
		await context.owner.query('select id, state, version, next_chase_on, chased_through, kind from item where request_id = $1 order by position', [
			requestId
		])
	).rows;
}

/** Sends every planned message of a firm, as the worker does. */
/** What the worker does once somebody has signed the letter of an item, declined it or was sent it. */
export async function letterOf(context: TestContext, firm: TestFirm, itemId: string): Promise<void> {
	const { letterGoesOn } = await import('../requests/letter-goes-on');
	const { rows } = await context.owner.query<{ id: string }>('select letter_id id from letter_signer where item_id = $1', [itemId]);
	await letterGoesOn({ ...context, secretKey: SECRET_KEY, origin: context.place.origin }, firm.id, rows[0].id, context.clock.now());
}

export async function sendPlanned(context: TestContext, firm: TestFirm): Promise<void> {
	const { sendMessage } = await import('../messages/send-message');
	const planned = await context.owner.query<{ id: string }>(`select id from message where firm_id = $1 and state = 'planned' order by planned_at`, [
		firm.id
	]);
	for (const { id } of planned.rows) await sendMessage(context.place, firm.id, id);
}
