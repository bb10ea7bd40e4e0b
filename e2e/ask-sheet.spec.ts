import { readFile } from 'node:fs/promises';
import { awake, expect, expectAccessible, signInAtDesk, test } from './product';

test.use({ file: 'asksheet' });

test('letters to many from a file: filled in, looked at by row, sent, and followed by row', async ({ page, browser, product }) => {
	test.setTimeout(300_000);
	await signInAtDesk(page);
	const { rows: two } = await product.sql.query<{ id: string; name: string; email: string }>(
		`select cl.id, cl.name, c.email from client cl
			join lateral (select contact_id from client_contact where client_id = cl.id order by rank limit 1) cc on true join contact c on c.id = cc.contact_id
		where cl.state = 'active' and c.not_asked is null and exists (select from engagement_service es join engagement e on e.id = es.engagement_id and e.ended_on is null where es.client_id = cl.id) order by cl.name limit 2`
	);
	await page.goto('/desk/clients/ask');
	await awake(page);
	await page.getByLabel('List of the Library').selectOption({ label: 'Taking on a client, 8 lines' });
	await page.getByRole('radio', { name: 'clients I choose here' }).focus();
	await page.keyboard.press('ArrowDown');
	await expect(page.getByText('needs these columns: Client, E-mail, Start date, Services, Monthly fee.')).toBeVisible();
	await expect(page.getByRole('radio', { name: 'the rows of a file' })).toBeFocused();
	await expectAccessible(page, 'a file to ask by');

	// the file that is handed out holds the clients with what is known of them
	const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: /^Download them/ }).click()]);
	const blank = await readFile(await download.path(), 'utf8');
	expect(blank.split('\r\n')[0].slice(1)).toBe('Client,E-mail,Start date,Services,Monthly fee');
	const rowOf = (name: string) => blank.split('\r\n').find((row) => row.startsWith(name) || row.startsWith(`"${name}`))!;
	const csv = [
		'Client,E-mail,Start date,Services,What it costs now',
		`${rowOf(two[0].name)}512 CAD`,
		`${rowOf(two[1].name)}`,
		'Tidewrack & Daughters,,1 June 2026,payroll,90 CAD',
		`${two[0].name},,,,80 CAD`
	].join('\n');

	// what cannot be read says why, and nothing is lost by it
	const choose = (name: string, content: string | Buffer) =>
		page.locator('input[type=file]').setInputFiles({ name, mimeType: 'text/csv', buffer: Buffer.from(content) });
	await choose('fees.csv', Buffer.from([0x50, 0x4b, 3, 4]));
	await expect(page.getByRole('alert')).toContainText('This is a spreadsheet, whatever its name says.');
	await choose('fees.csv', csv);
	await expect(page.getByText('no active client has this name')).toBeVisible();
	await expect(page.getByText('What it costs now: not used')).toBeVisible();
	await page.getByRole('checkbox', { name: /was asked by it before/ }).click();
	await expect(page.getByText(/^lacks Monthly fee: waits as a draft$/)).toHaveCount(2);
	await page.getByLabel('What it costs now').focus();
	await page.keyboard.press('m');
	await expect(page.getByText(/^lacks Monthly fee: waits as a draft$/)).toHaveCount(1);
	await expect(page.getByText('Monthly fee: 512 CAD')).toBeVisible();
	await expectAccessible(page, 'the rows of a file');

	// a row is left out and taken in again; the choice outlives a reload
	await expect(page.getByText('the client of row 2 again', { exact: true })).toBeVisible();
	const again = page.getByRole('checkbox', { name: `Ask ${two[0].name}, row 5` });
	await again.click();
	const second = page.getByRole('checkbox', { name: `Ask ${two[1].name}, row 3` });
	await second.focus();
	await page.keyboard.press('Space');
	await expect(page.getByRole('heading', { name: '“Taking on a client” for 1 row' })).toBeVisible();
	await page.reload();
	await awake(page);
	await expect(page.getByRole('heading', { name: '“Taking on a client” for 1 row' })).toBeVisible();
	await expect(second).not.toBeChecked();
	await page.getByRole('button', { name: 'Choose all 3' }).click();
	await again.click();
	await page.getByRole('button', { name: 'Send them at once instead' }).dblclick();
	await expect(page.getByRole('heading', { name: '“Taking on a client” for the rows of a file' })).toBeVisible();
	// the worker sends them while one looks
	await expect(page.getByText(/: 1 went, 1 could not go, 2 not asked\./)).toBeVisible({ timeout: 120_000 });
	await expect(page.getByRole('row').nth(2)).toContainText('could not go:');
	await expect(page.getByRole('row').nth(2)).toContainText('Monthly fee');
	await expectAccessible(page, 'what became of the rows');
	const letter = await product.sql.query(`select document::text said from letter where client_id = $1 order by id desc`, [two[0].id]);
	expect(letter.rows.filter(({ said }) => (said as string).includes('The fee is ') && (said as string).includes('512 CAD'))).toHaveLength(1);

	// what could not go is a draft that holds the rest of its row
	await page.getByRole('link', { name: `Open the draft for ${two[1].name}` }).click();
	await awake(page);
	await expect(page.getByLabel('Monthly fee').first()).toHaveValue('');
	await page.goBack();
	await expect(page.getByRole('heading', { name: '“Taking on a client” for the rows of a file' })).toBeVisible();
	const result = await (await page.request.get((await page.getByRole('link', { name: 'Download as CSV' }).getAttribute('href'))!)).text();
	expect(result).toContain('What it costs now,Result,Why');
	expect(result).toMatch(/Tidewrack & Daughters,.*,not asked,no active client has this name/);

	// a file is its bringer's: a colleague is told that there is none
	const address = page.url();
	const colleague = await browser.newPage();
	await signInAtDesk(colleague, 'ferrin');
	expect((await colleague.goto(address))!.status()).toBe(404);
	await colleague.close();
	await page.getByRole('link', { name: 'Another file' }).click();
	await awake(page);
	await expect(page.getByRole('link', { name: 'fees.csv' })).toBeVisible();
	await expect(page.getByText('asked by “Taking on a client”')).toBeVisible();
});
