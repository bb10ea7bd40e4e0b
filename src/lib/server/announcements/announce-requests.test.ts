import { randomUUID } from 'node:crypto';
import { describe, expect, test } from 'vitest';
import { draftContentSchema } from '$lib/core/requests/request-list';
import { afterBusinessDays } from '$lib/core/schedules/due-rule';
import { loadFirm } from '../firms/firm';
import { saveDraft } from '../drafts/drafts';
import { sendDrafts } from '../requests/send-draft';
import { sendRequest } from '../requests/send-request';
import { makeClient, paperLine, requestTo, sendPlanned } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { doWhatIsDue } from '../due/do-what-is-due';
import { readForecast } from '../chasing/read-forecast';
import { announceRequests, readAnnouncements } from './announce-requests';

useFirm();

const send = (title: string, more: object = {}, of = client) =>
	sendRequest(context, firm.id, firm.odalys(), requestTo(of, [paperLine(title, '2026-05-20')], { title, ...more }));
const announce = async () => {
	await announceRequests(context.db, firm.id, context.clock.now());
	await sendPlanned(context, firm);
};
/** What came to an address so far: each message by the things it names, in the order of the alphabet. */
const told = (address = client.email) =>
	context.mailer.sent
		.filter((mail) => mail.to.address === address)
		.map((mail) => [...mail.text.matchAll(/^- (.+) \(by/gm)].map((match) => match[1]).toSorted());
const coming = () => firm.run(async (tx) => readAnnouncements(tx, firm.odalys(), await loadFirm(tx)));

describe('whatever is announced to a person on one day is one message', () => {
	test('the first goes at once; what follows is up at once, and told the next day together; so it was foreseen', async () => {
		await send('Lease');
		await send('Statement');
		await send('Receipts');
		await announce();
		expect(told()).toEqual([['Lease']]);
		const open = await context.owner.query(`select count(*)::int n from item where client_id = $1 and state = 'asked'`, [client.id]);
		expect(open.rows).toEqual([{ n: 3 }]);
		const [next] = await coming();
		expect(next).toMatchObject({ at: '2026-05-05T12:00:00Z', localDay: '2026-05-05', things: 2, contactName: 'Mara Whitlock', by: ['email'] });
		expect(next.why).toContain('told of something today already');
		context.clock.set('2026-05-05T11:59:00Z');
		await announce();
		expect(told()).toHaveLength(1);
		context.clock.set(next.at);
		await announce();
		await announce();
		expect(told()).toEqual([['Lease'], ['Receipts', 'Statement']]);
		expect(await coming()).toEqual([]);
	});
	test('in the words that were written, with every field put in for whoever reads them', async () => {
		await send('Lease');
		await send('Papers of {client_name}', { message: 'Dear {contact_first_name},\nfor {client_name}, please, as of {today}.\n{responsible_name}' });
		context.clock.set('2026-05-05T13:00:00Z');
		await announce();
		const mail = context.mailer.sent.at(-1)!;
		expect(mail.subject).toBe('Papers of Gull & String Kites');
		expect(mail.text).toMatch(/^Dear Mara,\s+for Gull & String Kites, please, as of .*5 May 2026.*\.\s+Odalys Fenwick/s);
		expect(mail.text + mail.html).not.toMatch(/\{[a-z_]+\}/);
	});
	test('a reminder due on that day goes as one and tells it along, whatever the worker does first', async () => {
		await send('Lease');
		const [{ at }] = await firm.run(async (tx) => readForecast(tx, firm.odalys(), await loadFirm(tx), [client.contactId], 28));
		context.clock.set(new Date(Date.parse(at) - 20 * 3_600_000).toISOString());
		// the first of them is told at once, the second with the next message
		await send('Statement');
		await send('Receipts');
		context.clock.set(at);
		await Promise.all([1, 2].map(() => doWhatIsDue(context, firm.id, context.clock.now())));
		const { rows } = await context.owner.query(`select kind, content ->> 'news' news from message where firm_id = $1 and planned_at = $2`, [
			firm.id,
			context.clock.now()
		]);
		expect(rows).toEqual([{ kind: 'chase', news: '1' }]);
		expect(await coming()).toEqual([]);
	});
	test('unless it is to be told today all the same', async () => {
		await send('Lease');
		await send('Urgent', { tellNow: true });
		await announce();
		expect(told().toSorted()).toEqual([['Lease'], ['Urgent']]);
	});
	test('put up quietly it counts as nothing; what is settled before it is told is not told', async () => {
		await send('Quiet', { quiet: true });
		await send('Lease');
		const later = await send('Statement');
		await context.owner.query(`update item set state = 'waived' where request_id = $1`, [later]);
		expect(await coming()).toEqual([]);
		context.clock.set('2026-05-05T13:00:00Z');
		await announce();
		expect(told()).toEqual([['Lease']]);
	});
	test('somebody invited with the first request is told of the second the next day, by the same way in', async () => {
		const fresh = await makeClient(context, firm, { name: 'Ninth Rock Oysters', access: false });
		await send('Lease', { withInvitation: true }, fresh);
		await send('Statement', { withInvitation: true }, fresh);
		await announce();
		expect(told(fresh.email)).toEqual([['Lease']]);
		context.clock.set('2026-05-05T13:00:00Z');
		await announce();
		expect(told(fresh.email)).toEqual([['Lease'], ['Statement']]);
	});
	test('drafts of several businesses of one person go as one; another person’s by itself', async () => {
		const boats = await makeClient(context, firm, { name: 'Foxglove Boatyard', contactId: client.contactId, email: client.email });
		const oysters = await makeClient(context, firm, { name: 'Ninth Rock Oysters' });
		const ids = [];
		for (const [of, title] of [
			[client, 'Kites'],
			[oysters, 'Oysters'],
			[boats, 'Boats']
		] as const) {
			const id = randomUUID();
			const lines = [{ ...paperLine(title, '2026-05-20'), why: '', out: false, due: afterBusinessDays(5) }];
			const content = draftContentSchema.parse({ contactId: of.contactId, title, lines, withInvitation: false });
			await firm.run((tx) => saveDraft(tx, firm.odalys(), { id, version: null, clientId: of.id, list: null, content }));
			ids.push(id);
		}
		expect((await sendDrafts(context, firm.id, firm.odalys(), ids)).map((one) => one.problem)).toEqual([null, null, null]);
		await sendPlanned(context, firm);
		expect(told()).toEqual([['Boats, for Foxglove Boatyard', 'Kites, for Gull & String Kites']]);
		expect(told(oysters.email)).toEqual([['Oysters']]);
		context.clock.set('2026-05-05T13:00:00Z');
		await announce();
		expect(context.mailer.sent).toHaveLength(2);
	});
});
