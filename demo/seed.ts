import { randomUUID } from 'node:crypto';
import pg from 'pg';
import { DEFAULT_CHASE_PLAN } from '../src/lib/core/chasing/chase-plan';
import type { Actor } from '../src/lib/server/actor';
import { beginImport } from '../src/lib/server/clients/import/prepare-import';
import { runImport, startImport } from '../src/lib/server/clients/import/run-import';
import { addService, priceService } from '../src/lib/server/firms/services';
import { openContext } from '../src/lib/server/context/app-context';
import { takeInTextMessage } from '../src/lib/server/messages/incoming-texts';
import { sendMessage, type SendingPlace } from '../src/lib/server/messages/send-message';
import { takeInReport } from '../src/lib/server/messages/settle-message';
import { handClock } from '../src/lib/server/platform/clock';
import { migrate } from '../src/lib/server/platform/db/migrations';
import { startMailStandin } from '../src/lib/server/platform/mail/standin';
import { httpIdentityCheckService } from '../src/lib/server/platform/identity-checks/identity-check-service';
import { startIdentityCheckStandin } from '../src/lib/server/platform/identity-checks/standin';
import { refreshCheckTerms } from '../src/lib/server/platform/identity-checks/terms';
import { keepText } from '../src/lib/server/platform/text-messages/standin';
import { receiveReports } from '../src/lib/server/platform/mail/bounce-receiver';
import { smtpMailer } from '../src/lib/server/platform/mail/mailer';
import { hashPassword } from '../src/lib/server/platform/passwords';
import { settings } from '../src/lib/server/platform/settings';
import { ensureFirmSeal } from '../src/lib/server/signing/firm-seal';
import {
	CLIENTS,
	DEMO_NOW,
	DEMO_START,
	FIRM,
	HANDED_OVER,
	HOLIDAYS,
	LIBRARY,
	OWN_TEXT,
	SERVICES,
	STAFF,
	STAFF_PASSWORD,
	type StaffKey,
	TEXT_ANSWER,
	USUAL_FEES
} from './scenario';
import { loadFirm } from '../src/lib/server/firms/firm';
import { TOLD_NOTHING, type Telling } from '../src/lib/core/telling/telling';
import { changeOwnTelling } from '../src/lib/server/telling/settings';
import { tellStaff } from '../src/lib/server/telling/tell-staff';
import { addMessageText, copyMessageText } from '../src/lib/server/library/message-texts';
import { messageTextSchema } from '../src/lib/core/messages/message-texts';
import { playScenario } from './play-scenario';

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
	const staff = new Map<StaffKey, Actor>();
	const staffHash = await hashPassword(STAFF_PASSWORD);
	await owner.query('begin');
	await owner.query(
		`insert into firm (id, slug, name, time_zone, country, brand_color, welcome, address, mail_from, phone, chase_steps, chase_plan_name, is_demo, second_step_staff, created_at)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, true, false, $13)`,
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
			FIRM.phone,
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
	const context = await openContext(given);
	const bouncePort = given.BOUNCE_SMTP_PORT;
	const receiver = await receiveReports(bouncePort, (report) => takeInReport(context.db, clock.now(), report));
	const standin = await startMailStandin({ port: 0, folder, bouncePort });
	const mailer = smtpMailer(`smtp://127.0.0.1:${standin.port}?ignoreTLS=true`);
	const place: SendingPlace = {
		db: context.db,
		clock,
		mailer,
		texts: {
			send: async (text) => {
				await keepText(given.TEXT_STANDIN_FOLDER ?? '.lantern/texts', text);
				return { outcome: 'sent' };
			}
		},
		papers: context.papers,
		origin: given.ORIGIN,
		secretKey: given.SECRET_KEY,
		bounceDomain: given.BOUNCE_DOMAIN,
		replyDomain: given.PAPERS_MAIL_DOMAIN
	};
	const key = 'key of the simulated identity checks';
	const checks = await startIdentityCheckStandin({ port: 0, key });
	await refreshCheckTerms(context.db, httpIdentityCheckService({ url: checks.url, key }), DEMO_START);
	await checks.close();
	const services = new Map<string, string>();
	await context.db.inFirm(firmId, async (tx) => {
		for (const name of SERVICES) services.set(name, await addService(tx, staff.get('tamsin')!, name));
		for (const [name, fee, every] of USUAL_FEES) await priceService(tx, staff.get('tamsin')!, { serviceId: services.get(name)!, fee, every });
	});
	await context.db.inFirm(firmId, (tx) => ensureFirmSeal(tx, FIRM.name, DEMO_START, given.SECRET_KEY));
	const inFirm = context.db.inFirm.bind(context.db);
	await playScenario({
		context,
		clock,
		firmId,
		firmName: FIRM.name,
		staff,
		services,
		calendar: await inFirm(firmId, async (tx) => (await loadFirm(tx)).calendar),
		secretKey: given.SECRET_KEY,
		origin: given.ORIGIN,
		clients: CLIENTS,
		from: DEMO_START,
		until: DEMO_NOW,
		shiftDays: 0,
		async sendAll() {
			const planned = await inFirm(firmId, (tx) => tx.rows<{ id: string }>(`select id from message where state = 'planned' order by planned_at`));
			for (const { id } of planned) await sendMessage(place, firmId, id);
			await standin.reportsDelivered();
			const texts = await inFirm(firmId, (tx) =>
				tx.rows<{ id: string }>(`select id from message where channel = 'text' and state = 'sent' and delivered_at is null`)
			);
			for (const { id } of texts) await takeInReport(context.db, clock.now(), { messageId: id, action: 'delivered', reason: '' });
		},
		more({ at, as }) {
			at('2026-03-04', '10:20', async () => {
				for (const key of LIBRARY) await inFirm(firmId, (tx) => copyMessageText(tx, as('odalys'), { key }));
				await inFirm(firmId, (tx) => addMessageText(tx, as('imre'), messageTextSchema.parse(OWN_TEXT)));
			});
			at(HANDED_OVER.on, '15:20', async () => {
				const id = await beginImport(context, firmId, as('odalys'), {
					fileName: HANDED_OVER.fileName,
					bytes: new TextEncoder().encode(HANDED_OVER.csv)
				});
				await inFirm(firmId, (tx) => startImport(tx, as('odalys'), id));
				await runImport(context, firmId, id, staff.get('odalys')!.id!, clock.now());
			});
			at(TEXT_ANSWER.on, '16:55', async () => {
				const person = await inFirm(firmId, (tx) =>
					tx.first<{ phone: string }>(
						'select c.phone from contact c join client_contact cc on cc.contact_id = c.id join client cl on cl.id = cc.client_id where cl.name = $1',
						[TEXT_ANSWER.client]
					)
				);
				await takeInTextMessage(context.db, clock.now(), { id: randomUUID(), from: person!.phone, text: TEXT_ANSWER.words });
			});
			at('2026-05-01', '16:30', async () => {
				const told = (who: StaffKey, telling: Partial<Telling>) =>
					inFirm(firmId, (tx) => changeOwnTelling(tx, as(who), { ...TOLD_NOTHING, time: '08:00', ...telling }));
				await told('odalys', { summary: 'daily', kinds: { ...TOLD_NOTHING.kinds, no_help: 'at_once' } });
				await told('ferrin', { summary: 'weekly', whose: 'all', kinds: { ...TOLD_NOTHING.kinds, letters: 'at_once' } });
			});
			at('2026-05-04', '08:00', async () => void (await tellStaff(context.db, firmId, clock.now())));
			at('2026-05-01', '16:40', async () =>
				inFirm(firmId, async (tx) => void (await tx.rows('update staff set last_looked_at = $1', [clock.now()])))
			);
		}
	});
	// written last: a firm without a demo clock is a seeding that was cut off
	await owner.query('insert into demo_clock (offset_ms) values ($1)', [Date.parse(DEMO_NOW) - Date.now()]);
	mailer.close();
	await standin.close();
	await receiver.close();
	await context.close();
}
