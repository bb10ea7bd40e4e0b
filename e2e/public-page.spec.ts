import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { awake, expect, expectAccessible, mailTo, phone, signInAtDesk, test } from './product';

test.use({ file: 'public_page' });

const pdf = (name: string) => ({ name, mimeType: 'application/pdf', buffer: Buffer.from(`%PDF-1.7 ${name}`) });
const ADDRESS = '/portal/pennywhistle-row/answer/new-clients';

test('opened at the desk, answered on a phone by somebody unknown, a copy after a code, and made a client in Rounds', async ({
	page,
	browser,
	product
}) => {
	await signInAtDesk(page);
	await page.goto('/desk/library/questionnaires');
	await page
		.getByRole('link', { name: /Three questions about us|feedback/i })
		.first()
		.click();
	await awake(page);
	await page.getByRole('button', { name: 'Open a public page …' }).click();
	const address = page.getByRole('textbox', { name: /^Address/ });
	await expect(page.getByText('It is answered by clients who are asked.', { exact: false })).toBeVisible();
	await address.press('Control+a');
	await address.pressSequentially('How are we doing', { delay: 10 });
	await page.getByLabel(/^Websites that may show it/).pressSequentially('not a site', { delay: 5 });
	await page.getByRole('button', { name: 'Open it to anybody' }).click();
	await expect(page.getByText('is not the address of a website').first()).toBeVisible();
	await expect(address).toHaveValue('How are we doing');
	await page.getByLabel(/^Websites that may show it/).press('Control+a');
	await page.getByLabel(/^Websites that may show it/).pressSequentially('www.firm.example/about', { delay: 5 });
	await page.getByRole('button', { name: 'Open it to anybody' }).click();
	await expect(page.getByRole('link', { name: `${product.origin}/portal/pennywhistle-row/answer/how-are-we-doing` })).toBeVisible();
	const framed = await page.request.get('/portal/pennywhistle-row/answer/how-are-we-doing?shown=frame');
	expect(framed.headers()['content-security-policy']).toContain(`frame-ancestors 'self' https://www.firm.example`);
	const plain = await page.request.get(ADDRESS);
	expect(plain.headers()['content-security-policy']).toContain(`frame-ancestors 'none'`);

	const mobile = await phone(browser, product.origin);
	await mobile.goto(ADDRESS);
	await mobile.waitForLoadState('networkidle');
	await expectAccessible(mobile, 'a public page');
	await mobile.getByText('a partnership').click();
	await mobile.getByText('payroll', { exact: true }).click();
	await mobile.getByLabel(/^Anything else/).pressSequentially('We tune pianos, all over the island.', { delay: 10 });
	await mobile.getByLabel('Your name').pressSequentially('Petra Quill', { delay: 10 });
	await mobile.getByLabel(/^Business/).pressSequentially('Quill & Felt', { delay: 10 });
	await mobile.getByRole('button', { name: 'Send the answers' }).click();
	await expect(mobile.getByRole('alert')).toBeVisible();
	const email = mobile.getByLabel('E-mail address');
	await expect(email).toBeFocused();
	await mobile.keyboard.type('petra@quill.example', { delay: 10 });
	// a reload in the middle takes nothing away
	await mobile.reload();
	await mobile.waitForLoadState('networkidle');
	await expect(email).toHaveValue('petra@quill.example');
	await expect(mobile.getByLabel('Your name')).toHaveValue('Petra Quill');
	await expect(mobile.getByLabel(/^Anything else/)).toHaveValue('We tune pianos, all over the island.');
	await expect(mobile.getByLabel('a partnership')).toBeChecked();
	// a program would be faster than anybody reads; a person presses once more
	await expect(async () => {
		await mobile.getByRole('button', { name: 'Send the answers' }).click();
		await expect(mobile.getByRole('heading', { name: 'Sent. Thank you.' })).toBeVisible({ timeout: 2500 });
	}).toPass({ timeout: 30_000 });
	await expectAccessible(mobile, 'after it was sent');
	await expect(mobile.getByText('We tune pianos')).toHaveCount(0);
	// no file before it is known whose address that is
	await expect(mobile.getByText('also asks for a file: Your last tax return or yearly statement.', { exact: false })).toBeVisible();
	await expect(mobile.locator('fieldset input[type=file]')).toHaveCount(0);
	const send = { headers: { origin: product.origin }, multipart: { slot: 'last_return', file: pdf('too-soon.pdf') } };
	expect((await mobile.request.post(`${new URL(mobile.url()).pathname}/papers`, send)).status()).toBe(403);
	await mobile.getByRole('button', { name: 'Send me the code' }).click();
	const code = mobile.getByLabel('Code from the mail');
	await code.pressSequentially('0000 0000', { delay: 10 });
	await mobile.getByRole('button', { name: 'Confirm the address' }).click();
	await expect(mobile.getByRole('alert')).toContainText('This is not the code');
	const sent = await mailTo(product, 'petra@quill.example', 'answer_code');
	await code.press('Control+a');
	await code.pressSequentially(/\d{4} \d{4}/.exec(sent)![0], { delay: 10 });
	await mobile.keyboard.press('Enter');
	await expect(mobile.getByText('The copy is on its way to petra@quill.example.')).toBeVisible();
	const add = mobile.locator('fieldset input[type=file]');
	await add.setInputFiles(pdf('return-2024.pdf'));
	await expect(mobile.getByText('return-2024.pdf')).toBeVisible();
	await expect(mobile.getByText(/arrived/)).toBeVisible();
	await add.setInputFiles({ name: 'page.html', mimeType: 'text/html', buffer: Buffer.from('<html><script>') });
	await expect(mobile.getByRole('alert').filter({ hasText: 'page.html' })).toBeVisible();
	await add.setInputFiles({ name: 'large.pdf', mimeType: 'application/pdf', buffer: Buffer.alloc(21 * 1024 * 1024, '%PDF-1.7 ') });
	await expect(mobile.getByText('This file is larger than 20 MB.', { exact: false })).toBeVisible();
	await add.setInputFiles(pdf('twice.pdf'));
	await expect(mobile.getByText(/arrived/)).toHaveCount(2);
	await mobile.getByRole('button', { name: /twice\.pdf/ }).press('Enter');
	await expect(mobile.getByText('twice.pdf')).toHaveCount(0);
	await mobile.reload();
	await expect(mobile.getByText('return-2024.pdf')).toBeVisible();
	await expectAccessible(mobile, 'files beside a public answer');
	// gone back, the fields are empty: it was sent
	await mobile.goto(ADDRESS);
	await mobile.waitForLoadState('networkidle');
	await expect(mobile.getByLabel('Your name')).toHaveValue('');
	await mobile.context().close();

	await page.goto('/desk/rounds');
	await awake(page);
	await page.getByRole('link', { name: /Quill & Felt/ }).click();
	const leaf = page.getByRole('complementary');
	await expect(leaf.getByText('We tune pianos, all over the island.')).toBeVisible();
	await expect(leaf.getByText('confirmed by a code')).toBeVisible();
	const link = leaf.getByRole('link', { name: 'return-2024.pdf' });
	const opened = await page.request.get((await link.getAttribute('href'))!);
	expect([opened.status(), opened.headers()['content-type']]).toEqual([200, 'application/pdf']);
	await page.getByLabel('Name of the client').press('End');
	await page.getByLabel('Name of the client').pressSequentially(' Pianos', { delay: 10 });
	await page.getByRole('button', { name: 'Make the client' }).click();
	await expect(page.getByRole('link', { name: /by Petra Quill/ })).toHaveCount(0);
	const { rows } = await product.sql.query(
		`select c.name, i.state, ct.email::text from client c join item i on i.client_id = c.id join contact ct on ct.id = i.contact_id where c.name like 'Quill%'`
	);
	expect(rows).toEqual([{ name: 'Quill & Felt Pianos', state: 'handed_in', email: 'petra@quill.example' }]);
	const { rows: papers } = await product.sql.query(
		`select p.name, p.slot from paper p join client c on c.id = p.client_id where c.name like 'Quill%' and p.item_id is not null`
	);
	expect(papers).toEqual([{ name: 'return-2024.pdf', slot: 'last_return' }]);
	expect(
		(await product.sql.query(`select 1 from message where to_address = 'petra@quill.example' and kind not in ('answer_code', 'answer_copy')`))
			.rowCount
	).toBe(0);
});

test('one that may be somebody known is joined by keyboard; one is put away and brought back', async ({ page, product }) => {
	await signInAtDesk(page);
	await page.getByRole('link', { name: /Barnacle Books Ltd/ }).click();
	await expect(page.getByRole('heading', { name: 'You may know them' })).toBeVisible();
	await page.getByRole('radio', { name: /Barnacle Books.*has the same name/ }).check();
	await page.getByRole('button', { name: 'Join it to Barnacle Books' }).click();
	await expect(page.getByRole('link', { name: /by Ines Farrow/ })).toHaveCount(0);
	const { rows } = await product.sql.query(
		`select ct.name from client c join client_contact cc on cc.client_id = c.id join contact ct on ct.id = cc.contact_id where c.name = 'Barnacle Books' order by cc.rank`
	);
	expect(rows.at(-1)).toEqual({ name: 'Ines Farrow' });

	await page.goto('/desk/rounds');
	await awake(page);
	await page.getByRole('link', { name: /Saltglass Studio/ }).click();
	await page.getByRole('button', { name: 'Put it away' }).click();
	await expect(page.getByRole('link', { name: /Saltglass Studio/ })).toHaveCount(0);
	const { rows: known } = await product.sql.query(`select questionnaire_id id from public_page where name = 'new-clients'`);
	await page.goto(`/desk/library/questionnaires/${known[0].id}/answers`);
	await awake(page);
	await page.getByText('One answer was put away').click();
	await page.getByRole('button', { name: 'Bring the answer of Saltglass Studio back to Rounds' }).click();
	await expect(page.getByText('One answer was put away')).toHaveCount(0);
	await page.goto('/desk/rounds');
	await expect(page.getByRole('link', { name: /Saltglass Studio/ })).toBeVisible();
});

test('without scripts it is answered all the same, and what is refused comes back as it was written', async ({ browser, product }) => {
	const context = await browser.newContext({ javaScriptEnabled: false, baseURL: product.origin, locale: 'en-CA' });
	const page = await context.newPage();
	await page.goto(ADDRESS);
	await page.getByLabel('a household').check();
	await page.getByLabel('year end').check();
	await page.getByLabel(/^Anything else/).fill('Three years in a box');
	await page.getByLabel('Your name').fill('Otis Brine');
	await page.getByLabel('E-mail address').fill('otis');
	await page.getByRole('button', { name: 'Send the answers' }).click();
	await expect(page.getByRole('alert')).toContainText('e-mail');
	await expect(page.getByLabel(/^Anything else/)).toHaveValue('Three years in a box');
	await expect(page.getByLabel('Your name')).toHaveValue('Otis Brine');
	await page.getByLabel('E-mail address').fill('otis@brine.example');
	await expect(async () => {
		await page.getByRole('button', { name: 'Send the answers' }).click();
		await expect(page.getByRole('heading', { name: 'Sent. Thank you.' })).toBeVisible({ timeout: 2500 });
	}).toPass({ timeout: 30_000 });
	await page.getByRole('button', { name: 'Send me the code' }).click();
	const sent = await mailTo(product, 'otis@brine.example', 'answer_code');
	await page.getByLabel('Code from the mail').fill(/\d{4} \d{4}/.exec(sent)![0]);
	await page.getByRole('button', { name: 'Confirm the address' }).click();
	await page.locator('form input[name=file]').setInputFiles(pdf('box.pdf'));
	await page.getByRole('button', { name: 'Send the file' }).click();
	await expect(page.getByText('box.pdf')).toBeVisible();
	await context.close();
});

test('in a frame it stands on the websites that are named, and on no other; a closed page says so', async ({ browser, product }) => {
	const host = createServer((_, answer) => {
		answer.setHeader('content-type', 'text/html');
		answer.end(`<h1>A website</h1><iframe src="${product.origin}${ADDRESS}?shown=frame" width="600" height="700"></iframe>`);
	});
	await new Promise<void>((ready) => host.listen(0, '127.0.0.1', ready));
	const site = `http://127.0.0.1:${(host.address() as AddressInfo).port}`;
	const context = await browser.newContext();
	const page = await context.newPage();
	const frame = () => page.frameLocator('iframe').getByRole('heading', { name: 'Tell us about your business' });
	await page.goto(site);
	await expect(frame()).toHaveCount(0);
	await product.sql.query(`update public_page set sites = array[$1] where name = 'new-clients'`, [site]);
	await page.reload();
	await expect(frame()).toBeVisible();
	// without the head of the portal, and what is sent there stays in the frame
	const inside = page.frameLocator('iframe');
	await expect(inside.getByRole('banner')).toHaveCount(0);
	await inside.getByLabel('a company').check();
	await inside.getByLabel('payroll').check();
	await inside.getByLabel('Your name').pressSequentially('Wyn Lock', { delay: 10 });
	await inside.getByLabel('E-mail address').pressSequentially('wyn@lock.example', { delay: 10 });
	await expect(async () => {
		await inside.getByRole('button', { name: 'Send the answers' }).click();
		await expect(inside.getByRole('heading', { name: 'Sent. Thank you.' })).toBeVisible({ timeout: 2500 });
	}).toPass({ timeout: 30_000 });
	await product.sql.query(`update public_page set closed_at = now() where name = 'new-clients'`);
	const answer = await page.goto(`${product.origin}${ADDRESS}`);
	expect(answer!.status()).toBe(410);
	await expect(page.getByText('This page is closed.')).toBeVisible();
	host.close();
	await context.close();
});

test('2 MB of nonsense, a thousand fields, and an opening a second are turned away unread', async ({ request, product }) => {
	const origin = { origin: product.origin };
	const large = await request.post(`${ADDRESS}?/send`, { headers: origin, form: { words: 'x'.repeat(2_000_000) } });
	expect(large.status()).toBe(413);
	const many = await request.post(`${ADDRESS}?/send`, {
		headers: origin,
		form: Object.fromEntries(Array.from({ length: 1000 }, (_, n) => [`f${n}`, 'x']))
	});
	expect(many.status()).toBe(413);
	const elsewhere = await request.post(`${ADDRESS}?/send`, { headers: { origin: 'https://evil.example' }, form: { words: 'x' } });
	expect(elsewhere.status()).toBe(403);
	let last = 0;
	for (let n = 0; n < 320 && last !== 429; n++) last = (await request.get(`/portal/pennywhistle-row/answer/how-many-${n}`)).status();
	expect(last).toBe(429);
});
