import { awake, expect, expectAccessible, signInAtDesk, test } from './product';

test.use({ file: 'facts' });

test('the firm defines a fact, says it of a client, and the client corrects and confirms it', async ({ page, product }) => {
	test.setTimeout(120_000);
	await signInAtDesk(page, 'odalys');
	await page.goto('/desk/library/facts');
	await awake(page);
	await expectAccessible(page, 'the facts');

	// written like a line; the kind is told from the words, the field stays for the next one
	await page.getByLabel('add', { exact: true }).click();
	await page.keyboard.type('Number of delivery vans');
	await page.keyboard.press('Enter');
	const vans = page.getByRole('button', { name: /Number of delivery vans/ });
	await expect(vans).toContainText('number');
	await page.keyboard.type('Kinds of cheese');
	await page.keyboard.press('Enter');
	const cheese = page.getByRole('button', { name: /Kinds of cheese/ });
	await expect(cheese).toContainText('words');

	// opened in place, given choices, one of which is called otherwise later
	await cheese.click();
	await page.getByLabel('Written down as').selectOption('several of');
	await page.getByLabel('Choices, one a line').click();
	await page.keyboard.type('blue\nhard\nsoft');
	await page.getByLabel('months').click();
	await page.keyboard.type('12');
	await expectAccessible(page, 'a fact that is open');
	await page.getByRole('button', { name: 'Save', exact: true }).click();
	await expect(cheese).toContainText('blue, hard, soft');
	await expect(cheese).toContainText('confirmed every 12 months');
	// a name that is taken is said at its field, and what was typed stays
	await vans.click();
	await page.getByLabel('What it is called').click();
	await page.keyboard.press('Control+A');
	await page.keyboard.type('Kinds of Cheese');
	await page.getByRole('button', { name: 'Save', exact: true }).click();
	await expect(page.getByText('Another fact is called so.')).toBeVisible();
	await expect(page.getByLabel('What it is called')).toHaveValue('Kinds of Cheese');
	await page.getByRole('button', { name: 'Cancel', exact: true }).click();
	// moved by keyboard, and still so after loading again
	await cheese.focus();
	await page.keyboard.press('Alt+ArrowUp');
	const rows = page.locator('button.kind-row b');
	await expect.poll(async () => (await rows.allTextContents()).slice(-2)).toEqual(['Kinds of cheese', 'Number of delivery vans']);
	await expect(cheese).toBeFocused();
	await page.reload();
	await awake(page);
	expect((await rows.allTextContents()).slice(-2)).toEqual(['Kinds of cheese', 'Number of delivery vans']);

	// said of a client in the record
	const { rows: clients } = await product.sql.query<{ id: string }>(`select id from client where name = 'Gull & String Kites'`);
	await page.goto(`/desk/clients/${clients[0].id}`);
	await awake(page);
	await page.getByRole('button', { name: /known/ }).first().click();
	await page.getByRole('button', { name: 'Kinds of cheese', exact: true }).click();
	await page.getByRole('checkbox', { name: 'blue' }).press('Space');
	await page.getByRole('checkbox', { name: 'soft' }).press('Space');
	await page.getByRole('button', { name: 'Add it' }).click();
	await expect(page.getByText('blue, soft')).toBeVisible();
	await page.getByRole('button', { name: 'Directors', exact: true }).click();
	await page.keyboard.type('Mara Whitlock');
	await page.keyboard.press('Tab');
	await page.keyboard.type('sixty');
	await page.getByRole('button', { name: 'Add it' }).click();
	await expect(page.getByRole('alert')).toContainText('Row 1, Share: Please write a number.');
	await expect(page.getByLabel('Name')).toHaveValue('Mara Whitlock');
	await page.getByLabel('Share').click();
	await page.keyboard.press('Control+A');
	await page.keyboard.type('60');
	await page.getByRole('button', { name: 'Add it' }).click();
	await expect(page.getByText('Mara Whitlock, 60 %')).toBeVisible();

	// a secret is shown on asking, and the history says who looked
	await expect(page.getByText('046-454-286')).toHaveCount(0);
	await page.getByRole('button', { name: 'Show Social insurance number' }).click();
	await expect(page.getByText('046-454-286')).toBeVisible();
	await page.goto(`/desk/clients/${clients[0].id}/history`);
	await expect(page.getByText('looked at the social insurance number, which is kept secret')).toBeVisible();

	// the client sees what they may, and says that it is still right
	await product.sql.query(`update fact set said_at = said_at - interval '13 months' where name = 'kinds_of_cheese'`);
	await page.goto('/portal/pennywhistle-row/sign-in');
	await page.getByLabel('E-mail').fill('mara@gullstring.example');
	await page.getByLabel('Password', { exact: true }).fill('kites above the harbour');
	await page.getByRole('button', { name: 'Sign in', exact: true }).click();
	await page.waitForURL('**/portal/pennywhistle-row');
	await page.goto('/portal/pennywhistle-row/facts');
	await expectAccessible(page, 'what we know about you');
	await expect(page.getByText('Social insurance number')).toHaveCount(0);
	await expect(page.getByText('Is this still right?')).toHaveCount(1);
	await page.getByRole('button', { name: 'Yes, it is: Kinds of cheese' }).click();
	await expect(page.getByText('Is this still right?')).toHaveCount(0);
	await page.getByRole('button', { name: 'Correct it: Kinds of cheese' }).click();
	await page.getByRole('checkbox', { name: 'hard' }).press('Space');
	await page.getByRole('button', { name: 'Save' }).click();
	await expect(page.getByText('blue, hard, soft')).toBeVisible();
});

test('two facts are one: merged with a look at what changes, and a list goes by the other name', async ({ page, product }) => {
	test.setTimeout(120_000);
	await signInAtDesk(page, 'odalys');
	await page.goto('/desk/library/facts');
	await awake(page);
	await page.getByLabel('add', { exact: true }).click();
	await page.keyboard.type('Programme they use');
	await page.keyboard.press('Enter');
	const old = page.getByRole('button', { name: /Programme they use/ });
	await expect(old).toBeVisible();
	const { rows: clients } = await product.sql.query<{ id: string }>(`select id from client where name = 'Foxglove Boatyard'`);
	await page.goto(`/desk/clients/${clients[0].id}`);
	await awake(page);
	await page.getByRole('button', { name: /known/ }).first().click();
	await page.getByRole('button', { name: 'Programme they use', exact: true }).click();
	await page.keyboard.type('Tidebook');
	await page.getByRole('button', { name: 'Add it' }).click();
	await expect(page.getByText('Tidebook')).toBeVisible();

	await page.goto('/desk/library/facts');
	await awake(page);
	await old.click();
	await page.getByLabel('Merge it into').selectOption('Legal form');
	await expect(page.getByRole('alert')).toContainText('not written down in the same way');
	await page.getByLabel('Merge it into').selectOption('Connected software');
	await expect(page.getByText('What is known of one client moves over.')).toBeVisible();
	await page.getByRole('button', { name: 'Merge them' }).click();
	await expect(old).toHaveCount(0);
	await expect(page.getByRole('button', { name: /Connected software/ })).toContainText('known of 3 clients');
	// retired, and taken up again
	const software = page.getByRole('button', { name: /Connected software/ });
	await software.click();
	await page.getByRole('button', { name: /^Retire it/ }).click();
	await expect(page.getByRole('heading', { name: 'No longer asked' })).toBeVisible();
	await software.click();
	await page.getByRole('button', { name: 'Ask for it again' }).click();
	await expect(page.getByRole('heading', { name: 'No longer asked' })).toHaveCount(0);
});
