import { execFileSync } from 'node:child_process';
import { type Page } from '@playwright/test';
import { CONTACT_PASSWORD, expect, expectAccessible, mailTo, phone, signInAtDesk, signInAtPortal, STAFF_PASSWORD, test, typeIn } from './product';

test.use({ file: 'security' });

const oathtool = (secret: string) =>
	execFileSync('oathtool', ['--totp', '--base32', secret.replaceAll(' ', '')])
		.toString()
		.trim();
/** A device that holds passkeys and whose owner always unlocks it. */
async function giveAuthenticator(page: Page): Promise<void> {
	const devtools = await page.context().newCDPSession(page);
	await devtools.send('WebAuthn.enable');
	await devtools.send('WebAuthn.addVirtualAuthenticator', {
		options: {
			protocol: 'ctap2',
			transport: 'internal',
			hasResidentKey: true,
			hasUserVerification: true,
			isUserVerified: true,
			automaticPresenceSimulation: true
		}
	});
}
async function firstStep(page: Page, password: string): Promise<void> {
	await page.getByLabel('Password').fill(password);
	await page.getByRole('button', { name: 'Sign in', exact: true }).click();
}

test('at the desk: authenticator app, recovery code, trusted device, sessions, a code by mail', async ({ page, browser, product }) => {
	test.setTimeout(150_000);
	await signInAtDesk(page, 'ferrin');
	await page.getByLabel('You and this desk').click();
	await page.getByRole('link', { name: 'Sign-in and devices' }).click();
	await expect(page.getByRole('heading', { name: 'How you sign in' })).toBeVisible();
	await expect(page.getByText('· here')).toBeVisible();
	await expectAccessible(page, 'how you sign in');

	await page.getByRole('button', { name: 'Set it up', exact: true }).click();
	// whoever types on at once types into the password
	await page.keyboard.type('wrong');
	await expect(page.getByLabel('Your password, once more')).toHaveValue('wrong');
	await page.getByRole('button', { name: 'Continue' }).click();
	await expect(page.getByRole('alert')).toContainText('not your password');
	await page.getByLabel('Your password, once more').fill(STAFF_PASSWORD);
	await page.getByRole('button', { name: 'Continue' }).click();
	await expect(page.getByAltText('QR code to scan')).toBeVisible();
	const secret = (await page.locator('.font-mono').first().textContent())!;
	await expectAccessible(page, 'setting up an authenticator');
	await page.getByLabel('Six digits').fill('000000');
	await page.getByRole('button', { name: 'Turn it on' }).click();
	await expect(page.getByRole('alert')).toContainText('not right');
	await page.getByLabel('Six digits').fill(oathtool(secret));
	await page.getByRole('button', { name: 'Turn it on' }).click();
	await expect(page.getByRole('heading', { name: 'Your recovery codes' })).toBeVisible();
	const codes = await page.locator('li.font-mono, ul.font-mono li').allTextContents();
	expect(codes).toHaveLength(10);
	await page.getByRole('button', { name: 'I have kept them' }).click();
	await expect(page.getByText('10 are left')).toBeVisible();

	// another device: the second step is asked; the used code is refused, a recovery code works
	const other = await browser.newContext({ baseURL: product.origin });
	const second = await other.newPage();
	await second.goto('/desk/sign-in?to=/desk/almanac');
	await second.getByLabel('E-mail address').fill('ferrin@pennywhistle.example');
	await firstStep(second, STAFF_PASSWORD);
	await expect(second.getByRole('heading', { name: 'One more step' })).toBeVisible();
	await expectAccessible(second, 'the second step');
	await second.goto('/desk/clients');
	await expect(second).toHaveURL(/sign-in/);
	await second.goto('/desk/sign-in/second?to=/desk/almanac');
	await second.getByLabel('Six digits').fill('000000');
	await second.getByRole('button', { name: 'Continue' }).click();
	await expect(second.getByRole('alert')).toContainText('not right');
	await second.getByRole('button', { name: 'I do not have my phone' }).click();
	await second.getByLabel('Recovery code').fill(codes[0].toUpperCase());
	await second.getByLabel('Do not ask on this device for 30 days').check();
	await second.getByRole('button', { name: 'Continue' }).click();
	await second.waitForURL('**/desk/almanac');
	expect(await mailTo(product, 'ferrin@pennywhistle.example', 'new_device')).toContain('on a device that was not used before');

	// the trusted device is not asked again
	await second.getByLabel('You and this desk').click();
	await second.getByRole('button', { name: 'Sign out', exact: true }).click();
	await second.waitForURL('**/desk/sign-in');
	await second.getByLabel('E-mail address').fill('ferrin@pennywhistle.example');
	await firstStep(second, STAFF_PASSWORD);
	await second.waitForURL('**/desk/rounds');

	// signed out from the first one, it is out and asked again
	await page.goto('/desk/you');
	await page.getByRole('button', { name: 'Sign out everywhere else' }).click();
	await expect(page.getByRole('button', { name: 'Sign out there' })).toHaveCount(0);
	await second.goto('/desk/rounds');
	await expect(second).toHaveURL(/sign-in/);
	await second.getByRole('link', { name: 'Send me a code by e-mail' }).click();
	await expectAccessible(second, 'asking for a code');
	await second.getByLabel('E-mail address').fill('ferrin@pennywhistle.example');
	await second.getByRole('button', { name: 'Send the code' }).click();
	await expect(second.getByText('a code is on its way')).toBeVisible();
	await second.getByLabel('Code from the message').fill('00000000');
	await second.getByRole('button', { name: 'Sign in', exact: true }).click();
	await expect(second.getByRole('alert')).toContainText('not right');
	const mail = await mailTo(product, 'ferrin@pennywhistle.example', 'sign_in_code');
	await second.getByLabel('Code from the message').fill(/is (\d{4} \d{4})\./.exec(mail)![1]);
	await second.getByRole('button', { name: 'Sign in', exact: true }).click();
	await expect(second.getByRole('heading', { name: 'One more step' })).toBeVisible();
	await other.close();
});

test('the password changed while signed in: typed, refused, changed; elsewhere one is out, and the new one lets in', async ({
	page,
	browser,
	product
}) => {
	test.setTimeout(120_000);
	const NEW = 'seven herons borrow a ladder';
	await signInAtDesk(page, 'imre');
	const elsewhere = await browser.newContext({ baseURL: product.origin });
	const other = await elsewhere.newPage();
	await signInAtDesk(other, 'imre');
	await page.goto('/desk/you');
	await page.getByRole('button', { name: 'Change it' }).press('Enter');
	await typeIn(page.getByLabel('Your password, once more'), 'not this one');
	await page.keyboard.press('Tab');
	await page.keyboard.type('shortpass');
	await expect(page.getByLabel('New password')).toHaveValue('shortpass');
	await expect(page.getByText('9 characters so far, 3 to go')).toBeVisible();
	await expectAccessible(page, 'changing the password');
	await page.getByRole('button', { name: 'Save the new password' }).click();
	await expect(page.getByRole('alert')).toContainText('not your password');
	// what was typed is kept
	await expect(page.getByLabel('New password')).toHaveValue('shortpass');
	await typeIn(page.getByLabel('Your password, once more'), STAFF_PASSWORD);
	await page.getByRole('button', { name: 'Save the new password' }).click();
	await expect(page.getByRole('alert')).toContainText('needs at least 12');
	await typeIn(page.getByLabel('New password'), NEW);
	await page.keyboard.press('Enter');
	await expect(page.getByRole('status').filter({ hasText: 'Your password is changed' })).toBeVisible();
	await expect(page.getByLabel('New password')).toHaveCount(0);
	await page.goto('/desk/rounds');
	await expect(page).toHaveURL(/rounds/);
	await other.goto('/desk/rounds');
	await expect(other).toHaveURL(/sign-in/);
	await typeIn(other.getByLabel('E-mail address'), 'imre@pennywhistle.example');
	await typeIn(other.getByLabel('Password'), NEW);
	await other.keyboard.press('Enter');
	await other.waitForURL('**/desk/rounds');
	expect(await mailTo(product, 'imre@pennywhistle.example', 'password_changed')).toContain('changed');
	await elsewhere.close();
});

test('a client on a phone: a passkey made, used alone, used as the second step, taken out of use', async ({ browser, product }) => {
	test.setTimeout(120_000);
	const page = await phone(browser, product.origin);
	await giveAuthenticator(page);
	await signInAtPortal(page, 'nessa@saltgrassbees.example');
	await page.getByRole('link', { name: 'Sign-in and devices' }).click();
	await expectAccessible(page, 'how a client signs in');
	await page.getByRole('button', { name: 'Add a passkey' }).click();
	await page.getByLabel('A name for it').fill('Nessa’s phone');
	await page.getByLabel('Your password, once more').fill(CONTACT_PASSWORD);
	await page.getByRole('button', { name: 'Continue' }).click();
	await expect(page.getByRole('heading', { name: 'Your recovery codes' })).toBeVisible();
	await page.getByRole('button', { name: 'I have kept them' }).click();
	await expect(page.getByText('Nessa’s phone')).toBeVisible();

	await page.getByRole('button', { name: 'Sign out', exact: true }).click();
	await page.goto('/portal/pennywhistle-row/sign-in');
	await page.getByRole('button', { name: 'Sign in with a passkey' }).click();
	await page.waitForURL('**/portal/pennywhistle-row');

	await page.getByRole('button', { name: 'Sign out', exact: true }).click();
	await page.goto('/portal/pennywhistle-row/sign-in');
	await page.getByLabel('E-mail address').fill('nessa@saltgrassbees.example');
	await firstStep(page, CONTACT_PASSWORD);
	await expect(page.getByRole('heading', { name: 'One more step' })).toBeVisible();
	await expectAccessible(page, 'the second step of a client');
	await page.getByRole('button', { name: 'Use my passkey' }).click();
	await page.waitForURL('**/portal/pennywhistle-row');
	expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);

	// a contact's passkey opens no desk
	const desk = await page.context().newPage();
	await giveAuthenticator(desk);
	await desk.goto('/desk/sign-in');
	await desk.getByRole('button', { name: 'Sign in with a passkey' }).click();
	await expect(desk.getByText('The passkey was not accepted')).toBeVisible();
	await desk.close();

	await page.goto('/portal/pennywhistle-row/you');
	await page.getByRole('button', { name: 'Remove: Nessa’s phone' }).click();
	await page.getByLabel('Your password, once more').fill(CONTACT_PASSWORD);
	await page.getByRole('button', { name: 'Continue' }).click();
	await expect(page.getByText('Nessa’s phone')).toHaveCount(0);
	expect((await product.sql.query('select 1 from passkey')).rowCount).toBe(0);
	expect(
		(
			await product.sql.query('select 1 from recovery_code c join contact p on p.id = c.contact_id where p.email = $1', [
				'nessa@saltgrassbees.example'
			])
		).rowCount
	).toBe(0);
});

test('where the firm requires it, nothing is done before it is set up', async ({ browser, product }) => {
	await product.sql.query('update firm set second_step_contacts = true');
	const page = await phone(browser, product.origin);
	await page.goto('/portal/pennywhistle-row/sign-in');
	await page.getByLabel('E-mail address').fill('mara@gullstring.example');
	await firstStep(page, CONTACT_PASSWORD);
	await page.waitForURL('**/you');
	await expect(page.getByText('Please set up a second step before you go on')).toBeVisible();
	await page.goto('/portal/pennywhistle-row');
	await expect(page).toHaveURL(/\/you$/);
	await page.getByRole('button', { name: 'Set it up', exact: true }).click();
	await page.getByLabel('Your password, once more').fill(CONTACT_PASSWORD);
	await page.getByRole('button', { name: 'Continue' }).click();
	const secret = (await page.locator('.font-mono').first().textContent())!;
	await page.getByLabel('Six digits').fill(oathtool(secret));
	await page.getByRole('button', { name: 'Turn it on' }).click();
	await page.getByRole('button', { name: 'I have kept them' }).click();
	await page.waitForURL('**/portal/pennywhistle-row');
	await product.sql.query('update firm set second_step_contacts = false');
});

test('people of the firm: added, invited, given a role, suspended; the roles in words', async ({ page, browser, product }) => {
	test.setTimeout(120_000);
	await signInAtDesk(page, 'tamsin');
	await page.goto('/desk/firm');
	await page.getByRole('link', { name: 'People, roles and security' }).click();
	await expectAccessible(page, 'people of the firm');
	await page.getByRole('button', { name: 'Add a person …' }).click();
	await page.getByLabel('Name', { exact: true }).fill('Wilhelmina Roe');
	await page.getByLabel('E-mail address').fill('odalys@pennywhistle.example');
	await page.getByRole('button', { name: 'Add and send the link' }).click();
	await expect(page.getByRole('alert')).toContainText('signs in with this address already');
	await page.getByLabel('E-mail address').fill('wilhelmina@pennywhistle.example');
	await page.getByRole('button', { name: 'Add and send the link' }).click();
	await expect(page.getByText('Has not chosen a password yet.')).toBeVisible();
	await page.getByLabel('Role of Wilhelmina Roe').selectOption('partner');

	const theirs = await browser.newContext({ baseURL: product.origin });
	const other = await theirs.newPage();
	await other.goto(/http:\S+\/desk\/reset\/[\w-]+/.exec(await mailTo(product, 'wilhelmina@pennywhistle.example', 'staff_invitation'))![0]);
	await other.getByLabel('New password').fill('a boat a gull a lamp');
	await other.getByRole('button', { name: /^Save/ }).click();
	await other.waitForURL('**/desk/rounds');
	await page.reload();
	await expect(page.getByText(/Last here .* No second step\./).first()).toBeVisible();
	await expect(page.getByLabel('Role of Wilhelmina Roe')).toHaveValue('partner');
	const live = await fetch(`${product.origin}/desk/live`, {
		headers: { cookie: (await theirs.cookies()).map((cookie) => `${cookie.name}=${cookie.value}`).join('; ') }
	});
	const stream = live.body!.getReader();
	await stream.read();
	await page.getByRole('button', { name: 'Suspend: Wilhelmina Roe' }).click();
	await expect(page.getByText('Suspended: cannot sign in.')).toBeVisible();
	// what their desk still heard of the firm ends with the session
	while (!(await stream.read()).done);
	await other.goto('/desk/rounds');
	await expect(other).toHaveURL(/sign-in/);
	await theirs.close();
});

test('what a role may not do is not offered: filing looks, and nothing needs them', async ({ page, product }) => {
	test.setTimeout(120_000);
	// papers that came by themselves are theirs to file as well: here none waits
	await product.sql.query(
		`update paper set put_away_at = uploaded_at, put_away_by_id = (select id from staff limit 1) where unasked and item_id is null`
	);
	await signInAtDesk(page, 'bram');
	await expect(page.getByRole('heading', { level: 1 })).toContainText('Nothing needs you.');
	await expect(page.getByText('what waits here is for others to deal with')).toBeVisible();
	await page.getByText(/\d+ things wait for others to deal with/).click();
	await page.locator('section', { hasText: 'Handed in, to look at' }).locator('[data-row]').first().click();
	await expect(page.getByText('What happened to it')).toBeVisible();
	for (const name of [/^Accept/, /^Send back/, /^Waive/, /^Move the date/, /^Write about it/])
		await expect(page.getByRole('button', { name }), String(name)).toHaveCount(0);
	await page.goto('/desk/clients');
	await expect(page.getByRole('link', { name: 'People', exact: true })).toBeVisible();
	for (const name of [/^New client/, 'Import a list', 'Invite many', 'Ask many'])
		await expect(page.getByRole('link', { name }), String(name)).toHaveCount(0);
	await page.keyboard.press('n');
	await expect(page).toHaveURL(/desk\/clients$/);
	await expectAccessible(page, 'clients as filing sees them');
	await page.goto('/desk/clients/asked?show=open');
	await expect(page.getByRole('row').nth(3)).toBeVisible();
	await expect(page.getByRole('checkbox')).toHaveCount(0);
	await expect(page.getByRole('link', { name: 'Ask many' })).toHaveCount(0);
	await expectAccessible(page, 'asked as filing sees it');
	const { rows } = await product.sql.query('select id, client_id from recurring_request limit 1');
	await page.goto(`/desk/clients/${rows[0].client_id}/standing/${rows[0].id}`);
	await expect(page.getByText(/^Next:/)).toBeVisible();
	for (const name of [/Pause/, /^End/, /Ask the next/, /^Skip/, /^Move/, /Save/]) await expect(page.getByRole('button', { name })).toHaveCount(0);
	await expectAccessible(page, 'a standing request as filing sees it');
	const { rows: files } = await product.sql.query('select id, client_id from transaction_file limit 1');
	await page.goto(`/desk/clients/${files[0].client_id}/transactions`);
	await expect(page.getByText('Files so far')).toBeVisible();
	await expect(page.locator('input[type=file]')).toHaveCount(0);
	await page.goto(`/desk/clients/${files[0].client_id}/transactions/${files[0].id}`);
	await expect(page.getByRole('row').nth(1)).toBeVisible();
	await expect(page.getByRole('checkbox')).toHaveCount(0);
	await expect(page.getByRole('button', { name: /How it is read|Delete/ })).toHaveCount(0);
});

test('the portal as a contact sees it: marked, read only, and in the history', async ({ page, product }) => {
	test.setTimeout(120_000);
	await signInAtDesk(page);
	const { rows } = await product.sql.query(`select id from client where name = 'Gull & String Kites'`);
	const states = () => product.sql.query('select id, state, version from item where client_id = $1 order by id', [rows[0].id]);
	const before = (await states()).rows;
	await page.goto(`/desk/clients/${rows[0].id}`);
	const [look] = await Promise.all([
		page.context().waitForEvent('page'),
		page.getByRole('button', { name: 'See the portal as Mara Whitlock' }).click()
	]);
	await expect(look.getByText('You see this as Mara Whitlock sees it.')).toBeVisible();
	await expect(look.getByRole('heading', { name: /Good morning, Mara/ })).toBeVisible();
	await expectAccessible(look, 'looking as a contact');
	await look.getByRole('link', { name: /Your sales tax number/ }).click();
	await look.getByRole('textbox').fill('in her name');
	await look
		.getByRole('button', { name: /answer/i })
		.first()
		.click();
	await expect(look.getByText('You only look at this page. Nothing was done.').first()).toBeVisible();
	expect((await states()).rows).toEqual(before);
	await look.goto('/portal/pennywhistle-row');
	await look.getByRole('button', { name: 'Back to the desk' }).click();
	await look.waitForURL('**/desk/clients');
	await look.goto('/portal/pennywhistle-row');
	await expect(look).toHaveURL(/sign-in/);
	await page.goto(`/desk/clients/${rows[0].id}/history`);
	await expect(page.getByText('looked at the portal as Mara Whitlock sees it')).toBeVisible();
});
