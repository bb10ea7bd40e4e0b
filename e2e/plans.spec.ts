import { readFileSync } from 'node:fs';
import { awake, expect, expectAccessible, signInAtDesk, test, typeIn } from './product';

test.use({ file: 'plans' });

test('a chase plan is changed, with what that would change beside it; a further one is made and taken away', async ({ page }) => {
	test.setTimeout(180_000);
	await signInAtDesk(page, 'tamsin');
	await page.goto('/desk/library/plans');
	await awake(page);
	await expectAccessible(page, 'the chase plans');
	await page.getByRole('link', { name: /Gentle/ }).focus();
	await page.keyboard.press('Enter');
	const ahead = page.getByRole('complementary', { name: 'What saving it would change' });
	await expect(ahead).toContainText('Change something');
	await expectAccessible(page, 'a chase plan');

	// a step is added by keyboard: the focus is in it, and stays while days are typed
	await page.getByRole('button', { name: 'after silence' }).press('Enter');
	const days = page.getByLabel('Days, step 5');
	await expect(days).toBeFocused();
	await days.press('ControlOrMeta+a');
	await page.keyboard.type('12', { delay: 30 });
	await expect(days).toHaveValue('12');
	await expect(days).toBeFocused();
	await page.getByLabel('What it does, step 5').selectOption('a call, by who looks after them');
	await expect(ahead).toContainText(/\d+ messages.*\d+ calls for us/);
	await expect(ahead.getByRole('listitem').filter({ hasText: 'Mara Whitlock' }).first()).toContainText('Wed 20 May a call new');
	await expectAccessible(page, 'a chase plan that is changed');

	// what is wrong is said at its step, and what was typed stays
	await days.press('ControlOrMeta+a');
	await page.keyboard.type('soon', { delay: 30 });
	await expect(page.getByRole('listitem').filter({ has: days })).toContainText('Write whole days.');
	await expect(days).toHaveValue('soo');
	await days.press('ControlOrMeta+a');
	await page.keyboard.type('12', { delay: 30 });
	await page.getByLabel('Days, step 3').fill('1');
	await page.getByRole('button', { name: 'Save the plan' }).press('Enter');
	await expect(page.getByRole('listitem').filter({ has: page.getByLabel('Days, step 3') })).toContainText('This is not later than a step before it.');
	await page.getByLabel('Days, step 3').fill('3');

	// saved, it is there after a reload; the forecast follows
	await typeIn(page.getByLabel('Name of the plan'), 'Gentle, then a call');
	await expect(page.getByText('This is not later than a step before it.')).toHaveCount(0);
	await page.getByRole('button', { name: 'Save the plan' }).press('Enter');
	await expect(ahead).toContainText('It is saved.');
	await page.reload();
	await awake(page);
	await expect(page.getByLabel('Name of the plan')).toHaveValue('Gentle, then a call');
	await expect(page.getByLabel('Days, step 5')).toHaveValue('12');
	await page.goto('/desk/almanac');
	await expect(page.getByText('a call').first()).toBeVisible();

	// a new one, by keyboard; leaving it unsaved asks first
	await page.goto('/desk/library/plans/new');
	await awake(page);
	await typeIn(page.getByLabel('Name of the plan'), 'Every Monday');
	await page.getByRole('button', { name: 'weekly on …' }).press('Enter');
	await expect(page.getByLabel('Day of the week, step 2')).toBeFocused();
	await page.getByRole('button', { name: 'Take out step 1' }).press('Enter');
	await expect(page.getByRole('button', { name: 'Take out step 1' })).toBeFocused();
	page.once('dialog', (dialog) => void dialog.dismiss());
	await page.getByRole('link', { name: 'Chase plans', exact: true }).first().click();
	await expect(page.getByLabel('Name of the plan')).toHaveValue('Every Monday');
	await page.getByRole('button', { name: 'Save the plan' }).press('Enter');
	await page.waitForURL(/plans\/(?!new)/);
	await expect(page.getByLabel('Name of the plan')).toHaveValue('Every Monday');
	await expect(page.getByText('every Monday, at most 3 times')).toBeVisible();
	await page.getByRole('button', { name: 'Remove this plan' }).press('Enter');
	await page.waitForURL('**/desk/library/plans');
	await expect(page.getByText('Every Monday')).toHaveCount(0);
});

test('a call that a plan asks for: it stands in Rounds, is noted by keyboard, and its promise holds the reminders', async ({ page }) => {
	test.setTimeout(180_000);
	await signInAtDesk(page);
	const row = page.getByRole('link', { name: /call Leopold Vance/ });
	await row.focus();
	await page.keyboard.press('Enter');
	await expect(page.getByRole('heading', { name: 'Call Leopold Vance' })).toBeVisible();
	await expect(page.getByText('The last statement comes by post; he scans it on Friday.')).toBeVisible();
	await expectAccessible(page, 'a call');

	// typed, kept over a reload, and refused without the day
	await page.getByRole('textbox', { name: 'What was said' }).focus();
	await page.keyboard.type('He has it now, and sends it on Friday.', { delay: 10 });
	await page.reload();
	await awake(page);
	await expect(page.getByRole('textbox', { name: 'What was said' })).toHaveValue('He has it now, and sends it on Friday.');
	await page.getByLabel('Reached', { exact: true }).focus();
	await page.keyboard.press('ArrowDown');
	await expect(page.getByLabel('Promised it until …')).toBeChecked();
	await expect(page.getByText('Nobody reminds them before the business day after it.')).toBeVisible();
	await page.getByLabel('Until which day').fill('2026-05-08');
	await page.getByRole('button', { name: 'Note the call' }).dblclick();
	await expect(row).toHaveCount(0);
	await page.goto('/desk/almanac');
	await expect(page.getByRole('region', { name: 'Held back' }).getByRole('listitem').filter({ hasText: 'Leopold Vance' })).toContainText('promised');
	await page.goto('/desk/clients');
	await page
		.getByRole('link', { name: /Marrow & Thyme/ })
		.first()
		.click();
	await expect(page.getByText(/called Leopold Vance, promised until Fri 8 May/)).toBeVisible();
});

test('which reminders work: the figures, what they say, and the table as a file', async ({ page }) => {
	await signInAtDesk(page);
	await page.goto('/desk/almanac');
	await awake(page);
	await page.getByRole('link', { name: 'Which reminders work' }).focus();
	await page.keyboard.press('Enter');
	await expect(page.getByRole('heading', { name: 'Which reminders work' })).toBeVisible();
	await expect(page.getByText(/^Answered most: Gentle.*: 2 business days before it is due, /)).toBeVisible();
	await expectAccessible(page, 'which reminders work');
	const [file] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'Download the table' }).click()]);
	const rows = readFileSync(await file.path(), 'utf8')
		.trim()
		.split('\r\n');
	expect(rows[0]).toContain('Answered in the two days before');
	expect(rows.some((row) => /^step,"?Gentle/.test(row))).toBe(true);
	await page.goto('/desk/library/plans/usual');
	await expect(page.getByText(/answered within two days: \d+ %/).first()).toBeVisible();
});
