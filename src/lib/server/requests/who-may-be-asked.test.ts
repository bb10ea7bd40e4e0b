import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import {
	itemsOf,
	makeClient,
	makeFirm,
	openTestContext,
	paperLine,
	requestTo,
	type TestClient,
	type TestContext,
	type TestFirm
} from '../testing/test-firm';
import { changeItemPerson, sendItemBack } from './judge-item';
import { writeRemark } from '../items/remarks';
import { sendRequest } from './send-request';

let context: TestContext;
let firm: TestFirm;
let client: TestClient;
beforeAll(async () => (context = await openTestContext()));
afterAll(() => context.close());
beforeEach(async () => {
	firm = await makeFirm(context);
	client = await makeClient(context, firm);
});

const send = () => sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Lease', '2026-05-20')]));
const set = (change: string, contactId = client.contactId) => context.owner.query(`update contact set ${change} where id = $1`, [contactId]);
const STATES = [
	['suspended', 'suspended_at = now()', 'is suspended and cannot answer'],
	['without an address', `email = null, mail_problem = 'no_address'`, 'has no e-mail address yet'],
	['whose mail comes back', `mail_problem = 'bounced'`, 'came back']
] as const;

describe.each(STATES)('somebody %s', (_, change, words) => {
	test('is not asked, and the reason is said', async () => {
		await set(change);
		await expect(send()).rejects.toThrow(words);
	});
	test('is not asked in somebody else’s place', async () => {
		const [item] = await itemsOf(context, await send());
		const other = await makeClient(context, firm);
		await context.owner.query('insert into client_contact (firm_id, client_id, contact_id, rank) values ($1, $2, $3, 9)', [
			firm.id,
			client.id,
			other.contactId
		]);
		await set(change, other.contactId);
		const ask = () => firm.run((tx) => changeItemPerson(tx, firm.odalys(), { itemId: item.id, version: item.version, contactId: other.contactId }));
		await expect(ask()).rejects.toThrow(words);
		await set(`suspended_at = null, mail_problem = null, email = 'other@client.example'`, other.contactId);
		await ask();
	});
	test('may lose that after being asked: what is sent back and written goes through', async () => {
		const [item] = await itemsOf(context, await send());
		await context.owner.query(`update item set state = 'handed_in' where id = $1`, [item.id]);
		await set(change);
		await firm.run(async (tx) => {
			await sendItemBack(tx, firm.odalys(), { itemId: item.id, version: item.version, reason: 'The second page is missing.' });
			await writeRemark(tx, firm.odalys(), { itemId: item.id, words: 'Thank you.', pinned: null });
		});
		const { rows } = await context.owner.query(`select kind from message where firm_id = $1 and kind in ('sent_back', 'remark') order by kind`, [
			firm.id
		]);
		expect(rows.map(({ kind }) => kind)).toEqual(words.startsWith('has no') ? [] : ['remark', 'sent_back']);
	});
});
