import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readFile, writeFile } from 'node:fs/promises';
import { awake, expect, expectAccessible, signInAtDesk, test } from './product';

test.use({ file: 'import' });

const LIST = [
	'Client;First name;Last name;E-mail;Phone;Staff count;Favourite colour',
	'Puffin Ferry Café;Ines;Moor;ines@puffin.example;902 555 0170;4;green',
	'Tidewrack Ceramics;Joss;Amberley;joss@tidewrack.example;902 555 0171;2;blue',
	'Tidewrack Ceramics;Lark;Amberley;;;;',
	'Gull and String Kites;Mara;Whitlock;mara@gullstring.example;;;',
	'Cobble Lane Vets;Una;Frost;una(at)cobble.example;902 555 0173;;',
	'Foxglove Boatyard;;;;;12;'
].join('\r\n');

test('a list comes in: looked at, put right, decided, imported by the worker, exported, undone', async ({ page, product }) => {
	test.setTimeout(120_000);
	const clients = async () => (await product.sql.query('select 1 from client where removed_at is null')).rowCount;
	const before = await clients();
	await signInAtDesk(page);
	await page.goto('/desk/clients');
	await page.getByRole('link', { name: 'Import a list' }).click();
	await expectAccessible(page, 'choosing a list');
	await page.locator('input[type=file]').setInputFiles({ name: 'sheet.csv', mimeType: 'text/csv', buffer: Buffer.from('PK\x03\x04 zipped') });
	await expect(page.getByRole('alert')).toContainText('This is a spreadsheet');
	// from the disk: so many bytes are slow to hand to the browser
	const huge = join(product.folder, 'huge.csv');
	await writeFile(huge, Buffer.alloc(27_000_000, 'a,b\n'));
	await page.locator('input[type=file]').setInputFiles(huge);
	await expect(page.getByRole('alert')).toContainText('huge.csv is larger than 25 MB');
	await page.locator('input[type=file]').setInputFiles({ name: 'Neighbours.csv', mimeType: 'text/csv', buffer: Buffer.from(LIST, 'latin1') });

	await expect(page.getByRole('heading', { name: '3 rows need you first' })).toBeVisible();
	await expect(page.getByText('semicolons, Windows-1252')).toBeVisible();
	await expect(page.getByRole('button', { name: /^Import \d/ })).toBeDisabled();
	await expectAccessible(page, 'a list with mistakes');
	// what a column holds is said by hand
	await page.getByLabel('What the column Staff count holds').selectOption('Employees');
	await expect(page.getByRole('cell', { name: '12' })).toHaveCount(0);
	await page.getByRole('textbox', { name: 'E-mail in row 6' }).fill('una@cobble.example');
	await page.keyboard.press('Enter');
	await expect(page.getByRole('heading', { name: '2 rows need you first' })).toBeVisible();
	await page.getByRole('button', { name: 'It is Gull & String Kites' }).click();
	await expect(page.getByRole('heading', { name: '1 row needs you first' })).toBeVisible();
	await page.getByRole('button', { name: 'It is new' }).click();
	await expect(page.getByRole('heading', { name: 'Neighbours.csv is ready to import' })).toBeVisible();
	await page.getByRole('link', { name: /changed/ }).click();
	await expect(page.getByText('Employees 12')).toBeVisible();
	expect(await clients()).toBe(before);

	await page.getByRole('button', { name: 'Import 5 rows' }).click();
	await expect(page.getByRole('heading', { name: 'Neighbours.csv was imported' })).toBeVisible({ timeout: 20_000 });
	await expectAccessible(page, 'a list that is in');
	expect(await clients()).toBe(before! + 3);
	// a job that takes a while is nobody else's
	expect(readFileSync(join(product.folder, 'worker.log'), 'utf8')).not.toContain('took over');
	await page.getByRole('link', { name: 'See the clients' }).click();
	await expect(page.getByRole('link', { name: 'Puffin Ferry Café' })).toBeVisible();
	await expect(page.getByRole('link', { name: /3 people have no address/ })).toBeVisible();

	const [download] = await Promise.all([page.waitForEvent('download'), page.goto('/desk/clients/export?as=csv').catch(() => null)]);
	const csv = await readFile(await download.path(), 'utf8');
	expect(csv).toContain('Tidewrack Ceramics');
	await page.goto('/desk/clients/import');
	await page.locator('input[type=file]').setInputFiles({ name: 'Again.csv', mimeType: 'text/csv', buffer: Buffer.from(csv) });
	await expect(page.getByRole('heading', { name: 'Nothing in Again.csv is new' })).toBeVisible();
	await page.getByRole('button', { name: 'Cancel' }).click();
	await expect(page.getByRole('heading', { name: 'Import a list of clients' })).toBeVisible();

	await page.getByRole('link', { name: 'Neighbours.csv' }).click();
	await page.getByRole('button', { name: 'Undo: remove 3 clients' }).click();
	await expect(page.getByRole('heading', { name: 'Neighbours.csv was undone' })).toBeVisible();
	expect(await clients()).toBe(before);
});

test('a list as it comes: headings below a title, mistakes put right without a mouse, repeats stay one client', async ({ page }) => {
	await signInAtDesk(page);
	await page.goto('/desk/clients/import');
	await awake(page);
	const rows = [
		'Clients of Wren Row;;',
		'as of 4 May;;',
		'Client;Contact;E-mail',
		'Lot 12;"Tolley, Wren";wren.puffin.example',
		'Lot 13;Ivo;ivo at lots',
		'Gull and String Kite;A;a@kite.example',
		'Gull and String Kite;A;a@kite.example'
	];
	await page.locator('input[type=file]').setInputFiles({ name: 'Messy.csv', mimeType: 'text/csv', buffer: Buffer.from(rows.join('\n')) });
	await expect(page.getByRole('heading', { name: '4 rows need you first' })).toBeVisible();
	await expect(page.getByLabel('Headings are in')).toHaveValue('3');
	await awake(page);
	await page.getByLabel('Headings are in').selectOption('no row: every row is a client');
	await expect(page.getByText('Column 1', { exact: true })).toBeVisible();
	await page.getByLabel('Headings are in').selectOption('3');
	await page.getByRole('textbox', { name: 'E-mail in row 4' }).focus();
	await page.keyboard.press('ControlOrMeta+a');
	await page.keyboard.type('wren@puffin.example');
	await page.keyboard.press('Enter');
	// the focus is in the next one
	await expect(page.getByRole('textbox', { name: 'E-mail in row 5' })).toBeFocused();
	await page.keyboard.press('ControlOrMeta+a');
	await page.keyboard.type('ivo@lots.example');
	await page.keyboard.press('Enter');
	await page.getByRole('button', { name: 'None of the 2 is a client yet' }).click();
	await expect(page.getByRole('heading', { name: 'Messy.csv is ready to import' })).toBeVisible();
	await expect(page.getByText('It brings 3 new clients, 3 new people.')).toBeVisible();
	await expect(page.getByText('new person Wren Tolley')).toBeVisible();
	await page.getByRole('button', { name: 'Leave row 4 out' }).click();
	await expect(page.getByText('It brings 2 new clients, 2 new people.')).toBeVisible();
	await page.getByRole('button', { name: 'Cancel' }).click();
});

test('missing addresses are put in one after another, without a mouse', async ({ page, product }) => {
	await signInAtDesk(page);
	await page.goto('/desk/clients?order=name');
	await page.getByRole('link', { name: /people have no address/ }).click();
	await expect(page.getByRole('heading', { name: 'Where does mail to Hollis Tarn go?' })).toBeVisible();
	await expectAccessible(page, 'a missing address');
	await page.getByLabel('E-mail address of Hollis Tarn').focus();
	await page.keyboard.type('mara@gullstring.example');
	await page.keyboard.press('Enter');
	await expect(page.getByRole('alert')).toContainText('belongs to Mara Whitlock');
	await page.keyboard.press('Control+a');
	await page.keyboard.type('hollis@no-mail.example');
	await page.keyboard.press('Enter');
	await expect(page.getByRole('alert')).toContainText('No mail server takes mail for no-mail.example.');
	await expect(page.getByRole('button', { name: 'Use it anyway' })).toBeVisible();
	await page.keyboard.press('Control+a');
	await page.keyboard.type('hollis@lamproom.example');
	await page.keyboard.press('Enter');
	await expect(page.getByRole('heading', { name: 'Where does mail to Posy Mizzen go?' })).toBeVisible();
	await expect(page.getByLabel('E-mail address of Posy Mizzen')).toBeFocused();
	await page.keyboard.type('posy@mizzensails.example');
	await page.keyboard.press('Enter');
	await expect(page.getByText('No address yet')).toHaveCount(0);
	expect((await product.sql.query(`select 1 from contact where mail_problem = 'no_address' and removed_at is null`)).rowCount).toBe(0);
});
