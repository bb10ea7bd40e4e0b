import { PDFDocument, StandardFonts } from '@cantoo/pdf-lib';
import { awake, expect, expectAccessible, phone, signInAtDesk, signInAtPortal, test } from './product';

test.use({ file: 'statements' });

test('the grid says what is missing and what does not join; a reason settles it, a value is put right, what is missing is asked for once', async ({
	page,
	product
}) => {
	test.setTimeout(150_000);
	await signInAtDesk(page);
	await page.getByRole('link', { name: 'Clients', exact: true }).click();
	await page.getByRole('link', { name: 'Statements', exact: true }).click();
	await expect(page.getByRole('heading', { name: /statements are missing at \d+ clients/ })).toBeVisible();
	await awake(page);
	await expectAccessible(page, 'missing statements of all clients');
	await page
		.getByRole('link', { name: /Brine & Barrow Oysters.*Gullhaven Card/ })
		.first()
		.press('Enter');
	const title = page.locator('h1');
	await expect(title).toHaveText(/statements are missing, one sum does not join\.$/);
	await awake(page);
	const leaf = page.getByRole('complementary');
	await expect(leaf.getByRole('heading', { name: 'Nobody has asked for it' })).toBeVisible();

	// the sum that does not join, by keyboard alone
	const broken = page.getByRole('link', { name: /Harbour Union, payroll.*does not join: −412\.00/ });
	await broken.press('Enter');
	await expect(leaf.getByRole('heading', { name: '−412.00 lies between this statement and the one before' })).toBeVisible();
	await expect(leaf).toBeFocused();
	await expect(leaf.getByText('payments in it lead from the one balance to the other', { exact: false })).toBeVisible();
	await expect(leaf.locator('.spot').first()).toBeAttached();
	await expectAccessible(page, 'the statement grid and a statement');
	await leaf.getByRole('button', { name: 'It is right, because …' }).press('Enter');
	await leaf.getByLabel('It is right, because').pressSequentially('the bank moved a fee, ask no more', { delay: 10 });
	await page.keyboard.press('Enter');
	await expect(leaf.getByText('“the bank moved a fee, ask no more”')).toBeVisible();
	await expect(title).toHaveText(/statements are missing\.$/);
	await page.reload();
	await awake(page);
	await expect(leaf.getByText('“the bank moved a fee, ask no more”')).toBeVisible();

	// a value that was read wrongly; what was typed stays when it is refused
	await leaf.getByRole('button', { name: 'Put it right …' }).press('Enter');
	const closing = leaf.getByLabel('Closing balance');
	await closing.fill('');
	await closing.pressSequentially('one hundred', { delay: 10 });
	await leaf.getByRole('button', { name: 'Save what it says' }).press('Enter');
	await expect(leaf.getByText('Write the closing balance as a sum, such as 12,204.11.').first()).toBeVisible();
	await expect(closing).toHaveValue('one hundred');
	await closing.fill('');
	await closing.pressSequentially('100.00', { delay: 10 });
	await leaf.getByRole('button', { name: 'Save what it says' }).press('Enter');
	await expect(leaf.getByText('Put right by Odalys Fenwick.')).toBeVisible();
	await expect(title).toHaveText(/one sum does not join\.$/);
	await page.keyboard.press('Escape');
	await expect(leaf).toHaveCount(0);

	// what nobody asked for is asked for from here, and then it is asked
	const forgotten = page.getByRole('link', { name: /Gullhaven Card.*: not asked$/ }).first();
	await forgotten.press('Enter');
	await leaf.getByRole('link', { name: 'Ask for it' }).press('Enter');
	await awake(page);
	await expect(page.getByText('Gullhaven Card ··3304', { exact: false }).first()).toBeVisible();
	await page.getByRole('button', { name: /^Send/ }).first().press('Enter');
	const confirm = page.getByRole('dialog').getByRole('button', { name: /^Send/ });
	if (await confirm.isVisible()) await confirm.press('Enter');
	await page.waitForURL(/clients\/[\w-]+$/);
	const { rows } = await product.sql.query(
		`select count(*)::int n from item i join account a on a.id = i.account_id where a.last_four = '3304' and i.period_to = '2026-02-20'`
	);
	expect(rows).toEqual([{ n: 1 }]);
	await page.goBack();
	await expect(title).toHaveText('All of these were asked for already.');
	await page.goBack();
	await expect(title).toHaveText(/one sum does not join\.$/);
	await page.reload();
	await awake(page);
	await expect(page.getByRole('link', { name: /Gullhaven Card.*: not asked$/ })).toHaveCount(0);

	// as a file
	const download = page.waitForEvent('download');
	await page.getByRole('link', { name: 'CSV' }).click();
	expect((await download).suggestedFilename()).toBe('Statements Brine & Barrow Oysters.csv');
});

/** A statement for April with the words that one has. */
async function statement(account: string): Promise<Buffer> {
	const document = await PDFDocument.create();
	const page = document.addPage([500, 400]);
	const font = await document.embedFont(StandardFonts.Helvetica);
	['Harbour Union', `Account 0020 44${account}`, 'Statement period 1 April 2026 to 30 April 2026', 'Opening balance 1,000.00'].forEach((line, i) =>
		page.drawText(line, { x: 40, y: 340 - i * 30, size: 12, font })
	);
	return Buffer.from(await document.save());
}

test('what a client sends by themselves is known by what it says; once allowed, the next one finds its place alone, and the rule is switched off', async ({
	page,
	browser,
	product
}) => {
	test.setTimeout(150_000);
	const { rows } = await product.sql.query<{ email: string; id: string }>(
		`select ct.email::text, c.id from client c join client_contact cc on cc.client_id = c.id and cc.rank = 1 join contact ct on ct.id = cc.contact_id
		where c.name = 'Brine & Barrow Oysters'`
	);
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, rows[0].email);
	await mobile.goto('/portal/pennywhistle-row/send');
	await mobile.waitForLoadState('networkidle');
	const client = mobile.getByLabel('What is it for?');
	if (await client.isVisible()) await client.selectOption({ label: 'Brine & Barrow Oysters' });
	const send = async (name: string, account: string) => {
		await mobile
			.locator('input[type=file]')
			.first()
			.setInputFiles([{ name, mimeType: 'application/pdf', buffer: await statement(account) }]);
		await expect(mobile.getByRole('link', { name })).toBeVisible();
	};
	const stateOf = async (account: string) =>
		(
			await product.sql.query(
				`select i.state from item i join account a on a.id = i.account_id where a.client_id = $1 and a.last_four = $2 and i.period_to = '2026-04-30'`,
				[rows[0].id, account]
			)
		).rows[0].state;
	await send('paper one.pdf', '7728');
	await expect
		.poll(
			async () => (await product.sql.query(`select 1 from statement s join paper p on p.id = s.paper_id where p.name = 'paper one.pdf'`)).rowCount,
			{
				timeout: 60_000
			}
		)
		.toBe(1);

	await signInAtDesk(page);
	await page.goto('/desk/arrivals');
	await awake(page);
	await page.getByRole('link', { name: /paper one\.pdf/ }).press('Enter');
	const leaf = page.getByRole('complementary');
	await expect(
		leaf.getByText('It is a statement of Harbour Union, payroll ··7728; it covers 1 April 2026 to 30 April 2026.', { exact: false })
	).toBeVisible();
	await expect(leaf.locator('.spot').first()).toBeAttached();
	await leaf.getByLabel(/^from now on statements of Harbour Union, payroll ··7728/).press('Space');
	await leaf.getByRole('button', { name: /^File it there/ }).press('Enter');
	await expect.poll(() => stateOf('7728')).toBe('handed_in');

	// the next one of this account goes by itself once it is asked for; here the same month is asked once more
	await product.sql.query(
		`update item i set state = 'asked' from account a where a.id = i.account_id and a.client_id = $1 and a.last_four = '7728' and i.period_to = '2026-04-30'`,
		[rows[0].id]
	);
	await send('paper two.pdf', '7728');
	await expect.poll(() => stateOf('7728'), { timeout: 60_000 }).toBe('handed_in');
	await page.goto('/desk/arrivals');
	await awake(page);
	await expect(page.getByRole('heading', { name: 'What finds its place by itself' })).toBeVisible();
	const rule = page.getByRole('listitem').filter({ hasText: 'Harbour Union, payroll ··7728' }).filter({ hasText: 'allowed by' });
	await expect(rule.getByText('1 filed; allowed by Odalys')).toBeVisible();
	await expectAccessible(page, 'Arrivals with a rule');
	await page.getByRole('button', { name: 'Switch off: Harbour Union, payroll ··7728 of Brine & Barrow Oysters' }).press('Enter');
	await expect(rule).toHaveCount(0);
});
