import { receivedTextMessage } from '../src/lib/server/platform/text-messages/standin';
import { awake, CONTACT_PASSWORD, expect, expectAccessible, phone, signInAtDesk, STAFF_PASSWORD, test, type Product, typeIn } from './product';

test.use({ file: 'texts' });

/** The newest text to a number, as the stand-in received it. */
async function textTo(product: Product, number: string, kind: string): Promise<string> {
	let words = '';
	await expect
		.poll(
			async () => {
				const { rows } = await product.sql.query(
					`select id from message where channel = 'text' and to_address = $1 and kind = $2 and state = 'sent' order by planned_at desc, sent_at desc limit 1`,
					[number, kind]
				);
				return (words = rows[0] ? ((await receivedTextMessage(product.env.TEXT_STANDIN_FOLDER, rows[0].id))?.text ?? '') : '');
			},
			{ timeout: 20_000 }
		)
		.not.toBe('');
	return words;
}

test('invited by text too, taken up on a phone, then STOP: e-mail goes on', async ({ page, browser, product }) => {
	test.setTimeout(120_000);
	await signInAtDesk(page);
	const { rows } = await product.sql
		.query(`select cl.id, c.phone from client cl join client_contact cc on cc.client_id = cl.id join contact c on c.id = cc.contact_id
		where cl.name = 'Midnight Bakery'`);
	await page.goto(`/desk/clients/${rows[0].id}`);
	await awake(page);
	await page.getByRole('button', { name: /Send again|Invite …/ }).click();
	await page.getByLabel('also by text message to Cosmo').check();
	await typeIn(page.getByLabel('Words of the text message'), '{contact_first_name}, your page is ready:');
	await page.getByRole('button', { name: 'See the message' }).click();
	await expect(page.getByText('Cosmo, your page is ready: http')).toBeVisible();
	await expectAccessible(page, 'inviting by text');
	await page.getByRole('button', { name: 'Send the invitation' }).click();
	await expect(page.getByText('A reminder follows')).toBeHidden();

	const words = await textTo(product, rows[0].phone, 'invitation');
	const mobile = await phone(browser, product.origin);
	await mobile.goto(/https?:\S+/.exec(words)![0]);
	await mobile
		.getByLabel(/password/i)
		.first()
		.fill(CONTACT_PASSWORD);
	await mobile.locator('main').getByRole('button').last().click();
	await mobile.waitForURL('**/portal/pennywhistle-row');
	await mobile.context().close();

	// the channel is chosen; a phone that answers STOP gets no more
	await page.reload();
	await awake(page);
	await page.getByRole('button', { name: 'Change Cosmo Reyes' }).click();
	await page.getByLabel('Requests and reminders go').selectOption('both');
	await page.getByRole('button', { name: 'Save Cosmo' }).click();
	await expect(page.getByText('Is written to by e-mail and text message.')).toBeVisible();
	const { rows: sent } = await product.sql.query(`select id from message where channel = 'text' and to_address = $1`, [rows[0].phone]);
	await page.goto(`/desk/postroom/${sent[0].id}`);
	await awake(page);
	await expect(page.getByText('As the phone got it')).toBeVisible();
	await expectAccessible(page, 'a text in the Postroom');
	await typeIn(page.getByLabel('Answer as this phone'), 'stop');
	await page.getByRole('button', { name: 'Send the answer' }).click();
	await page.goto(`/desk/clients/${rows[0].id}`);
	await expect(page.getByText('wants no more text messages')).toBeVisible({ timeout: 15_000 });
	expect((await product.sql.query('select reminded_by from contact where phone = $1', [rows[0].phone])).rows[0].reminded_by).toBe('email');
});

test('an answer by text reaches Rounds at once and is dealt with from the keyboard', async ({ page, product }) => {
	await signInAtDesk(page);
	const { rows } = await product.sql.query(
		`select m.id from message m join contact c on c.id = m.contact_id where m.channel = 'text' and c.name = 'Linus Hargrave' limit 1`
	);
	const desk = await page.context().newPage();
	await desk.goto(`/desk/postroom/${rows[0].id}`);
	await awake(desk);
	await typeIn(desk.getByLabel('Answer as this phone'), 'It is in the post, I promise');
	await desk.getByRole('button', { name: 'Send the answer' }).click();
	const row = page.locator('a[data-row]', { hasText: 'It is in the post, I promise' });
	await row.click();
	await expect(page.getByRole('heading', { name: 'Linus Hargrave answered by text' })).toBeVisible();
	await page.getByRole('button', { name: 'I have read it' }).press('Enter');
	await expect(row).toHaveCount(0);
});

test('codes by text as the second step: the number proved, asked for, trusted like any other', async ({ page, browser, product }) => {
	test.setTimeout(120_000);
	await signInAtDesk(page, 'imre');
	await page.goto('/desk/you');
	await awake(page);
	await page.getByRole('button', { name: 'Text message: Set it up' }).click();
	await typeIn(page.getByLabel('Mobile number'), '12');
	await typeIn(page.getByLabel('Your password, once more'), STAFF_PASSWORD);
	await page.getByRole('button', { name: 'Continue' }).click();
	await expect(page.getByRole('alert')).toContainText('does not look like a phone number');
	await typeIn(page.getByLabel('Mobile number'), '902 555 0188');
	await page.getByRole('button', { name: 'Continue' }).click();
	const code = async () => /\d{4} \d{4}/.exec(await textTo(product, '+19025550188', 'sign_in_code'))![0];
	await typeIn(page.getByLabel('Eight digits'), '0000 0000');
	await page.getByRole('button', { name: 'Turn it on' }).click();
	await expect(page.getByRole('alert')).toContainText('not right');
	await typeIn(page.getByLabel('Eight digits'), await code());
	await page.getByRole('button', { name: 'Turn it on' }).click();
	await page.getByRole('button', { name: 'I have kept them' }).click();
	await expect(page.getByText('Codes go to (902) 555-0188.')).toBeVisible();
	await expectAccessible(page, 'codes by text set up');

	const before = await code();
	const other = await (await browser.newContext({ baseURL: product.origin })).newPage();
	await other.goto('/desk/sign-in');
	await typeIn(other.getByLabel('E-mail address'), 'imre@pennywhistle.example');
	await typeIn(other.getByLabel('Password'), STAFF_PASSWORD);
	await other.getByRole('button', { name: 'Sign in', exact: true }).click();
	await expect(other.getByText('the phone that ends in …88')).toBeVisible();
	await expectAccessible(other, 'the code by text');
	await expect.poll(code).not.toBe(before);
	await typeIn(other.getByLabel('Eight digits'), before);
	await other.getByRole('button', { name: 'Continue' }).click();
	await expect(other.getByRole('alert')).toContainText('not right');
	await typeIn(other.getByLabel('Eight digits'), await code());
	await other.getByLabel('Do not ask on this device for 30 days').check();
	await other.getByRole('button', { name: 'Continue' }).click();
	await other.waitForURL('**/desk/rounds');
	await other.context().close();
});
