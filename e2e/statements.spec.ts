import { awake, expect, expectAccessible, signInAtDesk, test } from './product';

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
	await page.goBack();
	await page.reload();
	await awake(page);
	await expect(page.getByRole('link', { name: /Gullhaven Card.*: not asked$/ })).toHaveCount(0);

	// as a file
	const download = page.waitForEvent('download');
	await page.getByRole('link', { name: 'CSV' }).click();
	expect((await download).suggestedFilename()).toBe('Statements Brine & Barrow Oysters.csv');
});
