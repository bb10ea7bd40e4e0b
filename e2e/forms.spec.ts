import { awake, expect, PDF_FILE, phone, signInAtDesk, signInAtPortal, test, typeIn } from './product';

test.use({ file: 'forms' });

const HOSTILE = "<script>alert(1)</script>\u202eevil “'; drop table item; --";

test('hostile text is shown as text everywhere it turns up, and reordering marks are gone', async ({ page, product, browser }) => {
	await signInAtDesk(page);
	await page.goto('/desk/clients/new');
	await page.getByLabel('Name of the client').fill(HOSTILE);
	await typeIn(page.getByLabel('Name', { exact: true }), 'Zed <img src=x onerror=alert(1)>');
	await typeIn(page.getByLabel('E-mail address'), 'zed@hostile.example');
	await page.getByRole('button', { name: 'Add the client' }).click();
	await expect(page.getByRole('heading', { name: '<script>alert(1)</script>evil' })).toBeVisible();
	await page.getByRole('button', { name: 'Invite …' }).click();
	await typeIn(page.getByLabel('Words', { exact: true }), `Hello ${HOSTILE}`);
	await page.getByRole('button', { name: 'Send the invitation' }).click();
	await expect(page.getByText(/Invited Mon/)).toBeVisible();
	await expect
		.poll(async () => (await product.sql.query(`select state from message where to_address = 'zed@hostile.example'`)).rows[0].state)
		.toBe('sent');
	const { rows } = await product.sql.query(`select id from message where to_address = 'zed@hostile.example'`);
	await page.goto(`/desk/postroom/${rows[0].id}`);
	await expect(page.frameLocator('iframe').getByText('Hello <script>alert(1)</script>evil')).toBeVisible();

	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, 'mara@gullstring.example');
	await mobile.getByRole('link', { name: /sales tax number/ }).click();
	await typeIn(mobile.getByLabel('Your answer'), `${HOSTILE}${'😀'.repeat(300)}`);
	await mobile.getByRole('button', { name: 'Send the answer' }).click();
	await expect(mobile.getByText('One thing left.')).toBeVisible();
	await page.goto('/desk/rounds');
	await page.getByRole('link', { name: /Gull & String Kites.*sales tax number/ }).click();
	await expect(page.getByText('<script>alert(1)</script>evil')).toBeVisible();
	await mobile.context().close();
});

test('empty, wrong and too much: each says what is wrong and keeps what was typed', async ({ page }) => {
	await signInAtDesk(page);
	await page.goto('/desk/clients/new');
	await page.getByRole('button', { name: 'Add the client' }).click();
	await expect(page.getByRole('alert')).toContainText('Please write the client’s name.');
	await typeIn(page.getByLabel('Name of the client'), 'Half typed');
	await page.getByLabel('Name', { exact: true }).fill('x'.repeat(180));
	await typeIn(page.getByLabel('E-mail address'), 'someone@somewhere');
	await page.getByRole('button', { name: 'Add the client' }).click();
	await expect(page.locator('.field-problem').first()).toContainText('Please keep the contact’s name to 120 characters.');
	await expect(page.getByLabel('Name of the client')).toHaveValue('Half typed');
	await expect(page.getByLabel('E-mail address')).toHaveValue('someone@somewhere');
});

test('two coordinators on one item: the later one is told who was faster and sees how it stands', async ({ page, browser, product }) => {
	await signInAtDesk(page);
	const context = await browser.newContext({ baseURL: product.origin });
	const other = await context.newPage();
	await signInAtDesk(other, 'ferrin');
	const { rows } = await product.sql.query(`select id, client_id from item where state = 'handed_in' and kind = 'question' limit 1`);
	const path = `/desk/clients/${rows[0].client_id}/item/${rows[0].id}`;
	await page.goto(path);
	// the second screen hears nothing of what the first one does, as if its line were slow
	await other.route('**/desk/live', (route) => route.abort());
	await other.goto(path);
	await other.waitForLoadState('networkidle');
	await other.getByRole('button', { name: 'Send back …' }).click();
	await typeIn(other.getByLabel(/What still needs fixing/), 'Typed in good faith');
	await page.getByRole('button', { name: /^Accept/ }).click();
	await expect(page.getByRole('complementary').getByText(/accepted Mon/)).toBeVisible();
	await other.getByRole('button', { name: /Send it back to/ }).click();
	await expect(other.getByRole('alert')).toContainText('Odalys Fenwick was faster');
	expect((await product.sql.query('select state from item where id = $1', [rows[0].id])).rows[0].state).toBe('accepted');
	await context.close();
});

test('a live update does not take away what somebody is typing', async ({ page, product, browser }) => {
	await signInAtDesk(page);
	const { rows } = await product.sql.query(
		`select i.id, i.client_id from item i join client c on c.id = i.client_id where c.name = 'Gull & String Kites' and i.kind = 'paper' and i.state = 'handed_in' limit 1`
	);
	await page.goto(`/desk/clients/${rows[0].client_id}/item/${rows[0].id}`);
	await awake(page);
	await page.getByRole('button', { name: 'Send back …' }).click();
	await typeIn(page.getByLabel(/What still needs fixing/), 'Half a sentence');
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, 'mara@gullstring.example');
	const refreshed = page.waitForResponse((r) => r.url().includes('__data.json'));
	await mobile.getByRole('link', { name: 'Add the paper' }).click();
	await refreshed;
	await expect(page.getByLabel(/What still needs fixing/)).toHaveValue('Half a sentence');

	// a connection lost in an upload: told, and it goes on by itself when the line is back
	await mobile.route('**/papers', (route) => route.abort(), { times: 2 });
	await mobile.locator('input[type=file]:not([capture])').setInputFiles(PDF_FILE);
	await expect(mobile.getByRole('alert')).toContainText('The upload continues by itself');
	await expect(mobile.getByText('arrived')).toBeVisible();
	// the same file once more is noticed; an empty one is told as such
	await mobile.locator('input[type=file]:not([capture])').setInputFiles(PDF_FILE);
	await expect(mobile.getByText('The same file is here already, as “statement.pdf”.')).toBeVisible();
	await mobile.getByRole('button', { name: 'Cancel statement.pdf' }).click();
	await mobile.locator('input[type=file]:not([capture])').setInputFiles({ ...PDF_FILE, name: 'nothing.pdf', buffer: Buffer.alloc(0) });
	await expect(mobile.getByText('This file is empty')).toBeVisible();
	await mobile.getByRole('button', { name: 'Cancel nothing.pdf' }).click();

	// handed in on another tab meanwhile: told, nothing doubled
	const tab = await mobile.context().newPage();
	await tab.goto(mobile.url());
	await tab.getByRole('button', { name: 'Hand in this file' }).click();
	await expect(tab).toHaveURL(/pennywhistle-row\?done=/);
	await expect(tab.getByRole('status')).toContainText('Sent. Thank you.');
	await mobile.getByRole('button', { name: 'Hand in this file' }).click();
	await expect(mobile.getByRole('alert')).toContainText('not possible any more');
	await mobile.context().close();
});

test('what is pressed, chosen or sent while the page is still coming is not lost', async ({ product, browser }) => {
	const { rows } = await product.sql.query(
		`select max(i.id::text) filter (where i.kind = 'question' and i.spec #>> '{answer,is}' = 'words') question, max(i.id::text) filter (where i.kind = 'paper') paper, c.email
		from item i join contact c on c.id = i.contact_id where i.state in ('asked', 'seen') and c.password_hash is not null and c.email <> 'mara@gullstring.example'
		group by c.email having count(*) filter (where i.kind = 'question' and i.spec #>> '{answer,is}' = 'words') > 0 and count(*) filter (where i.kind = 'paper') > 0 order by c.email limit 1`
	);
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, rows[0].email);
	let scripts = Promise.resolve();
	await mobile.route('**/_app/**/*.js', async (route) => {
		await scripts;
		await route.continue();
	});
	/** Opens a page whose scripts only come once something was done on it. */
	const before = async (item: string, act: () => Promise<unknown>) => {
		let come = () => {};
		scripts = new Promise((resolve) => (come = resolve));
		await mobile.goto(`/portal/pennywhistle-row/item/${item}`, { waitUntil: 'commit' });
		await act();
		come();
	};
	await before(rows[0].paper, () => mobile.getByText('This does not apply to me').click());
	await expect(mobile.getByLabel('Why does it not apply?')).toBeVisible();
	await before(rows[0].paper, () => mobile.locator('input[type=file]:not([capture])').first().setInputFiles(PDF_FILE));
	await expect(mobile.getByText('arrived')).toBeVisible();
	await before(rows[0].question, async () => {
		await typeIn(mobile.getByLabel('Your answer'), 'Typed while it was still coming');
		await mobile.getByRole('button', { name: 'Send the answer' }).click();
	});
	await expect
		.poll(async () => (await product.sql.query('select state, answer from item where id = $1', [rows[0].question])).rows[0])
		.toEqual({ state: 'handed_in', answer: 'Typed while it was still coming' });
	await mobile.context().close();
});

test('a withdrawn invitation says so on its page', async ({ page, product }) => {
	await signInAtDesk(page);
	const { receivedMail } = await import('../src/lib/server/platform/mail/standin');
	const { rows } = await product.sql.query(
		`select m.message_id, i.client_id from invitation i join message m on m.id = i.message_id join client c on c.id = i.client_id where c.name = 'Otter & Oak Toys'`
	);
	const link = /\/portal\/\S+\/join\/[\w-]+/.exec((await receivedMail(product.env.MAIL_STANDIN_FOLDER, rows[0].message_id))!.text!)![0];
	await page.goto(`/desk/clients/${rows[0].client_id}`);
	await awake(page);
	await page.getByRole('button', { name: 'change: people' }).click();
	await page.getByRole('button', { name: 'Withdraw' }).click();
	await expect(page.getByText(/Invitation withdrawn Mon 4 May/)).toBeVisible();
	await page.goto(link);
	await expect(page.getByRole('heading', { name: 'This invitation was withdrawn.' })).toBeVisible();
});

test('a locked or damaged PDF is told as such, and can still be downloaded', async ({ page, product }) => {
	await signInAtDesk(page);
	const { rows } = await product.sql.query(
		`select p.storage_key, i.id, i.client_id from paper p join item i on i.id = p.item_id where i.state = 'accepted' limit 1`
	);
	const { writeFileSync } = await import('node:fs');
	writeFileSync(`${product.env.PAPERS_FOLDER}/${rows[0].storage_key.slice(0, 2)}/${rows[0].storage_key}`, '%PDF-1.7\nnot really');
	await page.goto(`/desk/clients/${rows[0].client_id}/item/${rows[0].id}`);
	await expect(page.getByText(/cannot be shown here: the file is locked with a password or damaged/)).toBeVisible();
	await expect(page.getByRole('link', { name: /^Download/ }).first()).toBeVisible();
});

test('what is typed about one thing never stands beside another, and is there when it is opened again', async ({ page }) => {
	await signInAtDesk(page);
	const papers = page.getByRole('region', { name: /^Handed in/ }).getByRole('link');
	const words = page.getByLabel(/, by e-mail and on their page$/);
	const write = page.getByRole('button', { name: /^Write about it/ });
	await papers.nth(0).click();
	await write.click();
	await typeIn(words, 'Only for the first one.');
	await papers.nth(1).click();
	await expect(words).toHaveCount(0);
	await write.click();
	await expect(words).toHaveValue('');
	await papers.nth(0).click();
	await expect(words).toHaveCount(0);
	await write.click();
	await expect(words).toHaveValue('Only for the first one.');
});
