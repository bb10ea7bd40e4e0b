import { spawnSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buffer } from 'node:stream/consumers';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import Papa from 'papaparse';
import type { Fee } from '$lib/core/letters/fees';
import type { LetterBlock, LetterDocument } from '$lib/core/letters/letter-document';
import type { RequestLine } from '$lib/core/requests/request-list';
import { may, ROLES } from '$lib/core/people/roles';
import { writeEngagement } from '../clients/client-record';
import { changeClientRights } from '../clients/client-rights';
import { asStaff, type Tx } from '../platform/db/database';
import { encryptAnew } from '../platform/encrypt-anew';
import { priceService } from '../firms/services';
import { readLetterPages } from '../items/read-items';
import { waiveItem } from '../requests/judge-item';
import { sendRequest } from '../requests/send-request';
import {
	itemsOf,
	letterLine,
	letterOf,
	makeClient,
	makeFirm,
	openTestContext,
	requestTo,
	SECRET_KEY,
	type TestClient,
	type TestContext,
	type TestFirm
} from '../testing/test-firm';
import { countersignLetter } from './countersign-letter';
import { hashPassword } from '../platform/passwords';
import { downloadAccounts, handOnAccounts, readAuthorisations, readAuthorisationsOf, removeAccount, showAccount } from './payment-authorisations';
import { noteShownWhole, openLetterPdf, signLetter } from './sign-letter';

let context: TestContext;
let firm: TestFirm;
let client: TestClient;
let books: string;
let payroll: string;
beforeAll(async () => {
	context = await openTestContext();
	firm = await makeFirm(context);
	client = await makeClient(context, firm, { name: 'Gull & String Kites' });
	const service = async (name: string, position: number) =>
		(
			await context.owner.query<{ id: string }>(
				'insert into service (id, firm_id, name, position, created_at) values (gen_random_uuid(), $1, $2, $3, now()) returning id',
				[firm.id, name, position]
			)
		).rows[0].id;
	[books, payroll] = [await service('Monthly books', 91), await service('Payroll runs', 92)];
});
afterAll(() => context.close());

const text = (words: string): LetterBlock => ({ type: 'paragraph', content: [{ type: 'text', text: words }] });
const LETTER: LetterDocument = { type: 'doc', content: [text('What it costs'), { type: 'fees' }, text('How it is paid'), { type: 'payment' }] };

async function sent(document: LetterDocument, fees: Fee[] | null = null, to = client, title = 'Terms'): Promise<string> {
	const line = { ...letterLine(title, '2026-05-20', {}, document), spec: { fees } } as RequestLine;
	const requestId = await sendRequest(context, firm.id, firm.odalys(), requestTo(to, [line]));
	return (await itemsOf(context, requestId))[0].id;
}
async function wordsOf(itemId: string): Promise<string> {
	const { storageKey } = await firm.run((tx) => openLetterPdf(tx, firm.odalys(), itemId, true));
	const file = join(mkdtempSync(join(tmpdir(), 'lantern-accounts-')), 'letter.pdf');
	writeFileSync(file, await buffer(context.papers.read(storageKey)));
	return spawnSync('pdftotext', ['-layout', file, '-'], { encoding: 'utf8' }).stdout;
}
const BANK = 'Transit and institution number';
const ACCOUNT = { 'Account holder': 'Mara Whitlock', [BANK]: '12345-003', 'Account number': '9876 543 210' };
async function signed(itemId: string, values: Record<string, string> = ACCOUNT, by = client): Promise<void> {
	await by.run((tx) => noteShownWhole(tx, by.mara(), itemId));
	await by.run((tx) =>
		signLetter(tx, by.mara(), { itemId, signature: { method: 'typed', name: 'Mara Whitlock' }, consent: true, values }, SECRET_KEY)
	);
}
async function countersigned(itemId: string): Promise<void> {
	const { rows } = await context.owner.query<{ sha256: string }>(
		`select encode(l.sha256, 'hex') sha256 from letter l join letter_signer s on s.letter_id = l.id where s.item_id = $1`,
		[itemId]
	);
	const by = firm.odalys();
	await firm.run((tx) => countersignLetter(tx, by, { itemId, sha256: rows[0].sha256, signature: { method: 'typed', name: by.name } }));
	await letterOf(context, firm, itemId);
}
const kept = async (itemId: string) => (await firm.run((tx) => readAuthorisationsOf(tx, firm.odalys(), itemId)))[0];

describe('a table of fees', () => {
	test('does not go while nothing is known, and names the service whose fee is not agreed', async () => {
		await expect(sent(LETTER)).rejects.toMatchObject({ message: expect.stringContaining('no services are on the record') });
		const write = (fees: Record<string, { fee: string; every: 'month' | 'once' }> | undefined, engagementId: string | null) =>
			firm.run((tx) =>
				writeEngagement(tx, firm.odalys(), {
					clientId: client.id,
					engagementId,
					name: 'Books and payroll',
					beganOn: '2026-04-01',
					services: [books, payroll],
					fees
				})
			);
		await write(undefined, null);
		await firm.run((tx) => priceService(tx, { ...firm.odalys(), role: 'administrator' }, { serviceId: books, fee: '280', every: 'month' }));
		await expect(sent(LETTER)).rejects.toMatchObject({ message: expect.stringContaining('the fee for Payroll runs') });
		const { rows } = await context.owner.query<{ id: string }>('select id from engagement where client_id = $1', [client.id]);
		await expect(write({ [payroll]: { fee: 'a lot', every: 'month' } }, rows[0].id)).rejects.toMatchObject({
			fields: { [`fee.${payroll}`]: expect.stringContaining('Payroll runs') }
		});
		await write({ [payroll]: { fee: '120.50', every: 'month' } }, rows[0].id);
		// what changes something else of the engagement leaves what was agreed
		await write(undefined, rows[0].id);
		const words = await wordsOf(await sent(LETTER));
		expect(words).toMatch(/Monthly books\s+\$280\.00 each month/);
		expect(words).toMatch(/Payroll runs\s+\$120\.50 each month/);
		expect(words).toMatch(/Together\s+\$400\.50 each month/);
	});

	test('says what was written for this copy instead, and the record stays as it is', async () => {
		const words = await wordsOf(await sent(LETTER, [{ service: 'Clean-up of 2025', amount: '900.00', every: 'once' }]));
		expect(words).toMatch(/Clean-up of 2025\s+\$900\.00, once/);
		expect(words).not.toContain('Monthly books');
		await expect(sent(LETTER, [{ service: 'Clean-up', amount: null, every: 'once' }])).rejects.toMatchObject({
			message: expect.stringContaining('the fee for Clean-up')
		});
	});

	test('the usual fee is set by who sets up the firm, and by nobody else', async () => {
		await expect(firm.run((tx) => priceService(tx, firm.odalys(), { serviceId: books, fee: '1', every: 'month' }))).rejects.toMatchObject({
			code: 'not_allowed'
		});
	});
});

describe('an account that is named in a letter', () => {
	test('what cannot be one is refused by name, and nothing is signed', async () => {
		const itemId = await sent(LETTER);
		await client.run((tx) => noteShownWhole(tx, client.mara(), itemId));
		await expect(signed(itemId, { ...ACCOUNT, [BANK]: '1234' })).rejects.toMatchObject({
			fields: { 'place.1': { key: 'wrong.bank.routing' } }
		});
		await expect(signed(itemId, { ...ACCOUNT, 'Account number': '12' })).rejects.toMatchObject({
			fields: { 'place.2': { key: 'wrong.bank.account' } }
		});
		await expect(signed(itemId, {})).rejects.toMatchObject({ what: { key: 'letter.left' } });
		expect(await kept(itemId)).toBeUndefined();
		await expect(sent({ type: 'doc', content: [text('Twice'), { type: 'payment' }, { type: 'payment' }] })).rejects.toMatchObject({
			message: expect.stringContaining('more than once')
		});
	});

	test('its numbers stand nowhere but encrypted; the letter shows their ends', async () => {
		const itemId = await sent(LETTER);
		await signed(itemId);
		await countersigned(itemId);
		const words = await wordsOf(itemId);
		expect(words).toContain('Mara Whitlock');
		expect(words).toContain('ending in 3210');
		expect(words).not.toMatch(/9876|12345/);
		expect((await client.run((tx) => readLetterPages(tx, itemId)))!.signed.a.filled).toEqual({
			'Account holder': 'Mara Whitlock',
			[BANK]: 'ending in 03',
			'Account number': 'ending in 3210'
		});
		// in no table and no log of what happened
		const { rows: tables } = await context.owner.query<{ name: string }>(
			`select table_name name from information_schema.tables where table_schema = 'public' and table_type = 'BASE TABLE'`
		);
		for (const { name } of tables) {
			const { rows } = await context.owner.query<{ n: string }>(
				`select count(*) n from "${name}" t where t::text ~ '9876543210|9876 543 210|12345003|12345-003'`
			);
			expect(`${name} ${rows[0].n}`).toBe(`${name} 0`);
		}
		const { id } = await kept(itemId);
		expect(await firm.run((tx) => showAccount(tx, firm.odalys(), SECRET_KEY, { itemId, id }))).toEqual({
			holder: 'Mara Whitlock',
			routing: '12345003',
			account: '9876543210'
		});
		const { rows: looks } = await context.owner.query(`select actor_name from event where verb = 'payment_shown' and item_id = $1`, [itemId]);
		expect(looks).toEqual([{ actor_name: firm.odalys().name }]);
	});

	test('goes into a file when all have signed, once as new; a spreadsheet runs nothing of it', async () => {
		const first = await firm.run((tx) => handOnAccounts(tx, firm.odalys(), SECRET_KEY, 'all'));
		const itemId = await sent(LETTER, null, client, '=HYPERLINK("x")');
		await signed(itemId, { ...ACCOUNT, 'Account holder': '=1+1' });
		const hand = (which: 'new' | 'all') => firm.run((tx) => handOnAccounts(tx, firm.odalys(), SECRET_KEY, which));
		await expect(hand('new')).rejects.toMatchObject({ code: 'invalid' });
		await countersigned(itemId);
		const { csv, count } = await hand('new');
		expect(count).toBe(1);
		const [row] = Papa.parse<Record<string, string>>(csv.replace('\ufeff', ''), { header: true, skipEmptyLines: true }).data;
		expect(row).toMatchObject({
			Client: 'Gull & String Kites',
			'Account holder': `'=1+1`,
			'Bank number': '12345003',
			Account: '9876543210',
			'Authorised by': client.mara().name,
			Letter: `'=HYPERLINK("x")`
		});
		await expect(hand('new')).rejects.toMatchObject({ code: 'invalid' });
		expect((await hand('all')).count).toBe(first.count + 1);
	});

	test('is downloaded by whoever says once more that it is them, and nothing is handed on before', async () => {
		const itemId = await sent(LETTER);
		await signed(itemId);
		await countersigned(itemId);
		await context.owner.query('update staff set password_hash = $2 where id = $1', [
			firm.coordinator.id,
			await hashPassword('lamplight ledger harbour')
		]);
		const download = (password: string, actor = firm.odalys()) => downloadAccounts(context, firm.id, actor, SECRET_KEY, { which: 'new', password });
		await expect(download('wrong')).rejects.toMatchObject({ code: 'invalid', fields: { ownPassword: expect.anything() } });
		await expect(download('lamplight ledger harbour', { ...firm.odalys(), role: 'bookkeeper' })).rejects.toMatchObject({ code: 'not_allowed' });
		expect((await kept(itemId)).handedOnAt).toBeNull();
		expect((await download('lamplight ledger harbour')).csv).toContain('Mara Whitlock');
		expect((await kept(itemId)).handedOnAt).not.toBeNull();
	});

	test.each(['declined', 'withdrawn'] as const)('is gone with a letter that is %s', async (how) => {
		const line = letterLine('For both', '2026-05-20', {}, { type: 'doc', content: [text('Pay'), { type: 'payment' }] });
		const requestId = await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [line]));
		const [{ id: itemId }] = await itemsOf(context, requestId);
		await signed(itemId);
		expect(await kept(itemId)).toMatchObject({ signed: false });
		const { rows } = await context.owner.query<{ version: number }>('select version from item where id = $1', [itemId]);
		if (how === 'withdrawn') await firm.run((tx) => waiveItem(tx, firm.odalys(), { itemId, version: rows[0].version }));
		// another of those who sign does not want to
		else await context.owner.query(`update letter set state = 'declined' where item_id = $1`, [itemId]);
		expect(await kept(itemId)).toBeUndefined();
	});

	test('is shown to and handed on by who may, and nobody reads it as a client or in another firm', async () => {
		const itemId = await sent(LETTER);
		await signed(itemId);
		const { id } = await kept(itemId);
		for (const role of ROLES.filter((one) => !may(one, 'hand_on_accounts'))) {
			const actor = { ...firm.odalys(), role };
			await expect(firm.run((tx) => showAccount(tx, actor, SECRET_KEY, { itemId, id }))).rejects.toMatchObject({ code: 'not_allowed' });
			await expect(firm.run((tx) => handOnAccounts(tx, actor, SECRET_KEY, 'all'))).rejects.toMatchObject({ code: 'not_allowed' });
			await expect(firm.run((tx) => readAuthorisations(tx, actor))).rejects.toMatchObject({ code: 'not_allowed' });
		}
		await expect(client.run((tx) => tx.rows('select 1 from payment_authorisation'))).rejects.toThrow(/permission denied/);
		const other = await makeFirm(context);
		await expect(other.run((tx) => showAccount(tx, other.odalys(), SECRET_KEY, { itemId, id }))).rejects.toMatchObject({ code: 'not_found' });
		// by the id of another letter's item
		const elsewhere = await sent(LETTER);
		await expect(firm.run((tx) => showAccount(tx, firm.odalys(), SECRET_KEY, { itemId: elsewhere, id }))).rejects.toMatchObject({
			code: 'link_unusable'
		});
		await firm.run((tx) => removeAccount(tx, firm.odalys(), { itemId, id }));
		await expect(firm.run((tx) => showAccount(tx, firm.odalys(), SECRET_KEY, { itemId, id }))).rejects.toMatchObject({ code: 'link_unusable' });
	});

	test('stays with those who work for the client: who may only see it hands nothing on, and no sign of it is in their list', async () => {
		const closed = await makeClient(context, firm, { name: 'Closed Cove' });
		const line = letterLine('Pay', '2026-05-20', {}, { type: 'doc', content: [text('Pay'), { type: 'payment' }] });
		const [{ id: itemId }] = await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(closed, [line])));
		await signed(itemId, ACCOUNT, closed);
		await countersigned(itemId);
		const { id } = await kept(itemId);
		const partner = { ...firm.partner, now: context.clock.now() };
		await asStaff(context.db, firm.coordinator.id!).inFirm(firm.id, (tx) =>
			changeClientRights(tx, firm.odalys(), { clientId: closed.id, restricted: true, rights: [{ id: partner.id!, level: 'see' }] })
		);
		const asPartner = <T>(work: (tx: Tx) => Promise<T>) => asStaff(context.db, partner.id!).inFirm(firm.id, work);
		expect((await asPartner((tx) => readAuthorisations(tx, partner))).map(({ clientName }) => clientName)).not.toContain('Closed Cove');
		await expect(asPartner((tx) => showAccount(tx, partner, SECRET_KEY, { itemId, id }))).rejects.toMatchObject({ code: 'link_unusable' });
		expect((await asPartner((tx) => handOnAccounts(tx, partner, SECRET_KEY, 'all'))).csv).not.toContain('Closed Cove');
		expect(await kept(itemId)).toMatchObject({ handedOnAt: null });
		expect((await firm.run((tx) => handOnAccounts(tx, firm.odalys(), SECRET_KEY, 'new'))).csv).toContain('Closed Cove');
	});

	test('is read with the new key after the key was changed', async () => {
		const itemId = await sent(LETTER);
		await signed(itemId);
		const { id } = await kept(itemId);
		const next = 'ab'.repeat(32);
		await encryptAnew(context.db, `${next},${SECRET_KEY}`);
		expect(await firm.run((tx) => showAccount(tx, firm.odalys(), next, { itemId, id }))).toMatchObject({ account: '9876543210' });
	});
});
