import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { awake, expect, expectAccessible, phone, signInAtDesk, signInAtPortal, test, typeIn } from './product';

test.use({ file: 'fees' });

const LIST = 'Engagement letter with fees and payment';

test('fees are agreed on the record, stand in the letter, and are paid from an account that nobody reads in passing', async ({
	page,
	product,
	browser
}) => {
	test.setTimeout(240_000);
	await signInAtDesk(page);
	await page.goto('/desk/clients?search=gull');
	await page.getByRole('link', { name: 'Gull & String Kites' }).click();
	await page
		.getByRole('region', { name: 'what we do' })
		.or(page.locator('#work'))
		.getByRole('button', { name: /change/ })
		.first()
		.click();
	await page.getByRole('button', { name: 'Change Taking on and monthly books' }).click();
	// what is no amount is named where it stands, and stays there
	const salesTax = page.getByLabel('Fee for Sales tax, in CAD');
	await typeIn(salesTax, 'a lot');
	await page.getByRole('button', { name: 'Save the engagement' }).click();
	await expect(page.getByText('Write the fee for Sales tax as a number in CAD').last()).toBeVisible();
	await expect(salesTax).toHaveValue('a lot');
	await salesTax.fill('');
	await typeIn(salesTax, '75,50');
	await page.getByRole('button', { name: 'Save the engagement' }).click();
	await expect(page.getByText('Monthly books, Sales tax (75.50 CAD each month), Payroll', { exact: true })).toBeVisible();

	// the letter has them; one is changed for this copy alone, and is still there after a reload
	await page.getByRole('link', { name: 'Ask for something' }).click();
	await page.getByText(LIST).click();
	await awake(page);
	await page.getByText('Engagement letter', { exact: true }).first().click();
	await expect(page.getByLabel('Fee for Sales tax, in CAD')).toHaveValue('75.50');
	await expect(page.getByLabel('Fee for Monthly books, in CAD')).toHaveValue('280.00');
	const payroll = page.getByLabel('Fee for Payroll, in CAD');
	await payroll.fill('');
	await expect(page.getByText('still to fill in').first()).toBeVisible();
	await typeIn(payroll, '50');
	await page.getByRole('button', { name: 'Another service' }).click();
	await expect(page.getByRole('textbox', { name: 'Service 4', exact: true })).toBeFocused();
	await page.keyboard.type('Clean-up of March', { delay: 15 });
	await page.keyboard.press('Tab');
	await page.keyboard.type('300', { delay: 15 });
	await page.keyboard.press('Tab');
	await page.keyboard.type('once');
	await expect(page.getByLabel('How often the fee for Clean-up of March falls due')).toHaveValue('once');
	await expectAccessible(page, 'a letter with its fees');
	await expect(page.getByText('Saved as a draft.')).toBeVisible();
	await page.reload();
	await awake(page);
	await page.getByText('Engagement letter', { exact: true }).first().click();
	await expect(payroll).toHaveValue('50.00');
	await expect(page.getByLabel('Fee for Clean-up of March, in CAD')).toHaveValue('300.00');
	await page.getByRole('button', { name: /^Send to/ }).click();
	await page.waitForURL(/clients\/[0-9a-f-]{36}$/);

	// on a phone: the table is read, and the account named; what cannot be one is refused by name
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, 'mara@gullstring.example');
	await mobile
		.getByRole('link', { name: /Engagement letter.*by/ })
		.first()
		.click();
	const table = mobile.getByRole('article', { name: 'Engagement letter' }).getByRole('table');
	await expect(table).toContainText('Payroll$50.00 each month');
	await expect(table).toContainText('Together$405.50 each month');
	await expect(table).toContainText('Clean-up of March$300.00, once');
	await expect(mobile.getByText('You fill this in below, when you sign.')).toBeVisible();
	const holder = mobile.getByRole('textbox', { name: 'Account holder' });
	const bank = mobile.getByRole('textbox', { name: 'Transit and institution number' });
	const account = mobile.getByRole('textbox', { name: 'Account number' });
	await typeIn(holder, 'Mara Whitlock');
	await typeIn(bank, '1234');
	await typeIn(account, '9876 543 210');
	await expectAccessible(mobile, 'an account in a letter');
	await mobile.getByRole('checkbox').check();
	await mobile.getByRole('button', { name: 'Sign the letter' }).scrollIntoViewIfNeeded();
	await expect(mobile.getByText('You have reached the end of the letter.')).toBeVisible();
	await mobile.getByRole('button', { name: 'Sign the letter' }).click();
	await expect(mobile.getByRole('alert')).toContainText('This is not a Transit and institution number as banks have it.');
	await expect(account).toHaveValue('9876 543 210');
	// the account is kept nowhere before they sign: not on the server, not on the phone
	await expect.poll(async () => (await product.sql.query(`select 1 from item where typed::text like '%Mara Whitlock%'`)).rowCount).toBe(1);
	expect((await product.sql.query(`select 1 from item where typed::text ~ '9876'`)).rowCount).toBe(0);
	expect(await mobile.evaluate(() => JSON.stringify({ ...localStorage, ...sessionStorage }))).not.toContain('9876');
	await mobile.reload();
	await expect(holder).toHaveValue('Mara Whitlock');
	await expect(account).toHaveValue('');
	await typeIn(bank, '12345-003');
	await typeIn(account, '9876 543 210');
	await mobile.getByRole('checkbox').check();
	await mobile.getByRole('button', { name: 'Sign the letter' }).click();
	await expect(mobile.getByText(/^You signed this letter on Monday 4 May/)).toBeVisible();
	await expect(mobile.getByText('Account number: ending in 3210')).toBeVisible();

	// the firm signs; then the account can be handed on, once as new
	await page.goto('/desk/firm/authorisations');
	const row = page.getByRole('row', { name: /Gull & String Kites/ });
	await expect(row).toContainText('not before all have signed');
	await page.goto('/desk/rounds');
	await page.getByRole('link', { name: /Gull & String Kites Engagement letter, signed by Mara Whitlock/ }).click();
	await page.getByRole('button', { name: 'Read and countersign …' }).click();
	await page.getByRole('button', { name: /^Sign “.*” as Odalys Fenwick$/ }).click();
	await expect(page.getByRole('dialog')).toHaveCount(0);
	await page.goto('/desk/firm/authorisations');
	await expect(row).toContainText('not yet');
	expect(await page.locator('body').innerText()).not.toMatch(/9876|12345/);
	await expectAccessible(page, 'payment authorisations');
	const again = page.getByLabel('Your password, once more');
	await typeIn(again, 'not my password');
	await page.keyboard.press('Tab');
	await page.keyboard.press('Enter');
	await expect(page.getByRole('alert')).toBeVisible();
	await expect(row).toContainText('not yet');
	await again.fill('');
	await typeIn(again, 'lamplight ledger harbour');
	const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: /^Download the \d new ones$/ }).click()]);
	expect(readFileSync(await file.path(), 'utf8')).toContain('Gull & String Kites,Mara Whitlock,12345003,9876543210,Mara Whitlock');
	await expect(row).toContainText('since Mon 4 May');
	await expect(page.getByRole('status').filter({ hasText: 'whole account numbers' })).toBeVisible();
	await expect(again).toHaveValue('');
	await expect(page.getByRole('button', { name: /new/ })).toHaveCount(0);
	await row.getByRole('link', { name: 'Engagement letter' }).click();
	await page.getByRole('button', { name: 'Show the account' }).click();
	await expect(page.getByText('9876543210')).toBeVisible();
	await expect(page.getByRole('link', { name: 'Download the sealed PDF' })).toBeVisible({ timeout: 60_000 });
	const [sealed] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'Download the sealed PDF' }).click()]);
	const words = execFileSync('pdftotext', ['-layout', await sealed.path(), '-'], { encoding: 'utf8' });
	for (const one of ['Mara Whitlock', 'ending in 3210', '$405.50 each month']) expect(words).toContain(one);
	expect(words).not.toMatch(/9876|12345/);
	await page.getByRole('button', { name: 'Remove it for good …' }).click();
	await page.getByRole('button', { name: 'Remove the account' }).click();
	await expect(page.getByText('It was removed.')).toBeVisible();
	await mobile.context().close();
});

test('a payment authorisation is put into a letter from the list of fields, by keyboard', async ({ page }) => {
	await signInAtDesk(page);
	await page.goto('/desk/library/lists');
	await page.getByRole('link', { name: /Taking on a client/ }).click();
	await awake(page);
	await page.getByText('Engagement letter', { exact: true }).first().click();
	const words = page.getByRole('textbox', { name: 'Words of Engagement letter' });
	await words.press('Control+End');
	await page.keyboard.press('Enter');
	await page.getByLabel('Insert a field').selectOption('Payment authorisation');
	await expect(words.getByText('Account for the payments: whoever signs first names it')).toBeVisible();
	await expect(words.getByRole('heading', { name: 'Payment authorisation' })).toBeVisible();
	await page.getByLabel('Insert a field').selectOption('Table of fees');
	await expect(words.getByText('A table of the client’s services and what each costs')).toBeVisible();
	await expect(page.getByText('Each client’s own: the services of their engagements')).toBeVisible();
});
