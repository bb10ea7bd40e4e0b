import { awake, expect, expectAccessible, phone, signInAtDesk, signInAtPortal, test, typeIn } from './product';

test.use({ file: 'record' });

test('the record of a client: found from the keyboard, people, facts, engagement and note written down', async ({ page }) => {
	test.setTimeout(120_000);
	await signInAtDesk(page);
	// found by a part of the phone number, without a mouse
	await page.keyboard.press('/');
	await page.keyboard.type('555-0103');
	await expect(page.getByRole('option', { name: /Dr\. Pell.*\(902\) 555-0103/ })).toBeVisible();
	await expectAccessible(page, 'finding');
	await page.keyboard.press('ArrowDown');
	await page.keyboard.press('Enter');
	await expect(page.getByRole('heading', { name: 'Dr. Pell, Travelling Vet' })).toBeVisible();

	await page.getByRole('button', { name: 'change: people' }).click();
	await page.getByRole('button', { name: 'Add a person …' }).click();
	await typeIn(page.getByLabel('Name', { exact: true }), 'Tilda Pell');
	await typeIn(page.getByLabel('E-mail address'), 'mara@gullstring.example');
	await typeIn(page.getByLabel('Phone'), '12');
	await expect(page.getByText('has this address and belongs to Gull & String Kites')).toBeVisible();
	await typeIn(page.getByLabel('E-mail address'), 'tilda@pellvet.example');
	await page.getByRole('button', { name: 'Add the person' }).click();
	await expect(page.locator('.field-problem')).toContainText('does not look like a phone number');
	await typeIn(page.getByLabel('Phone'), '902 555 0188');
	await typeIn(page.getByLabel('Role at this client'), 'looks after the papers');
	await page.getByRole('button', { name: 'Add the person' }).click();
	await expect(page.getByText('tilda@pellvet.example · (902) 555-0188')).toBeVisible();
	await expect(page.getByText('Not invited yet.')).toBeVisible();

	await page.getByRole('button', { name: 'change: known' }).click();
	await page.getByRole('button', { name: 'Correct Method' }).click();
	await page.getByRole('combobox', { name: /Method/ }).selectOption('accrual');
	await page.getByRole('button', { name: 'Save the correction' }).click();
	await expect(page.getByText('before: cash (Odalys Fenwick, 15 April 2026)')).toBeVisible();
	await page.getByRole('button', { name: 'Employees' }).click();
	await typeIn(page.getByRole('textbox', { name: 'Employees' }), '3');
	await page.getByRole('button', { name: 'Add it' }).click();
	await expect(page.getByRole('button', { name: 'Correct Employees' })).toBeVisible();

	await page.getByRole('button', { name: 'change: what we do' }).click();
	await page.getByRole('button', { name: 'Add an engagement …' }).click();
	await typeIn(page.getByLabel('What it is'), 'Clean-up of 2025');
	await page.getByLabel('Clean-up of past months').check();
	await page.getByRole('button', { name: 'Add the engagement' }).click();
	await expect(page.getByText('Clean-up of 2025').first()).toBeVisible();
	await expect(page.getByText('Clean-up of past months', { exact: true })).toBeVisible();

	await page.getByRole('button', { name: /^(show|write a note): talk/ }).click();
	await typeIn(page.getByLabel('A note only we read', { exact: true }), 'Drives all day; write, do not ring.');
	await page.getByRole('button', { name: /^Keep the note/ }).click();
	await expect(page.getByText('Drives all day')).toBeVisible();
	await expect(page.getByLabel('A note only we read', { exact: true })).toHaveValue('');
	await expectAccessible(page, 'the whole record');
	// found by what it was asked for, and something done for a client from the keyboard
	await page.keyboard.press('Control+k');
	await page.keyboard.type('gull tax number');
	await expect(page.getByRole('option', { name: /Your sales tax number.*Gull & String Kites/ })).toBeVisible();
	await expectAccessible(page, 'finding or doing');
	await page.keyboard.press('Control+a');
	await page.keyboard.type('ask gull');
	await expect(page.getByRole('option', { name: 'Ask Gull & String Kites for something' })).toBeVisible();
	await page.keyboard.press('ArrowDown');
	await page.keyboard.press('Enter');
	await expect(page).toHaveURL(/\/ask$/);
	await page.goBack();
	await expect(page.getByRole('heading', { name: 'Dr. Pell, Travelling Vet' })).toBeVisible();
	// opened last is offered without a word
	await page.keyboard.press('Control+k');
	await expect(page.getByRole('option', { name: 'Dr. Pell, Travelling Vet' })).toBeVisible();
});

test('a double is merged field by field, and unmerged', async ({ page }) => {
	test.setTimeout(120_000);
	await signInAtDesk(page);
	await page.goto('/desk/clients/new');
	await typeIn(page.getByLabel('Name of the client'), 'Dr Pell Travelling Vets');
	await expect(page.getByText(/similar name|same name/).first()).toBeVisible();
	await typeIn(page.getByLabel('Name', { exact: true }), 'Aurel Pell');
	await typeIn(page.getByLabel('E-mail address'), 'second@pellvet.example');
	await page.getByRole('button', { name: /Add the client/ }).click();
	await expect(page.getByRole('heading', { name: 'Dr Pell Travelling Vets' })).toBeVisible();
	await page.goto('/desk/clients?search=travelling');
	await page.getByRole('link', { name: 'Dr. Pell, Travelling Vet', exact: true }).click();
	await page.getByRole('button', { name: 'Change …', exact: true }).click();
	await page.getByRole('link', { name: 'Merge with another client …' }).click();
	await expect(page.getByText('has a name like it')).toBeVisible();
	await expectAccessible(page, 'choosing a double');
	await page.getByRole('link', { name: 'Dr Pell Travelling Vets' }).last().click();
	await expect(page.getByText('1 person of Dr Pell Travelling Vets move here.')).toBeVisible();
	await expectAccessible(page, 'merging field by field');
	await page.getByRole('radio', { name: 'Dr Pell Travelling Vets' }).check();
	await page.getByRole('button', { name: 'Merge into one client' }).click();
	await expect(page.getByRole('heading', { name: 'Dr Pell Travelling Vets' })).toBeVisible();
	await expect(page.getByText('second@pellvet.example')).toBeVisible();
	await page.getByRole('button', { name: 'Undo the merge' }).click();
	await expect(page.getByRole('heading', { name: 'Dr. Pell, Travelling Vet' })).toBeVisible();
	await expect(page.getByText('second@pellvet.example')).toHaveCount(0);
});

test('a client is locked: the portal only shows; it leaves, and comes back', async ({ page, browser, product }) => {
	test.setTimeout(120_000);
	await signInAtDesk(page);
	await page.goto('/desk/clients');
	await page.getByRole('link', { name: 'Saltgrass Bee Co-op' }).click();
	const move = async (what: string, act: string, reason: string) => {
		await page.getByRole('button', { name: 'Change …', exact: true }).click();
		await page.getByRole('button', { name: `${what} …` }).click();
		await typeIn(page.getByLabel(/Why\?/), reason);
		await page.getByRole('button', { name: act, exact: true }).click();
	};
	await move('Lock the client', 'Lock the client', '');
	await expect(page.getByRole('alert')).toContainText('Please write the reason.');
	await typeIn(page.getByLabel(/Why\?/), 'The committee is being elected anew.');
	await page.getByRole('button', { name: 'Lock the client', exact: true }).click();
	await expect(page.getByText('Locked since Mon 4 May')).toBeVisible();
	await expect(page.getByRole('link', { name: 'Ask for something' })).toHaveCount(0);
	await expect(page.getByRole('heading', { name: 'next', exact: true })).toHaveCount(0);

	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, 'nessa@saltgrassbees.example');
	await expect(mobile.getByText('That is everything for now. Thank you!')).toBeVisible();
	const { rows } = await product.sql.query(
		`select i.id from item i join client c on c.id = i.client_id where c.name = 'Saltgrass Bee Co-op' and i.state = 'asked' and i.kind = 'question' limit 1`
	);
	await mobile.goto(`/portal/pennywhistle-row/item/${rows[0].id}`);
	await expect(mobile.getByText('Nothing is asked of Saltgrass Bee Co-op at the moment.')).toBeVisible();
	await expect(mobile.getByRole('button', { name: 'Send the answer' })).toHaveCount(0);
	await expectAccessible(mobile, 'an item of a locked client');

	await move('End the work for this client', 'End the work for this client', 'They have merged with another co-op.');
	await expect(page.getByText('No longer a client since')).toBeVisible();
	await page.goto('/desk/clients');
	await expect(page.getByRole('link', { name: 'Saltgrass Bee Co-op' })).toHaveCount(0);
	await page.getByRole('link', { name: 'Former clients' }).click();
	await page.getByRole('link', { name: 'Saltgrass Bee Co-op' }).click();
	await move('Reopen the client', 'Reopen the client', 'The merger fell through.');
	await expect(page.getByRole('link', { name: 'Ask for something' })).toBeVisible();
	await mobile.reload();
	await expect(mobile.getByRole('button', { name: 'Send the answer' })).toBeVisible();
	await mobile.context().close();
});

test('a client puts right what the firm knows; the firm sees who said it; the part of the page is turned off', async ({ page, browser, product }) => {
	test.setTimeout(90_000);
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, 'mara@gullstring.example');
	await mobile.getByRole('link', { name: 'What we know about you' }).click();
	await expect(mobile.getByRole('heading', { name: 'What we know about you' })).toBeVisible();
	await expectAccessible(mobile, 'what is known about a client');
	await mobile.getByRole('button', { name: 'Correct it: Employees' }).click();
	await typeIn(mobile.getByLabel('Employees', { exact: true }), '1.5');
	await mobile.getByRole('button', { name: 'Save' }).click();
	await expect(mobile.getByRole('alert')).toContainText('whole number');
	await typeIn(mobile.getByLabel('Employees', { exact: true }), '3');
	await mobile.getByRole('button', { name: 'Save' }).click();
	await expect(mobile.getByText('said by Mara Whitlock, 4 May 2026')).toBeVisible();

	await signInAtDesk(page);
	const { rows } = await product.sql.query(`select id from client where name = 'Gull & String Kites'`);
	await page.goto(`/desk/clients/${rows[0].id}`);
	await awake(page);
	await page.getByRole('button', { name: 'change: known' }).click();
	await expect(page.getByText('Mara Whitlock, 4 May 2026')).toBeVisible();
	await page.getByRole('button', { name: 'Change …', exact: true }).first().click();
	await page.getByRole('button', { name: 'Brand and welcome …' }).click();
	await page.getByLabel('what the firm knows about them').selectOption('not shown');
	await page.getByRole('button', { name: 'Save brand and welcome' }).click();
	await expect(page.getByLabel('what the firm knows about them')).toBeHidden();

	// who may: closed to a bookkeeper, who then finds nothing
	await page.getByRole('button', { name: 'Change …', exact: true }).first().click();
	await page.getByRole('button', { name: 'Who has access …' }).click();
	await page.getByLabel('only for some').check();
	await page.getByLabel('Right of Solveig Marsh').selectOption('see');
	await expectAccessible(page, 'who may do what with a client');
	await page.getByRole('button', { name: 'Save the access' }).click();
	await expect(page.getByText('Only for some of us:')).toBeVisible();
	for (const [who, status] of [
		['imre', 404],
		['solveig', 200]
	] as const) {
		const other = await (await browser.newContext({ baseURL: product.origin })).newPage();
		await signInAtDesk(other, who);
		expect((await other.goto(`/desk/clients/${rows[0].id}`))!.status(), who).toBe(status);
		await other.context().close();
	}
	await mobile.goto('/portal/pennywhistle-row');
	await expect(mobile.getByText(/left\./)).toBeVisible();
	await expect(mobile.getByRole('link', { name: 'What we know about you' })).toHaveCount(0);
	await mobile.context().close();
});

test('the record opens line by line and stays so; a role that only looks is offered nothing to change; only mine stays with the person', async ({
	page,
	browser,
	product
}) => {
	test.setTimeout(120_000);
	await signInAtDesk(page);
	const { rows } = await product.sql.query(`select id from client where name = 'Brine & Barrow Oysters'`);
	await page.goto(`/desk/clients/${rows[0].id}`);
	await awake(page);
	await expect(page.getByText(/(is|are) late|still to come|is in/).first()).toBeVisible();
	await expect(page.getByRole('region', { name: 'to look at' }).getByRole('listitem').first()).toBeVisible();
	const close = page.getByRole('button', { name: 'close: known' });
	await page.getByRole('button', { name: 'change: known' }).focus();
	await page.keyboard.press('Enter');
	await expect(close).toBeVisible();
	await page.reload();
	await awake(page);
	await expect(close).toBeVisible();
	await page.getByRole('link', { name: 'Almanac' }).click();
	await expect(page.getByRole('heading', { name: 'Almanac' })).toBeVisible();
	await page.goBack();
	await expect(close).toBeVisible();
	await close.click();
	await expect(page.getByRole('button', { name: 'change: known' })).toBeFocused();

	await page.goto('/desk/rounds');
	await awake(page);
	const count = async () => Number(/\d+/.exec((await page.getByRole('link', { name: /^Rounds/ }).textContent())!)?.[0]);
	const all = await count();
	await page.getByRole('button', { name: 'Only mine' }).click();
	await expect(page.getByText('Only of the clients you look after.')).toBeVisible();
	expect(await count()).toBeLessThan(all);
	await page.reload();
	await expect(page.getByText('Only of the clients you look after.')).toBeVisible();
	await awake(page);
	await page.getByRole('button', { name: 'Everybody’s' }).click();
	await expect(page.getByText('Only of the clients you look after.')).toHaveCount(0);
	expect(await count()).toBe(all);

	const looks = await (await browser.newContext({ baseURL: product.origin })).newPage();
	await signInAtDesk(looks, 'bram');
	await looks.goto(`/desk/clients/${rows[0].id}`);
	await awake(looks);
	await expect(looks.getByRole('button', { name: 'show: people' })).toBeVisible();
	for (const name of [/^change:/, /^Change/, /^See the portal/, /write a note/]) await expect(looks.getByRole('button', { name })).toHaveCount(0);
	for (const name of ['Ask for something', 'Set up a standing request']) await expect(looks.getByRole('link', { name })).toHaveCount(0);
	for (const line of ['people', 'known', 'accounts', 'what we do', 'talk']) await looks.getByRole('button', { name: `show: ${line}` }).click();
	for (const name of [/Change/, /Correct/, /Add/, /Delete/, /Invite/, /End/]) await expect(looks.getByRole('button', { name })).toHaveCount(0);
	await expectAccessible(looks, 'a record that is only looked at');
});
