import { readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { awake, CONTACT_PASSWORD, expect, expectAccessible, phone, signInAtDesk, signInAtPortal, startProduct, test } from './product';

test.use({ file: 'firm' });

test('the first start of a real firm: the log names the address, five answers, and the desk is there', async ({ browser }) => {
	test.setTimeout(120_000);
	const product = await startProduct('first_start', { DEMO: '0' }, 'nothing');
	try {
		const page = await (await browser.newContext({ baseURL: product.origin })).newPage();
		await page.goto('/desk');
		await expect(page).toHaveURL(/\/desk\/set-up/);
		const address = /"open":"([^"]+)"/.exec(readFileSync(join(product.folder, 'app.log'), 'utf8'))![1];
		await page.goto('/desk/set-up?code=guessed');
		await expectAccessible(page, 'setting up');
		const fill = async () => {
			await page.getByLabel('Name of the firm').fill('Gull & Ledger Söhne');
			await page.getByLabel('Country').selectOption('Canada');
			await page.getByLabel('Time zone').selectOption('America/Halifax');
			await page.getByLabel('Your name').fill('Tamsin Vale');
			await page.getByLabel('E-mail address').fill('tamsin@gullledger.example');
			await page.getByLabel(/Password/).fill('lamplight ledger harbour');
		};
		await fill();
		await page.getByRole('button', { name: 'Set up the firm' }).click();
		await expect(page.getByRole('alert')).toContainText('not the code from the server’s log');
		await expect(page.getByLabel('Name of the firm')).toHaveValue('Gull & Ledger Söhne');
		await page.goto(address);
		await fill();
		await page.getByRole('button', { name: 'Set up the firm' }).click();
		await expect(page.getByRole('heading', { name: 'Gull & Ledger Söhne' })).toBeVisible();
		await expect(page.getByRole('link', { name: '/portal/gull-and-ledger-sohne' })).toBeVisible();
		// nothing anywhere yet, and each place says what to do first
		await page.goto('/desk/rounds');
		await expect(page.getByText('Everything is dealt with.')).toBeVisible();
		await page.goto('/desk/clients');
		await expect(page.getByText('No clients yet. Add the first one; it takes a minute.')).toBeVisible();
		expect((await page.request.get(address)).status()).toBe(404);
		const again = await page.request.post('/desk/set-up', { form: { firmName: 'x' }, headers: { origin: product.origin, accept: 'text/html' } });
		expect(again.status()).toBe(404);
		await page.context().close();
	} finally {
		await product.stop();
		rmSync(product.folder, { recursive: true, force: true });
	}
});

test('brand: the contrast is told while editing, the portal changes, an old address leads on', async ({ page, browser, product }) => {
	test.setTimeout(120_000);
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, 'mara@gullstring.example');
	await signInAtDesk(page, 'tamsin');
	await page.goto('/desk/firm');
	await page.getByRole('button', { name: 'Change Portal and brand' }).click();
	// a logo with a script in it: what arrives is a picture drawn anew
	await page.getByLabel(/^Logo/).setInputFiles({
		name: 'logo.svg',
		mimeType: 'image/svg+xml',
		buffer: Buffer.from(
			'<svg xmlns="http://www.w3.org/2000/svg" width="300" height="100"><script>document.title="hostile"</script><rect width="300" height="100" fill="#7a1f5c"/></svg>'
		)
	});
	const logo = page.getByRole('img', { name: 'Logo of Pennywhistle Row Bookkeeping' });
	await expect(logo).toBeVisible();
	const picture = await page.request.get((await logo.getAttribute('src'))!);
	expect(picture.headers()['content-type']).toBe('image/png');
	expect((await picture.body()).toString('latin1')).not.toContain('script');
	expect(await page.title()).not.toContain('hostile');
	await page.getByLabel(/^Another logo/).setInputFiles({ name: 'not.png', mimeType: 'image/png', buffer: Buffer.from('<html>') });
	await expect(page.getByRole('alert')).toContainText('not.png cannot be read as a picture.');
	await page.getByLabel('as written').fill('#ffd447');
	await expect(page.getByText(/contrast of only 1\.\d to 1; 4\.5 are needed\. The nearest shade that passes is used: #/)).toBeVisible();
	await expectAccessible(page, 'changing the brand');
	await page.getByLabel('as written').fill('#7a1f5c');
	await expect(page.getByText('It is used as it is.')).toBeVisible();
	await page.getByLabel(/^Welcome/).fill('Come in out of the rain.');
	await page.getByLabel('Short name in the portal’s address').fill('portal');
	await page.getByRole('button', { name: 'Save' }).click();
	await expect(page.getByRole('alert').last()).toContainText('This word has a meaning of its own here.');
	await page.getByLabel('Short name in the portal’s address').fill('pennywhistle');
	await page.getByRole('button', { name: 'Save' }).click();
	await expect(page.getByRole('link', { name: `${product.origin}/portal/pennywhistle` })).toBeVisible();

	// the client is still signed in, at the new address, in the new colour
	await mobile.goto('/portal/pennywhistle-row');
	await expect(mobile).toHaveURL(/\/portal\/pennywhistle$/);
	await expect(mobile.getByText('Come in out of the rain.')).toBeVisible();
	await expect(mobile.locator('header img')).toBeVisible();
	await expectAccessible(mobile, 'the portal with a logo');
	expect(await mobile.locator('.portal').evaluate((element) => getComputedStyle(element).getPropertyValue('--brand'))).toBe('#7a1f5c');
	const stranger = await phone(browser, product.origin);
	await stranger.goto('/portal/pennywhistle-row/forgotten?x=1');
	await expect(stranger).toHaveURL(/\/portal\/pennywhistle\/forgotten\?x=1$/);
	await mobile.context().close();
	await stranger.context().close();

	await page.getByRole('button', { name: 'Change Calendar and sending hours' }).click();
	await page.getByLabel('until').fill('08:00');
	await page.getByRole('button', { name: 'Save' }).click();
	await expect(page.getByRole('alert')).toContainText('Sending must end after it begins.');
	await page.getByLabel('until').fill('16:00');
	await page.getByRole('checkbox', { name: 'Fri' }).uncheck();
	await page.getByRole('button', { name: 'Save' }).click();
	await expect(page.getByText('09:00 to 16:00')).toBeVisible();
	await expect(page.getByText('Mon, Tue, Wed, Thu', { exact: true })).toBeVisible();

	await page.getByRole('button', { name: 'Change Reminders' }).click();
	await page.getByLabel('Business days after an invitation was sent, 2').fill('40');
	await page.getByRole('button', { name: 'Save' }).click();
	await expect(page.getByText('At most 30 days after.').first()).toBeVisible();
	await page.getByLabel('Business days after an invitation was sent, 2').fill('');
	await expectAccessible(page, 'changing the reminders');
	await page.getByRole('button', { name: 'Save' }).click();
	await expect(page.getByText('Invitations: after 3 business days')).toBeVisible();
	await expect(page.getByRole('link', { name: 'Gentle' })).toHaveAttribute('href', '/desk/library/plans/usual');
});

test('a further brand with a picture and a video is chosen for one client, who sees it everywhere', async ({ page, browser, product }) => {
	test.setTimeout(120_000);
	await signInAtDesk(page, 'tamsin');
	await page.goto('/desk/firm/brands');
	await awake(page);
	await page.getByRole('button', { name: 'Add a brand' }).click();
	await page.getByLabel('Name that clients read').fill('Gullhaven Ledgers');
	await page.getByLabel('as written').fill('#123f6d');
	await page.getByLabel('Welcome', { exact: true }).fill('Welcome aboard.');
	await page.getByLabel('Address of a welcome video').fill('https://vimeo.com/76979871');
	await expectAccessible(page, 'making a brand');
	await page.getByRole('button', { name: 'Add the brand' }).click();
	await expect(page.getByText('no client sees it yet')).toBeVisible();
	await page.getByRole('button', { name: 'Change Gullhaven Ledgers' }).click();
	// a photograph is drawn anew as a small JPEG
	const photo = await page.evaluate(() => {
		const canvas = Object.assign(document.createElement('canvas'), { width: 2000, height: 1500 });
		canvas.getContext('2d')!.fillRect(0, 0, 900, 900);
		return canvas.toDataURL('image/png').split(',')[1];
	});
	await page
		.getByLabel('Picture beside the welcome')
		.setInputFiles({ name: 'harbour.png', mimeType: 'image/png', buffer: Buffer.from(photo, 'base64') });
	const picture = page.getByRole('img', { name: 'Welcome picture of Gullhaven Ledgers' });
	await expect(picture).toBeVisible();
	const kept = await page.request.get((await picture.getAttribute('src'))!);
	expect(kept.headers()['content-type']).toBe('image/jpeg');
	await page.getByRole('button', { name: 'Cancel' }).click();

	const { rows } = await product.sql
		.query(`select cl.id, c.email from client cl join client_contact cc on cc.client_id = cl.id join contact c on c.id = cc.contact_id
		where cl.name = 'Rope Walk Chandlery'`);
	await page.goto(`/desk/clients/${rows[0].id}`);
	await awake(page);
	await page.getByRole('button', { name: 'Change …' }).first().click();
	await page.getByRole('button', { name: 'Brand and welcome …' }).click();
	await page.getByLabel('Brand they see').selectOption('Gullhaven Ledgers');
	await page.getByRole('button', { name: 'Save brand and welcome' }).click();
	await expect(page.getByLabel('Brand they see')).toBeHidden();

	const mobile = await phone(browser, product.origin);
	await mobile.goto('/portal/pennywhistle-row/sign-in');
	await expect(mobile.getByRole('link', { name: 'Pennywhistle Row Bookkeeping' })).toBeVisible();
	await mobile.getByLabel('E-mail address').fill(rows[0].email);
	await mobile.getByLabel('Password').fill(CONTACT_PASSWORD);
	await mobile.getByRole('button', { name: 'Sign in', exact: true }).click();
	await expect(mobile.getByRole('link', { name: 'Gullhaven Ledgers' })).toBeVisible();
	await expect(mobile.getByText('Welcome aboard.')).toBeVisible();
	await expect(mobile.locator('.welcome img')).toBeVisible();
	await expectAccessible(mobile, 'the portal in a further brand');
	// nothing is fetched from elsewhere before somebody plays it, and then only from the player's own place
	expect(await mobile.locator('iframe').count()).toBe(0);
	await mobile.getByRole('button', { name: 'Play the welcome video' }).click();
	await expect(mobile.locator('iframe')).toHaveAttribute('src', 'https://player.vimeo.com/video/76979871');
	// the next visit begins in the brand seen last
	await mobile.goto('/portal/pennywhistle-row');
	await mobile.getByRole('button', { name: 'Sign out' }).click();
	await expect(mobile).toHaveURL(/sign-in$/);
	await expect(mobile.getByRole('link', { name: 'Gullhaven Ledgers' })).toBeVisible();
	await mobile.context().close();
});

test('a client reads in the language they choose, and is written to in it', async ({ browser, product }) => {
	const context = await browser.newContext({ baseURL: product.origin, viewport: { width: 390, height: 844 }, locale: 'fr-CA' });
	const mobile = await context.newPage();
	// nobody is known yet: the browser says what it would rather read
	await mobile.goto('/portal/pennywhistle-row/sign-in');
	await expect(mobile.getByRole('heading', { name: 'Connexion' })).toBeVisible();
	await expectAccessible(mobile, 'signing in, in French');
	await mobile.getByRole('button', { name: 'English' }).click();
	await signInAtPortal(mobile, 'mara@gullstring.example');
	await expect(mobile.getByRole('button', { name: 'Sign out' })).toBeVisible();
	await mobile.goto('/portal/pennywhistle-row/facts');
	await mobile.getByRole('button', { name: 'français' }).click();
	await expect(mobile).toHaveURL(/\/facts$/);
	await expect(mobile.getByRole('heading', { name: 'Ce que nous savons de vous' })).toBeVisible();
	await expectAccessible(mobile, 'the facts in French');
	await expect
		.poll(async () => (await product.sql.query(`select locale from contact where email = 'mara@gullstring.example'`)).rows[0].locale)
		.toBe('fr');
	const unheard = await mobile.request.post(new URL(mobile.url()).pathname.replace(/\/facts$/, '/language'), {
		form: { language: 'xx' },
		headers: { origin: product.origin }
	});
	expect(await unheard.json()).toMatchObject({ type: 'failure', status: 400 });
	expect((await product.sql.query(`select locale from contact where email = 'mara@gullstring.example'`)).rows[0].locale).toBe('fr');
	await context.close();
});
