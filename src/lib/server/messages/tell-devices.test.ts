import { randomUUID } from 'node:crypto';
import { beforeEach, describe, expect, test } from 'vitest';
import { JOBS } from '$lib/core/jobs';
import type { Notice, Subscription } from '$lib/core/telling/push';
import type { Actor } from '../actor';
import { signOutContact } from '../clients/contacts';
import { planMessage } from '../outbox/plan-message';
import { noteDevice } from '../people/devices';
import { endSession, beginSession } from '../people/sessions';
import { readPerson } from '../people/person';
import { readToldDevices, stopOnDevice, tellOnDevice } from '../people/told-devices';
import type { PushAnswer, PushService } from '../platform/push/push-service';
import { sendRequest } from '../requests/send-request';
import { makeClient, paperLine, requestTo, sendPlanned } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { tellDevices } from './tell-devices';

useFirm();
const SERVICES = ['push.example'];
const told: { to: string; notice: Notice }[] = [];
const answers: PushAnswer[] = [];
const pushes: PushService = {
	publicKey: '',
	services: SERVICES,
	async send({ endpoint }, notice) {
		told.push({ to: endpoint.split('/').pop()!, notice });
		return answers.shift() ?? { outcome: 'taken' };
	}
};
beforeEach(() => void (told.length = answers.length = 0));

const subscription = (name: string): Subscription => ({
	endpoint: `https://push.example/${name}`,
	p256dh: `B${'a'.repeat(86)}`,
	auth: 'a'.repeat(22)
});
/** Somebody signs in on a device. @returns the session, and the device as its browser knows it */
async function signIn(who: Actor, cookie?: string) {
	return firm.run(async (tx) => {
		const person = (await readPerson(tx, { kind: who.kind as 'contact', id: who.id! }))!;
		const device = await noteDevice(tx, { ...who, now: context.clock.now() }, person, cookie, false);
		await beginSession(tx, { ...who, now: context.clock.now() }, person, { deviceId: device.id, mustSetUp: false });
		const session = await tx.first<{ id: string }>('select id from session where device_id = $1 order by created_at desc limit 1', [device.id]);
		return { ...device, sessionId: session!.id };
	});
}
async function tellOn(who: Actor, name: string) {
	const session = await signIn(who);
	const run = who.kind === 'contact' ? client.run : firm.run;
	await run((tx) => tellOnDevice(tx, who, { sessionId: session.sessionId, subscription: subscription(name), services: SERVICES }));
	return session;
}
/** What the worker does with what is planned, and with the jobs that come of it. */
async function worker() {
	await sendPlanned(context, firm);
	const { rows } = await context.owner.query(
		`delete from graphile_worker._private_jobs j using graphile_worker._private_tasks t where t.id = j.task_id and t.identifier = 'tell_devices' returning j.payload`
	);
	const jobs = rows.map(({ payload }) => JOBS.tell_devices.parse(payload));
	for (const { firmId, messageId } of jobs) await tellDevices({ ...context, pushes }, firmId, messageId);
	return jobs;
}
const names = () => told.splice(0).map(({ to }) => to);
const ask = () => sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Statement of the house of Whitlock', '2026-05-20')]));
/** Somebody of the firm writes to the contact. */
const write = () =>
	firm.run((tx) =>
		planMessage(tx, firm.odalys(), {
			kind: 'remark',
			idempotencyKey: randomUUID(),
			to: { address: client.email, contactId: client.contactId },
			clientId: client.id,
			content: { subject: 'Statement of the house of Whitlock', body: 'Please look again.', itemTitle: 'Statement', byHand: true }
		})
	);
const later = (minutes: number) => context.clock.set(new Date(Date.parse(context.clock.now()) + minutes * 60_000).toISOString());

describe('a contact is told on their devices', () => {
	test('that the firm has written, and nothing else; once for each message', async () => {
		await tellOn(client.mara(), 'phone');
		await ask();
		const jobs = await worker();
		expect(told).toEqual([
			{
				to: 'phone',
				notice: {
					title: 'Pennywhistle Row Bookkeeping',
					body: 'Pennywhistle Row Bookkeeping has written to you.',
					path: `/portal/${firm.slug}`,
					tag: 'new',
					lang: 'en'
				}
			}
		]);
		later(10);
		for (const { firmId, messageId } of jobs) await tellDevices({ ...context, pushes }, firmId, messageId);
		expect(names()).toEqual(['phone']);
	});

	test('in their language, and once for two messages in a row', async () => {
		await context.owner.query(`update contact set locale = 'fr' where id = $1`, [client.contactId]);
		await tellOn(client.mara(), 'phone');
		await write();
		await write();
		await worker();
		expect(told.map(({ notice }) => [notice.body, notice.lang])).toEqual([['Pennywhistle Row Bookkeeping vous a écrit.', 'fr']]);
	});

	test('not of a code, a password or what was not sent', async () => {
		await tellOn(client.mara(), 'phone');
		const to = { address: client.email, contactId: client.contactId };
		await firm.run((tx) => planMessage(tx, firm.odalys(), { kind: 'password_reset', idempotencyKey: randomUUID(), to, content: {} }));
		context.mailer.answers.push({ outcome: 'sent' }, { outcome: 'refused', reason: 'no' });
		await sendPlanned(context, firm);
		await ask();
		expect(await worker()).toEqual([]);
		expect(names()).toEqual([]);
	});

	test('on every device on which they want it, until they sign out there or are signed out; again once they are back', async () => {
		const phone = await tellOn(client.mara(), 'phone');
		await tellOn(client.mara(), 'laptop');
		await write();
		await worker();
		expect(names().toSorted()).toEqual(['laptop', 'phone']);
		later(5);
		await firm.run((tx) => endSession(tx, phone.sessionId, context.clock.now()));
		await write();
		await worker();
		expect(names()).toEqual(['laptop']);
		later(5);
		await signIn(client.mara(), phone.cookie);
		await write();
		await worker();
		expect(names().toSorted()).toEqual(['laptop', 'phone']);
		later(5);
		await firm.run((tx) => signOutContact(tx, firm.odalys(), { clientId: client.id, contactId: client.contactId }));
		await write();
		await worker();
		expect(names()).toEqual([]);
	});

	test('a session that ran out does not end it: nothing of a client is said', async () => {
		await tellOn(client.mara(), 'phone');
		later(60 * 24 * 60);
		await write();
		await worker();
		expect(names()).toEqual(['phone']);
	});

	test('not while they are suspended, nor in a practice workspace, nor where no key is set up, nor half a day later', async () => {
		await tellOn(client.mara(), 'phone');
		await ask();
		const [job] = await worker();
		names();
		const again = (place = pushes as PushService | null) => {
			later(5);
			return tellDevices({ ...context, pushes: place }, job.firmId, job.messageId);
		};
		await context.owner.query('update told_device set told_of = null');
		await again(null);
		await context.owner.query('update contact set suspended_at = now() where id = $1', [client.contactId]);
		await again();
		await context.owner.query('update contact set suspended_at = null where id = $1', [client.contactId]);
		await again();
		expect(names()).toEqual(['phone']);
		await context.owner.query('update told_device set told_of = null');
		later(12 * 60);
		await again();
		expect(names()).toEqual([]);
	});
});

describe('a push service', () => {
	test('that does not reach a device any more: it is forgotten', async () => {
		await tellOn(client.mara(), 'phone');
		answers.push({ outcome: 'gone', reason: 'gone' });
		await ask();
		await worker();
		expect(await client.run((tx) => readToldDevices(tx, client.mara(), randomUUID()))).toEqual([]);
	});

	test('that is away: only who was not told is told again', async () => {
		await tellOn(client.mara(), 'phone');
		await tellOn(client.mara(), 'laptop');
		answers.push({ outcome: 'taken' }, { outcome: 'try_later', reason: 'the push service answered 503' });
		await ask();
		await sendPlanned(context, firm);
		const { rows } = await context.owner.query(`select id from message where firm_id = $1 and kind = 'request'`, [firm.id]);
		const tell = () => tellDevices({ ...context, pushes }, firm.id, rows[0].id);
		await expect(tell()).rejects.toThrow('answered 503');
		const [, second] = names();
		later(2);
		await tell();
		expect(names()).toEqual([second]);
	});
});

test('somebody of the firm is told without a word of a client, and not of the daily summary', async () => {
	await tellOn(firm.odalys(), 'desk');
	const to = { address: 'odalys@pennywhistle.example', staffId: firm.coordinator.id! };
	const content = { clientName: 'Gull & String Kites', itemTitle: 'Payroll', itemId: randomUUID(), subject: 'Gull & String Kites', body: '' };
	const told_ = { since: '2026-05-04T00:00:00Z', through: '2026-05-04T12:00:00Z', clients: [], moreClients: 0, waits: [], away: [] };
	await firm.run((tx) => planMessage(tx, firm.odalys(), { kind: 'summary', idempotencyKey: randomUUID(), to, content: { told: told_ } }));
	await worker();
	expect(names()).toEqual([]);
	await firm.run((tx) => planMessage(tx, firm.odalys(), { kind: 'answer_told', idempotencyKey: randomUUID(), to, clientId: client.id, content }));
	await worker();
	expect(told.map(({ notice }) => notice.path)).toEqual(['/desk/rounds']);
	expect(JSON.stringify(told)).not.toMatch(/Gull|Payroll|Mara/);
});

describe('whose device it is', () => {
	test('one’s own only: it is neither seen nor stopped by others', async () => {
		const phone = await tellOn(client.mara(), 'phone');
		const other = await makeClient(context, firm, { name: 'Ferry Café' });
		expect(await other.run((tx) => readToldDevices(tx, other.mara(), phone.sessionId))).toEqual([]);
		await expect(other.run((tx) => stopOnDevice(tx, other.mara(), phone.id))).rejects.toMatchObject({ code: 'not_found' });
		await expect(firm.run((tx) => stopOnDevice(tx, firm.odalys(), phone.id))).rejects.toMatchObject({ code: 'not_found' });
		const nobody: Actor = { ...client.mara(), kind: 'nobody', id: null };
		for (const denied of [
			() => client.run((tx) => readToldDevices(tx, nobody, phone.sessionId)),
			() => client.run((tx) => stopOnDevice(tx, nobody, phone.id)),
			() => client.run((tx) => tellOnDevice(tx, nobody, { sessionId: phone.sessionId, subscription: subscription('x'), services: SERVICES }))
		])
			await expect(denied()).rejects.toMatchObject({ code: 'not_allowed' });
		await client.run((tx) => stopOnDevice(tx, client.mara(), phone.id));
		await expect(client.run((tx) => stopOnDevice(tx, client.mara(), phone.id))).rejects.toMatchObject({ code: 'not_found' });
	});

	test('not with the session of somebody else, one that is ended, or one without a device', async () => {
		const other = await makeClient(context, firm, { name: 'Ferry Café' });
		const theirs = await signIn(other.mara());
		const subscribe = (sessionId: string) =>
			client.run((tx) => tellOnDevice(tx, client.mara(), { sessionId, subscription: subscription('x'), services: SERVICES }));
		await expect(subscribe(theirs.sessionId)).rejects.toMatchObject({ code: 'invalid' });
		await expect(subscribe(randomUUID())).rejects.toMatchObject({ code: 'invalid' });
		const mine = await signIn(client.mara());
		await firm.run((tx) => endSession(tx, mine.sessionId, context.clock.now()));
		await expect(subscribe(mine.sessionId)).rejects.toMatchObject({ code: 'invalid' });
	});

	test('subscribing again keeps one device, with what the browser has now; no service that is not known is spoken to', async () => {
		const phone = await tellOn(client.mara(), 'old');
		const again = (given: Subscription) =>
			client.run((tx) => tellOnDevice(tx, client.mara(), { sessionId: phone.sessionId, subscription: given, services: SERVICES }));
		await again(subscription('new'));
		await expect(again({ ...subscription('x'), endpoint: 'https://169.254.169.254/latest' })).rejects.toMatchObject({ code: 'invalid' });
		await ask();
		await worker();
		expect(names()).toEqual(['new']);
		expect(await client.run((tx) => readToldDevices(tx, client.mara(), phone.sessionId))).toMatchObject([{ id: phone.id, here: true }]);
	});
});
