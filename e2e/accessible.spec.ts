import { awake, expect, expectAccessible, phone, signInAtDesk, signInAtPortal, test } from './product';

// the longest file has the first name, so that it is begun first
test.use({ file: 'accessible' });

const WAITS = { timeout: 20_000 };

test('every main view of the desk: accessible by Day and Night, nothing on the console', async ({ page, product }) => {
	test.setTimeout(300_000);
	await page.goto('/desk/sign-in');
	await expectAccessible(page, 'sign-in');
	await signInAtDesk(page);
	const { rows } = await product.sql.query(
		`select (select id from client where name = 'Gull & String Kites') client, (select id from item where state = 'handed_in' and kind = 'paper' limit 1) item, (select id from message where kind = 'chase' limit 1) message, (select id from client_import limit 1) list, (select id from request_list limit 1) request_list, (select id from item where kind = 'transactions' limit 1) lines, (select id from transaction_file limit 1) file, (select id from client_form limit 1) form, (select client_id from transaction_file limit 1) with_lines`
	);
	const [{ client, item, message, list, request_list: requestList, lines, file, form, with_lines: withLines }] = rows;
	const views = [
		'/desk/rounds',
		`/desk/rounds/item-${item}`,
		'/desk/clients',
		'/desk/clients/new',
		`/desk/clients/${client}`,
		`/desk/clients/${client}/history`,
		`/desk/clients/${client}/ask`,
		`/desk/clients/${client}/merge`,
		'/desk/clients/import',
		`/desk/clients/import/${list}`,
		'/desk/clients/invite',
		'/desk/clients/people',
		'/desk/clients/ask',
		'/desk/clients/asked?show=open',
		`/desk/clients/${client}/standing`,
		`/desk/clients/${withLines}/transactions`,
		`/desk/clients/${withLines}/transactions/${file}?asked=1`,
		`/desk/clients/${withLines}/item/${lines}`,
		'/desk/firm/people',
		'/desk/firm/brands',
		'/desk/library',
		'/desk/library/lists',
		`/desk/library/lists/${requestList}`,
		'/desk/library/forms',
		`/desk/library/forms/${form}`,
		'/desk/library/ready/welcome',
		'/desk/practice',
		'/desk/you',
		'/desk/almanac',
		'/desk/postroom',
		`/desk/postroom/${message}`,
		'/desk/firm'
	];
	for (const view of views) {
		await page.goto(view);
		await awake(page);
		await expect(page.locator('h1, h2').first()).toBeVisible(WAITS);
		await expectAccessible(page, view);
		// the colours are all that Night changes
		await page.evaluate(() => (document.documentElement.dataset.mode = 'dark'));
		await expectAccessible(page, `${view} by Night`, ['color-contrast']);
	}
	await page.goto(`/desk/clients/${client}/ask`);
	await page.getByRole('link', { name: /^Taking on a client/ }).click();
	await awake(page);
	await page.locator('[id^=row-]').first().click();
	await expect(page.getByRole('textbox', { name: 'Words of Engagement letter' })).toBeVisible();
	await expectAccessible(page, 'writing a letter');
});

test('every main view of the portal: accessible, no sideways scrolling at 320 px', async ({ browser, product }) => {
	const page = await phone(browser, product.origin);
	await page.setViewportSize({ width: 320, height: 640 });
	const look = async (what: string) => {
		await expectAccessible(page, what);
		expect(await page.evaluate(() => document.documentElement.scrollWidth), what).toBeLessThanOrEqual(320);
	};
	for (const path of [
		'/portal/pennywhistle-row/sign-in',
		'/portal/pennywhistle-row/sign-in/code',
		'/portal/pennywhistle-row/help',
		'/portal/pennywhistle-row/forgotten',
		'/portal/pennywhistle-row/join/nothing',
		'/mail/stop/nothing'
	]) {
		await page.goto(path);
		await look(path);
	}
	// somebody whose papers no other test of this run hands in
	await signInAtPortal(page, 'nessa@saltgrassbees.example');
	await look('first page');
	await page.getByRole('link', { name: 'Add the paper' }).click();
	await expect(page.getByText('Choose files or take a picture')).toBeVisible();
	await look('a paper');
	await page.getByRole('button', { name: 'This does not apply to me' }).click();
	await look('says no');
	await page.goto('/portal/pennywhistle-row');
	await page.getByRole('link', { name: /Engagement letter/ }).click();
	await look('a sealed letter');
	await page.goto('/portal/pennywhistle-row/you');
	await look('how somebody signs in');
	await page.goto('/portal/pennywhistle-row/forms');
	await look('forms with which somebody asks');
	await page.context().close();
});

test('the desk is worked by keyboard alone', async ({ page }) => {
	await signInAtDesk(page);
	await page.keyboard.press('ArrowDown');
	await page.keyboard.press('ArrowDown');
	await page.keyboard.press('Enter');
	await expect(page).toHaveURL(/rounds\/[a-z-]+-/);
	await page.keyboard.press('Escape');
	await expect(page).toHaveURL(/rounds$/);
	await page.keyboard.press('2');
	await expect(page).toHaveURL(/clients/);
	await page.keyboard.press('/');
	await page.keyboard.type('barnacle');
	await page.keyboard.press('Enter');
	await expect(page.getByRole('row')).toHaveCount(2);
	// no key acts while a person types
	await page.getByPlaceholder(/Find a client/).fill('');
	await page.getByPlaceholder(/Find a client/).pressSequentially('1n2');
	await expect(page).toHaveURL(/search=barnacle/);
	await page.goto('/desk/rounds');
	await page.waitForFunction(() => document.documentElement.dataset.live === 'yes');
	await page.keyboard.press('?');
	await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
});
