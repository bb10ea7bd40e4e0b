import { beginLetterToNewClient, codeIn, linkIn, signOpenLetter } from './letter-by-link';
import { awake, expect, expectAccessible, mailTo, phone, test, typeIn } from './product';

test.use({ file: 'outside_signer' });

test('somebody outside the client is named while the letter is written, signs it by their link, and sees nothing else', async ({
	page,
	product,
	browser
}) => {
	test.setTimeout(240_000);
	const client = await beginLetterToNewClient(page);
	await page.getByRole('combobox', { name: 'How whoever gets this request comes to it' }).selectOption('link');
	await page.getByRole('button', { name: 'Add somebody' }).click();
	await page.getByRole('combobox', { name: 'Who is number 2' }).focus();
	await page.keyboard.type('somebody outside');
	await expect(page.getByText('Somebody outside the client has no name yet. Say who it is.')).toBeVisible();
	// whoever goes through the menu with the arrow keys stays in it; the return key adds and sends nothing
	await expect(page.getByRole('combobox', { name: 'Who is number 2' })).toBeFocused();
	await page.getByLabel('Their name').focus();
	await page.keyboard.type('Edda Lorne', { delay: 15 });
	await page.keyboard.press('Enter');
	await expect(page.getByText('Please write an e-mail address.')).toBeVisible();
	await expect(page.getByLabel('Their name')).toHaveValue('Edda Lorne');
	await expect(page.getByLabel('E-mail address', { exact: true })).toBeFocused();
	await page.keyboard.type('mara@gullstring.example', { delay: 10 });
	await page.keyboard.press('Enter');
	await expect(page.getByRole('button', { name: 'Mara Whitlock signs' })).toBeVisible();
	await typeIn(page.getByLabel('E-mail address', { exact: true }), 'edda@guarantor.example');
	await expectAccessible(page, 'naming somebody outside');
	await expect(page.getByLabel('Reads the letter’s page and messages in')).toHaveValue('en');
	await page.getByRole('button', { name: 'Add them' }).click();
	await expect(page.getByText('Edda Lorne, who is not of the client, signs by a link of their own and a code by e-mail.')).toBeVisible();
	await expect(page.getByText('Then Edda Lorne signs.')).toBeVisible();
	await expect(page.getByText('has no name yet')).toHaveCount(0);
	const way = page.getByRole('combobox', { name: 'How Edda Lorne comes to it' });
	await expect(way.locator('option')).toHaveCount(4);
	await way.selectOption('link');
	await expect(
		page.getByText('Edda Lorne, who is not of the client, signs by a link of their own alone: whoever has the link can sign.')
	).toBeVisible();
	// what else was typed is still there
	await expect(page.getByLabel('Monthly fee')).toHaveValue('$280');
	await page.getByLabel('by themselves, once all have signed').check();
	await expect(page.getByText('Saved as a draft.')).toBeVisible();
	await page.reload();
	await awake(page);
	await page.getByText('Engagement letter', { exact: true }).first().click();
	await expect(page.getByText('Then Edda Lorne signs.')).toBeVisible();
	await page.getByRole('button', { name: 'Send the letter to Ines' }).click();
	await page.waitForURL(client);

	const first = await phone(browser, product.origin);
	await first.goto(linkIn(await mailTo(product, 'ines@ninthrock.example', 'request')));
	await first.getByRole('button', { name: 'Open the letter' }).click();
	await expect(first.getByText('$280').first()).toBeVisible();
	await signOpenLetter(first);

	const mail = await mailTo(product, 'edda@guarantor.example', 'request');
	expect(mail).toContain('Ines Brandt');
	expect(mail).not.toMatch(/\/join\/|\/item\//);
	// thought better of: what they came by is changed at the desk, and the same link asks for a code
	const { rows } = await product.sql.query<{ item_id: string }>(`select item_id from letter_signer where name = 'Edda Lorne'`);
	await page.goto(`/desk/items/${rows[0].item_id}`);
	await awake(page);
	await page.getByRole('button', { name: 'Another way for Edda Lorne' }).click();
	await page.getByLabel('How Edda Lorne comes to it').selectOption('link_mail');
	await expectAccessible(page, 'another way to a letter');
	await page.getByRole('button', { name: 'Change it' }).click();
	await expect(page.getByText('is asked to sign by a link of their own and a code by e-mail')).toBeVisible();
	const mobile = await phone(browser, product.origin);
	await mobile.goto(linkIn(mail));
	await mobile.getByRole('button', { name: 'Send me the code' }).click();
	await typeIn(mobile.getByLabel('The code, eight digits'), codeIn(await mailTo(product, 'edda@guarantor.example', 'letter_code')));
	await mobile.keyboard.press('Enter');
	await expect(mobile.getByRole('heading', { name: 'Engagement letter', level: 1 })).toBeFocused();
	await mobile.getByText('Ask about this').click();
	await typeIn(mobile.getByLabel('Your question or remark'), 'For how long am I bound?');
	await mobile.getByRole('button', { name: 'Send it' }).click();
	await expect(mobile.getByText('For how long am I bound?', { exact: true })).toBeVisible();
	// of the portal nothing is theirs
	for (const path of ['', '/papers', '/you']) {
		const beside = await mobile.request.get(`/portal/pennywhistle-row${path}`, { maxRedirects: 0, headers: { accept: 'text/html' } });
		expect(beside.status(), path).toBe(303);
	}
	await signOpenLetter(mobile);
	await expectAccessible(mobile, 'signed from outside');

	await page.goto(client);
	await expect(page.getByText('from outside, for its letters')).toBeVisible();
	await page.getByRole('button', { name: 'change: people' }).click();
	await expect(page.getByText('has signed one letter')).toBeVisible();
	await page.getByRole('link', { name: 'Edda Lorne in People' }).click();
	await expect(page.getByRole('listitem').filter({ hasText: 'Edda Lorne' })).toContainText('for letters of Ninth Rock Oysters');
});
