import { execFileSync } from 'node:child_process';
import { awake, expect, expectAccessible, phone, signInAtDesk, signInAtPortal, test } from './product';

test.use({ file: 'shared_papers' });

const pdf = (name: string, words = name) => ({ name, mimeType: 'application/pdf', buffer: Buffer.from(`%PDF-1.7 ${words}`) });
const GULL = 'Gull & String Kites';

test('papers are added to a folder, shown, told of once, read on a phone, and hidden again', async ({ page, browser, product }) => {
	test.setTimeout(150_000);
	const { rows } = await product.sql.query<{ id: string }>('select id from client where name = $1', [GULL]);
	const at = `/desk/clients/${rows[0].id}/papers`;
	await signInAtDesk(page);
	await page.goto(`/desk/clients/${rows[0].id}`);
	await awake(page);
	await page.getByRole('link', { name: /^\d+ papers$/ }).click();
	await page.waitForURL(/papers$/);
	await expectAccessible(page, 'the papers of a client');

	// two files into a new folder, for us only
	await page.getByRole('button', { name: 'Add papers' }).press('Enter');
	const adding = page.getByRole('region', { name: 'Add papers' });
	await adding.getByLabel('Into').selectOption('another folder …');
	await page.keyboard.type('Payroll', { delay: 15 });
	await expect(adding.getByLabel('Name of the new folder')).toHaveValue('Payroll');
	await adding.locator('input[type=file]').setInputFiles([pdf('slips april.pdf'), pdf('slips may.pdf')]);
	const row = (name: string) => page.getByRole('row', { name: new RegExp(name.replaceAll('.', '\\.')) });
	await expect(row('slips april.pdf')).toContainText('ours only');
	await expect(row('slips may.pdf')).toContainText('Payroll');
	await page.reload();
	await awake(page);
	await page
		.getByRole('navigation', { name: 'Folders' })
		.getByRole('link', { name: /^Payroll 2/ })
		.click();
	await expect(page.getByRole('row')).toHaveCount(3);

	// both are named by a pattern, typed key by key with the look ahead beside it
	await page.getByLabel('Choose all 2').press('Space');
	await page.getByRole('button', { name: 'Rename …' }).press('Enter');
	const pattern = page.getByLabel('Call 2 papers');
	await pattern.focus();
	await page.keyboard.press('ControlOrMeta+a');
	await page.keyboard.type('{what} {number}', { delay: 10 });
	await expect(page.getByText('{what} means nothing here', { exact: false })).toBeVisible();
	await expect(page.getByRole('button', { name: 'Rename', exact: true })).toBeDisabled();
	await page.keyboard.press('ControlOrMeta+a');
	await page.keyboard.type('Payroll {number}', { delay: 10 });
	await expect(pattern).toHaveValue('Payroll {number}');
	await expect(page.getByText('Payroll 1.pdf, Payroll 2.pdf')).toBeVisible();
	await page.keyboard.press('Enter');
	await expect(page.getByRole('status')).toHaveText('2 papers renamed.');
	await expect(row('Payroll 1.pdf')).toBeVisible();

	// shown and told; pressed twice nothing more comes of it
	await page.getByLabel('Choose Payroll 1.pdf').press('Space');
	await page.getByRole('button', { name: 'Show, and tell them' }).dblclick();
	await expect(page.getByRole('status')).toHaveText('One paper shown. They are told with the day’s message.');
	await expect(row('Payroll 1.pdf')).toContainText('the client sees it');
	await expect(row('Payroll 2.pdf')).toContainText('ours only');
	const told = await product.sql.query('select 1 from paper_announcement a join paper p on p.id = a.paper_id where p.client_id = $1', [rows[0].id]);
	expect(told.rowCount).toBe(1);

	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, 'mara@gullstring.example');
	await mobile.getByRole('link', { name: 'Papers', exact: true }).click();
	await mobile.waitForURL(/\/papers$/);
	await expect(mobile.getByRole('link', { name: /^Payroll 1\.pdf new/ })).toBeVisible();
	await expect(mobile.getByText('Payroll 2.pdf')).toHaveCount(0);
	await expect(mobile.getByText('Depreciation of the workshop.pdf')).toHaveCount(0);
	await expectAccessible(mobile, 'the papers of a client on their phone');
	const answer = await mobile.request.get((await mobile.getByRole('link', { name: /^Payroll 1\.pdf/ }).getAttribute('href'))!);
	expect([answer.status(), answer.headers()['content-type']]).toEqual([200, 'application/pdf']);
	await mobile.reload();
	await expect(mobile.getByRole('link', { name: /^Payroll 1\.pdf/ })).not.toContainText('new');

	// the client adds to a folder that is open for it
	await mobile.getByLabel('Add to Bank').setInputFiles([pdf('april statement.pdf')]);
	await expect(mobile.getByText(/^you added it on .*; Pennywhistle Row Bookkeeping has it$/)).toBeVisible();

	// the firm sees that it was opened, and hides it
	await page.goto(at);
	await awake(page);
	await expect(row('april statement.pdf')).toContainText('has no place yet');
	await page.getByRole('link', { name: 'Payroll 1.pdf' }).click();
	await page.waitForURL(/papers\/[0-9a-f-]{36}$/);
	await awake(page);
	await expect(page.getByText('opened by Mara Whitlock')).toBeVisible();
	await expectAccessible(page, 'one paper');
	await page.getByRole('button', { name: 'Hide it from the client' }).press('Enter');
	await expect(page.getByRole('button', { name: 'Show it, and tell them' })).toBeVisible();
	await mobile.reload();
	await expect(mobile.getByText('Payroll 1.pdf')).toHaveCount(0);

	// its name and note, typed and read again after a reload; a newer version takes its place
	await page.getByRole('button', { name: 'Name and note …' }).press('Enter');
	const name = page.getByLabel('Name', { exact: true });
	await name.focus();
	await page.keyboard.press('ControlOrMeta+a');
	await page.keyboard.type('Payroll of April', { delay: 10 });
	await page.getByLabel('Note', { exact: true }).pressSequentially('with the new rates', { delay: 10 });
	await page.keyboard.press('Enter');
	await expect(page.getByRole('heading', { name: 'Payroll of April.pdf' })).toBeVisible();
	await page.reload();
	await expect(page.getByText('“with the new rates”')).toBeVisible();
	await awake(page);
	await page.getByLabel('Add a newer version').setInputFiles(pdf('Payroll of April, corrected.pdf'));
	await expect(page.getByText('There is a newer version:')).toBeVisible();
	await page.goto(at);
	await awake(page);
	await expect(row('Payroll of April, corrected.pdf')).toContainText('one earlier version');
	await expect(page.getByRole('link', { name: 'Payroll of April.pdf', exact: true })).toHaveCount(0);

	// as one archive, read by another program
	const zip = await page.request.get(`${at}/zip?all`);
	expect(zip.headers()['content-disposition']).toContain('Gull & String Kites.zip');
	expect(
		execFileSync('python3', ['-c', 'import sys,io,zipfile\nfor n in zipfile.ZipFile(io.BytesIO(sys.stdin.buffer.read())).namelist(): print(n)'], {
			input: await zip.body(),
			encoding: 'utf8'
		})
	).toContain('Payroll/Payroll of April, corrected.pdf');
});

test('a folder says who sees it, and keeps what was typed when it is refused; the scheme of the firm is changed by keyboard', async ({
	page,
	product
}) => {
	const { rows } = await product.sql.query<{ id: string }>('select id from client where name = $1', [GULL]);
	await signInAtDesk(page);
	await page.goto(`/desk/clients/${rows[0].id}/papers/folders`);
	await awake(page);
	await page.getByRole('button', { name: 'Change Tax' }).press('Enter');
	const name = page.getByLabel('Name', { exact: true });
	await name.focus();
	await page.keyboard.press('ControlOrMeta+a');
	await page.keyboard.type('bank', { delay: 10 });
	await page.getByLabel('In it').selectOption('ours only: nothing in it is seen by the client');
	await page.getByRole('button', { name: 'Save' }).press('Enter');
	await expect(page.getByRole('alert')).toHaveText('There is a folder “bank” already.');
	await expect(name).toHaveValue('bank');
	await name.focus();
	await page.keyboard.press('ControlOrMeta+a');
	await page.keyboard.type('Levies', { delay: 10 });
	await page.keyboard.press('Enter');
	await expect(page.getByRole('listitem').filter({ hasText: 'Levies' })).toContainText('ours only');
	await expectAccessible(page, 'folders of a client');
	await page.goto(`/desk/clients/${rows[0].id}/papers`);
	await expect(page.getByRole('row', { name: /Tax return 2025/ })).toContainText('shown, folder closed');

	await page.goto('/desk/library/folders');
	await awake(page);
	await page.getByRole('button', { name: 'Add a folder' }).press('Enter');
	await page.keyboard.type('Grants', { delay: 10 });
	await expect(page.getByLabel('Name of folder 7')).toHaveValue('Grants');
	await page.getByRole('button', { name: 'Move Grants up' }).press('Enter');
	await page.getByRole('button', { name: 'Save' }).press('Enter');
	await expect(page.getByRole('status')).toHaveText('Saved.');
	await page.reload();
	await expect(page.getByLabel('Name of folder 6')).toHaveValue('Grants');
	await expectAccessible(page, 'folders of the Library');
});

test('papers of all clients are found by what stands in them', async ({ page }) => {
	await signInAtDesk(page);
	await page.goto('/desk/clients');
	await awake(page);
	await page.getByRole('link', { name: 'Papers', exact: true }).click();
	await page.waitForURL(/clients\/papers$/);
	await awake(page);
	await page.getByLabel('Find by name, note, who sent it, words or a sum inside').pressSequentially('slipway capitals', { delay: 10 });
	await page.keyboard.press('Enter');
	await expect(page.getByRole('row')).toHaveCount(2);
	await expect(page.getByRole('row').nth(1)).toContainText('Foxglove Boatyard');
	await page.reload();
	await expect(page.getByLabel('Find by name, note, who sent it, words or a sum inside')).toHaveValue('slipway capitals');
	await page.getByLabel('Who sees it').selectOption('the client sees it');
	await page.getByRole('button', { name: 'Find' }).press('Enter');
	await expect(page.getByText('Nothing has all of this.', { exact: false })).toBeVisible();
	await expectAccessible(page, 'papers of all clients');
});

test('papers are joined to one with contents; what is old goes thirty days after an administrator says so, unless everything is kept', async ({
	page,
	product
}) => {
	test.setTimeout(150_000);
	const { rows } = await product.sql.query<{ id: string }>('select id from client where name = $1', [GULL]);
	const at = `/desk/clients/${rows[0].id}/papers`;
	await signInAtDesk(page, 'tamsin');
	await page.goto(at);
	await awake(page);
	for (const name of ['Tax return 2025.pdf', 'Accounts 2025.pdf']) await page.getByLabel(`Choose ${name}`).press('Space');
	await page.getByRole('button', { name: 'Join …' }).press('Enter');
	const name = page.getByLabel('Join 2 papers to one PDF, called');
	await name.focus();
	await expect(name).toHaveValue(`Papers of ${GULL}`);
	await page.keyboard.press('ControlOrMeta+a');
	await page.keyboard.type('For the bank', { delay: 10 });
	await expect(name).toHaveValue('For the bank');
	await page.keyboard.press('Enter');
	await expect(page.getByRole('status')).toContainText('Joined to For the bank.pdf, 3 pages with its contents. It is ours only.');
	await page.getByRole('link', { name: 'Look at it' }).click();
	await expect(page.getByRole('heading', { name: 'For the bank.pdf' })).toBeVisible();
	await expect(page.getByText('until 31 December 2033')).toBeVisible();
	await expect(page.locator('canvas[data-drawn]').first()).toBeVisible();

	// seven years for what says nothing: one of them came long ago
	await product.sql.query(`update paper set uploaded_at = '2017-02-03T12:00:00Z' where name = 'For the bank.pdf'`);
	await page.goto('/desk/firm');
	await page.getByRole('link', { name: 'How long papers are kept' }).click();
	await page.waitForURL('**/retention');
	await awake(page);
	await expectAccessible(page, 'how long papers are kept');
	await expect(page.getByText('had to be kept until 31 December 2024')).toBeVisible();
	await page.getByLabel('Choose For the bank.pdf').press('Space');
	await page.getByRole('button', { name: 'Destroy …' }).press('Enter');
	await page.getByRole('button', { name: 'Destroy one paper' }).press('Enter');
	await expect(page.getByRole('status')).toContainText('One paper will be destroyed on 3 June 2026.');
	await expect(page.getByText('destroyed on 3 June 2026', { exact: true })).toBeVisible();
	await page.getByRole('button', { name: 'Do not destroy For the bank.pdf' }).press('Enter');
	await expect(page.getByText('had to be kept until 31 December 2024')).toBeVisible();

	await page.goto(`${at}/folders`);
	await awake(page);
	const why = page.getByLabel('Why everything is kept');
	await why.focus();
	await page.keyboard.type('A dispute with the landlord', { delay: 10 });
	await page.keyboard.press('Enter');
	await expect(page.getByText('“A dispute with the landlord”, Tamsin')).toBeVisible();
	await page.goto('/desk/firm/retention');
	await awake(page);
	await expect(page.getByText('everything of this client is kept')).toBeVisible();
	await expect(page.getByLabel('Choose For the bank.pdf')).toHaveCount(0);
	await page.getByRole('button', { name: `End keeping everything of ${GULL}` }).press('Enter');
	await expect(page.getByLabel('Choose For the bank.pdf')).toBeVisible();
});

test('a paper is looked at closely, turned, and laid beside its earlier version; a table and a mail are read where they lie', async ({
	page,
	product
}) => {
	test.setTimeout(150_000);
	const { rows } = await product.sql.query<{ id: string }>('select id from client where name = $1', [GULL]);
	const at = `/desk/clients/${rows[0].id}/papers`;
	await signInAtDesk(page);
	await page.goto(at);
	await awake(page);
	await page.getByRole('link', { name: 'Accounts 2025.pdf', exact: true }).click();
	const newest = page.getByRole('figure', { name: 'Accounts 2025.pdf' });
	const sheet = newest.locator('canvas[data-drawn]');
	await expect(sheet).toBeVisible();
	const size = async () => (await sheet.boundingBox())!;
	const before = await size();
	await page.getByRole('button', { name: 'Larger' }).press('Enter');
	await expect.poll(async () => (await size()).width / before.width).toBeCloseTo(1.25, 1);
	await page.getByRole('button', { name: 'Turn' }).press('Enter');
	await expect.poll(async () => (await size()).height > (await size()).width).toBe(true);
	await page.getByLabel('Beside it').selectOption('Accounts 2025, draft.pdf, another version, Tue 14 Apr 10:05');
	const earlier = page.getByRole('figure', { name: 'Accounts 2025, draft.pdf' });
	await expect(earlier.locator('canvas[data-drawn]')).toBeVisible();
	await page.reload();
	await awake(page);
	await expect(earlier.locator('canvas[data-drawn]')).toBeVisible();
	await expectAccessible(page, 'two papers side by side');
	await page.getByLabel('Beside it').selectOption('nothing');
	await expect(earlier).toHaveCount(0);

	await page.getByRole('link', { name: 'Papers of', exact: false }).click();
	await page.waitForURL(/papers$/);
	await awake(page);
	await page.getByRole('button', { name: 'Add papers' }).press('Enter');
	await page
		.getByRole('region', { name: 'Add papers' })
		.locator('input[type=file]')
		.setInputFiles([
			{ name: 'till.csv', mimeType: 'text/csv', buffer: Buffer.from('day;cash\n1.4.2026;1180,20\n') },
			{
				name: 'lease.eml',
				mimeType: 'message/rfc822',
				buffer: Buffer.from(
					'From: Rope Walk <a@ropewalk.example>\r\nSubject: The lease\r\nMIME-Version: 1.0\r\nContent-Type: multipart/mixed; boundary=b\r\n\r\n--b\r\nContent-Type: text/plain\r\n\r\nPlease sign it.\r\n--b\r\nContent-Type: text/plain; name=terms.txt\r\nContent-Disposition: attachment; filename=terms.txt\r\n\r\nno dogs\r\n--b--\r\n'
				)
			}
		]);
	await page.getByRole('link', { name: 'till.csv' }).click();
	await expect(page.getByRole('cell', { name: '1180,20' })).toBeVisible();
	await expectAccessible(page, 'a table');
	await page.goBack();
	await page.getByRole('link', { name: 'lease.eml' }).click();
	await expect(page.getByText('Please sign it.')).toBeVisible();
	const file = page.getByRole('link', { name: /^terms\.txt/ });
	expect(await (await page.request.get((await file.getAttribute('href'))!)).text()).toContain('no dogs');
});

test('words are found in a paper where they stand, stepped through by keyboard, and pages are gone to in small', async ({ page, product }) => {
	await signInAtDesk(page);
	// two pages with words, of which the second is turned
	const { rows } = await product.sql.query(`select id, client_id from paper where name = 'scan0012.pdf'`);
	await page.goto(`/desk/clients/${rows[0].client_id}/papers/${rows[0].id}`);
	await awake(page);
	const field = page.getByLabel('Find in it');
	await field.press('b');
	await expect(field).toBeFocused();
	await page.keyboard.type('alance', { delay: 15 });
	await expect(field).toHaveValue('balance');
	await expect(page.getByText(/^1 of \d+$/)).toBeVisible();
	const sight = page.locator('[data-current]');
	await expect(sight).toBeInViewport();
	await page.keyboard.press('Enter');
	await expect(page.getByText(/^2 of \d+$/)).toBeVisible();
	await page.keyboard.press('Shift+Enter');
	await page.keyboard.press('Shift+Enter');
	await expect(page.getByText(/^(\d+) of \1$/)).toBeVisible();
	await expect(sight).toBeInViewport();
	await expectAccessible(page, 'words found in a paper');
	await field.fill('no such words');
	await expect(page.getByText('not found')).toBeVisible();
	await page.keyboard.press('Escape');
	await expect(field).toHaveValue('');
	await expect(sight).toHaveCount(0);
	await page.getByRole('button', { name: 'Pages', exact: true }).press('Enter');
	await page.getByRole('navigation', { name: 'Pages' }).getByRole('button', { name: 'Page 2' }).press('Enter');
	await expect(page.locator('[data-page="2"] canvas')).toBeInViewport({ ratio: 0.2 });
});
