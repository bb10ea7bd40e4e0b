import { awake, expect, expectAccessible, mailTo, signInAtDesk, test } from './product';

test.use({ file: 'library' });

test('a text is copied, changed with chips, shared with a group, put into use, and chosen where it is needed', async ({ page, product }) => {
	test.setTimeout(120_000);
	await signInAtDesk(page, 'tamsin');
	await page.goto('/desk/firm/people');
	await awake(page);
	await page.getByRole('button', { name: 'Add a group …' }).click();
	await page.getByLabel('Name of the group').fill('Taking on');
	await page.getByRole('checkbox', { name: 'Odalys Fenwick' }).check();
	await page.getByRole('button', { name: 'Add the group' }).click();
	await expect(page.getByRole('button', { name: 'Change Taking on' })).toBeVisible();
	await expectAccessible(page, 'groups');

	await page.keyboard.press('Escape');
	await page.goto('/desk/library');
	await awake(page);
	await expectAccessible(page, 'the Library');
	await page.getByText('A new way of handing papers in').click();
	await page.getByRole('button', { name: 'Copy it, to make it ours' }).click();
	await expect(page.getByRole('textbox', { name: 'Words' })).toContainText('Client name');
	await expectAccessible(page, 'a text of the Library');
	// a field is a chip: it goes as one character, and a typed one becomes one
	const words = page.getByRole('textbox', { name: 'Words' });
	await words.click();
	await page.keyboard.press('Control+End');
	await page.keyboard.type(' {contact_name}');
	await expect(words.locator('.merge-chip', { hasText: 'Contact name' })).toHaveCount(1);
	await page.keyboard.press('Backspace');
	await expect(words.locator('.merge-chip', { hasText: 'Contact name' })).toHaveCount(0);
	await page.keyboard.type('Yours, {start_date}');
	await page.getByLabel('Name').fill('Moving over');
	await page.getByLabel('Shared with').selectOption('a group');
	await page.getByRole('button', { name: 'Save the text' }).click();
	await expect(page.getByText('This cannot be filled here: Start date.').first()).toBeVisible();
	await words.click();
	await page.keyboard.press('Control+End');
	// what is typed behind the chip first, so that the next one deletes it and does not take back its becoming one
	await page.keyboard.type('!');
	await page.keyboard.press('Backspace');
	await page.keyboard.press('Backspace');
	await expect(words.locator('.merge-chip', { hasText: 'Start date' })).toHaveCount(0);
	await page.getByRole('button', { name: 'Save the text' }).click();
	await expect(page.locator('a[data-row]', { hasText: 'Moving over' })).toContainText('Taking on');

	// somebody outside the group does not see it; who is in it chooses it, and what is unknown is named before sending
	await page.getByLabel('You and this desk').click();
	await page.getByRole('button', { name: 'Sign out', exact: true }).click();
	await signInAtDesk(page, 'imre');
	await page.goto('/desk/library');
	await expect(page.getByText('Before the busy season')).toBeVisible();
	await expect(page.getByText('Moving over')).toHaveCount(0);
	await page.getByLabel('You and this desk').click();
	await page.getByRole('button', { name: 'Sign out', exact: true }).click();
	await signInAtDesk(page, 'odalys');
	const { rows } = await product.sql.query(`select id from client where name = 'Otter & Oak Toys'`);
	await page.goto(`/desk/clients/${rows[0].id}`);
	await awake(page);
	await page.getByRole('button', { name: 'Send again …' }).click();
	await page.getByLabel('From the Library').selectOption('Moving over');
	const body = page.getByRole('textbox', { name: 'Words', exact: true });
	await expect(body).toContainText('From now on');
	await body.click();
	await page.keyboard.press('Control+Home');
	await page.keyboard.type('{monthly_fee} ');
	await page.getByRole('button', { name: 'Send the invitation' }).click();
	await expect(page.getByRole('alert')).toContainText('There is nothing to put in for: Monthly fee');
	await body.click();
	await page.keyboard.press('Control+Home');
	await page.keyboard.press('Delete');
	await page.getByRole('button', { name: 'Send the invitation' }).click();
	await expect(body).toBeHidden();
	const mail = await mailTo(product, 'clementine@otteroak.example', 'invitation');
	expect(mail).toContain('Everything we need for Otter & Oak Toys is on a private page');
	expect(mail).not.toContain('{');

	// one that goes out by itself
	await page.goto('/desk/library/ready/thanks');
	await awake(page);
	await page.getByRole('button', { name: 'Copy it, to make it ours' }).click();
	await page.getByRole('button', { name: 'Use it automatically' }).click();
	await expect(page.getByText('Used automatically, instead of')).toBeVisible();
	await page.getByRole('button', { name: 'Remove it from the Library …' }).click();
	await page.getByRole('button', { name: 'Remove it', exact: true }).click();
	await expect(page.getByRole('alert')).toContainText('Stop using it first');
});
