import { readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import Papa from 'papaparse';
import { awake, expect, expectAccessible, PDF_FILE, phone, signInAtDesk, signInAtPortal, test } from './product';

test.use({ file: 'transactions' });

const BANK = [
	'Tideline Savings;Chequing;;;',
	'Date;Description;Payee;Debit;Credit',
	'02/04/2026;CARD 4471;Harbour Hardware;84,20;',
	'03/04/2026;TRANSFER;;1.200,00;',
	'09/04/2026;E-TRANSFER;M. Whitlock;;350,00',
	'Total;;;1.284,20;350,00'
].join('\r\n');

test('a bank’s file is imported, lines are chosen and asked, answered on a phone one by one, and go out as CSV', async ({
	page,
	browser,
	product
}) => {
	await signInAtDesk(page);
	const { rows } = await product.sql.query(`select id from client where name = 'Gull & String Kites'`);
	await page.goto(`/desk/clients/${rows[0].id}`);
	await page.getByRole('link', { name: 'Questions about transactions' }).click();
	await awake(page);
	await page.locator('input[type=file]').setInputFiles({ name: 'nothing.csv', mimeType: 'text/csv', buffer: Buffer.from('PK\x03\x04') });
	await expect(page.getByRole('alert')).toContainText('This is a spreadsheet');
	await page.getByLabel('Account it belongs to').selectOption('Tideline Savings ··4471');
	await page.locator('input[type=file]').setInputFiles({ name: 'bank.csv', mimeType: 'text/csv', buffer: Buffer.from(BANK) });
	await page.waitForURL(/transactions\/[0-9a-f-]{36}$/);
	await awake(page);
	await expect(page.getByText('one line could not be read')).toBeVisible();
	// nothing tells day and month apart: the person says it
	await page.getByRole('button', { name: 'say how it is read' }).click();
	await page.getByLabel('Days are written as').selectOption('day, month, year');
	await page.getByRole('button', { name: 'Read it this way' }).click();
	await expect(page.getByRole('cell', { name: '2 April 2026' })).toBeVisible();
	await page.getByLabel(/^Choose all/).check();
	await expectAccessible(page, 'choosing lines');
	await page.getByRole('button', { name: 'Ask what it was for …' }).click();
	await page.waitForURL(/ask\?draft=/);
	await awake(page);
	await page.locator('[id^=row-]').first().click();
	await page.getByRole('button', { name: 'Remove TRANSFER of 2026-04-03' }).click();
	await page.getByRole('button', { name: /^Send to Mara/ }).click();
	await page.waitForURL(/clients\/[0-9a-f-]{36}$/);

	const mobile = await phone(browser, product.origin);
	await mobile.setViewportSize({ width: 320, height: 640 });
	await signInAtPortal(mobile, 'mara@gullstring.example');
	await mobile.getByRole('link', { name: /What were these payments for/ }).click();
	await expect(mobile.getByText('0 of 2 answered')).toBeVisible();
	await expectAccessible(mobile, 'lines to answer');
	expect(await mobile.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(320);
	await mobile.getByRole('button', { name: 'Business expense' }).click();
	await expect(mobile.getByText('1 of 2 answered')).toBeVisible();
	await mobile.getByRole('button', { name: 'That was all of them' }).click();
	await expect(mobile.getByRole('alert')).toContainText('One line is still open');
	// the firm sees answers as they come
	await page.getByRole('link', { name: /What were these payments for/ }).click();
	await expect(page.getByText('1 of 2 lines are answered.')).toBeVisible();
	// what is typed and not sent yet is there when it is gone on with, and is no answer
	await mobile.getByLabel('In your own words').pressSequentially('lent to');
	await expect
		.poll(async () => (await product.sql.query(`select 1 from item where kind = 'transactions' and answer_data::text like '%"lent to"%'`)).rowCount)
		.toBe(1);
	await mobile.reload();
	await expect(mobile.getByLabel('In your own words')).toHaveValue('lent to');
	await expect(mobile.getByText('1 of 2 answered')).toBeVisible();
	await mobile.getByLabel('Add a file').setInputFiles(PDF_FILE);
	await expect(mobile.getByText('2 of 2 answered')).toBeVisible();
	await mobile.getByRole('button', { name: /^Change it: M. Whitlock/ }).click();
	await mobile.getByLabel('In your own words').fill('lent to the kite club');
	await mobile.keyboard.press('Enter');
	await expect(mobile.getByText('lent to the kite club')).toBeVisible();
	await mobile.getByRole('button', { name: 'That was all of them' }).click();
	await mobile.waitForURL(/pennywhistle-row\?done=/);
	await mobile.context().close();

	await expect(page.getByText('All 2 lines are answered.')).toBeVisible();
	const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'Download the answers as CSV' }).click()]);
	const file = join(product.folder, 'answers.csv');
	await download.saveAs(file);
	const [header, ...answered] = Papa.parse<string[]>((await readFile(file, 'utf8')).replace(/^\ufeff/, ''), { skipEmptyLines: true }).data;
	expect(header.slice(0, 5)).toEqual(['Date', 'Description', 'Payee', 'Debit', 'Credit']);
	expect(answered.map((row) => [row[0], row[3], row[4], row[7], row[9]])).toEqual([
		['02/04/2026', '84,20', '', 'Business expense', ''],
		['09/04/2026', '', '350,00', 'lent to the kite club', 'statement.pdf']
	]);
	// imported once more, what was asked is hidden
	await writeFile(join(product.folder, 'again.csv'), BANK);
	await page.goto(`/desk/clients/${rows[0].id}/transactions`);
	await awake(page);
	await page.getByLabel('Account it belongs to').selectOption('Tideline Savings ··4471');
	await page.locator('input[type=file]').setInputFiles(join(product.folder, 'again.csv'));
	await page.waitForURL(/transactions\/[0-9a-f-]{36}$/);
	await awake(page);
	await page.getByRole('button', { name: 'say how it is read' }).click();
	await page.getByLabel('Days are written as').selectOption('day, month, year');
	await page.getByRole('button', { name: 'Read it this way' }).click();
	await expect(page.getByText('2 lines asked before are hidden')).toBeVisible();
	await expect(page.locator('table.list tbody tr')).toHaveCount(1);
});

test('a bank’s file of several megabytes comes in', async ({ page, product }) => {
	await signInAtDesk(page);
	const { rows } = await product.sql.query(`select id from client where name = 'Gull & String Kites'`);
	await page.goto(`/desk/clients/${rows[0].id}/transactions`);
	await awake(page);
	const words = 'for the workshop at the harbour, as agreed with the owner, '.repeat(6);
	const large = `Date,Description,Payee,Amount\n${Array.from({ length: 9000 }, (_, n) => `2026-04-02,"${words}",Payee ${n},-${n}.20`).join('\n')}`;
	expect(large.length).toBeGreaterThan(3_000_000);
	await page.locator('input[type=file]').setInputFiles({ name: 'large.csv', mimeType: 'text/csv', buffer: Buffer.from(large) });
	await page.waitForURL(/transactions\/[0-9a-f-]{36}$/);
	const { rows: files } = await product.sql.query(`select lines from transaction_file where name = 'large.csv'`);
	expect(files).toEqual([{ lines: 9000 }]);
});

test('the papers of a ledger’s lines: what is clear is paired, the rest is said by keyboard, and what is missing is asked for in one item', async ({
	page,
	browser,
	product
}) => {
	await signInAtDesk(page);
	const { rows } = await product.sql.query(`select id, client_id from transaction_file where name = 'ledger-march.csv'`);
	await page.goto(`/desk/clients/${rows[0].client_id}/transactions/${rows[0].id}`);
	await page.getByRole('link', { name: 'Papers of its lines' }).click();
	await page.waitForURL(/papers$/);
	await awake(page);
	await expect(page.getByRole('heading', { name: '3 of 7 lines have their paper.' })).toBeVisible();
	await expectAccessible(page, 'papers of lines');
	await expect(page.getByText('61.80 stands in it · it names Harbour')).toBeVisible();
	// a second person says that these two do not belong together, while the first looks
	const other = await (await browser.newContext({ baseURL: product.origin })).newPage();
	await signInAtDesk(other, 'bram');
	await other.goto(page.url());
	await awake(other);
	await expect(other.getByRole('button', { name: /^Ask for the/ })).toHaveCount(0);
	await other.getByRole('button', { name: /^Not these two: Harbour Hardware/ }).press('Enter');
	await expect(other.getByText('These two are not proposed again.')).toBeVisible();
	await expect(page.getByText('Perhaps these')).toBeHidden();
	// the first chooses it all the same, by keyboard
	await page.getByRole('button', { name: /^Choose its paper: Harbour Hardware/ }).press('Enter');
	const choice = page.getByRole('combobox', { name: 'The paper of Harbour Hardware' });
	await expect(choice).toBeFocused();
	await page.keyboard.type('till');
	await expect(choice.locator('option:checked')).toHaveText(/^till slip\.pdf/);
	await page.keyboard.press('Tab');
	await page.keyboard.press('Enter');
	await expect(page.getByRole('heading', { name: '4 of 7 lines have their paper.' })).toBeVisible();
	await page.reload();
	await awake(page);
	await page.getByText('4 lines with their papers').click();
	// what happens elsewhere does not close it
	await product.sql.query(`update paper set name = 'banner.pdf' where name = 'puffin.pdf'`);
	await product.sql.query(`select pg_notify('lantern_events', firm_id || ' ' || id + 1 || ' ') from event order by id desc limit 1`);
	await expect(page.getByRole('row', { name: /Puffin.*banner\.pdf/ })).toBeVisible();
	await expect(page.getByRole('row', { name: /Harbour Hardware.*till slip\.pdf.*Odalys/ })).toBeVisible();
	await page.getByRole('button', { name: /^Take it back: Puffin/ }).press('Enter');
	await expect(page.getByRole('heading', { name: '3 of 7 lines have their paper.' })).toBeVisible();
	const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'CSV with the papers' }).click()]);
	expect(download.suggestedFilename()).toBe('ledger-march with papers.csv');
	const table = Papa.parse<string[]>(await readFile(await download.path(), 'utf8'), { skipEmptyLines: true }).data;
	expect(table.filter(([, who]) => who === 'Harbour Hardware').map((row) => row.slice(-2))).toEqual([['till slip.pdf', 'Odalys Fenwick']]);
	// what is left is asked for, without the one that is unticked
	await page.getByRole('checkbox', { name: /^Ask for the paper of North Mole Ice/ }).press('Space');
	await page.getByRole('button', { name: 'Ask for the 3 that are missing …' }).press('Enter');
	await page.waitForURL(/ask\?draft=/);
	await awake(page);
	await page.locator('[id^=row-]').first().click();
	await expect(page.getByRole('button', { name: /^Remove .* of 2026-03/ })).toHaveCount(3);
	await page.getByRole('button', { name: /^Send to/ }).click();
	await page.waitForURL(/clients\/[0-9a-f-]{36}$/);
	await page.goto(`/desk/clients/${rows[0].client_id}/transactions/${rows[0].id}/papers`);
	await expect(page.getByText('About 3 lines the client was asked.')).toBeVisible();
	await other.context().close();
});
