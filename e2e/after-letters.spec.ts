import { awake, expect, expectAccessible, phone, signInAtDesk, signInAtPortal, test, typeIn } from './product';

test.use({ file: 'after_letters' });

test('a letter goes first, the rest and a standing request wait for it and say so, and go once all have signed', async ({
	page,
	product,
	browser
}) => {
	test.setTimeout(240_000);
	await signInAtDesk(page);
	await page.goto('/desk/clients?search=gull');
	await page.getByRole('link', { name: 'Gull & String Kites' }).click();
	await page.getByRole('link', { name: 'Ask for something' }).click();
	await page.getByText('Taking on a company', { exact: true }).click();
	await awake(page);
	await typeIn(page.getByLabel('Monthly fee'), '$280');
	const later = page.getByLabel('by themselves, once all have signed');
	await page.getByLabel('with the letter').focus();
	await page.keyboard.press('ArrowDown');
	await expect(later).toBeChecked();
	await expect(page.getByText('The letter goes first, 11 more once all have signed')).toBeVisible();
	await expect(page.getByText('Until then they wait as a draft that you can change; Mara does not see them.')).toBeVisible();
	await expect(page.getByText('Saved as a draft.')).toBeVisible();
	await page.reload();
	await awake(page);
	await expect(later).toBeChecked();
	await expectAccessible(page, 'a letter that goes first');
	await page.getByRole('button', { name: 'Send the letter to Mara' }).click();
	await page.waitForURL(/clients\/[0-9a-f-]{36}$/);
	const client = page.url();

	// the record, the draft and the letter say what waits for what
	await expect(page.getByText('11 lines, goes by itself once “Engagement letter” is signed by all')).toBeVisible();
	await page.getByRole('link', { name: 'Getting started' }).last().click();
	await awake(page);
	await expect(page.getByRole('button', { name: 'Save', exact: true })).toBeEnabled();
	await expect(page.getByLabel('Words of the message')).toHaveText(/Thank you: the letter is signed by all/);
	await expectAccessible(page, 'a draft that waits');
	await page.getByRole('button', { name: 'Save', exact: true }).click();
	await page.waitForURL(client);

	await page.goto(`${client}/standing?empty`);
	await awake(page);
	await page.getByLabel('Engagement letter').check();
	await page.getByRole('button', { name: 'a paper', exact: true }).click();
	await page.keyboard.type('Sales report', { delay: 15 });
	await page.getByRole('button', { name: 'Set it up' }).click();
	await expect(page.getByText('Nothing appears until “Engagement letter” is signed by all; then it goes on by itself.')).toBeVisible();

	// until all have signed they see the letter and nothing else
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, 'mara@gullstring.example');
	const letter = mobile.getByRole('link', { name: /Engagement letter.*by/ }).first();
	await expect(letter).toBeVisible();
	await expect(mobile.getByText('Trial balance on the day we begin')).toHaveCount(0);
	await letter.click();
	await mobile.getByRole('checkbox').check();
	await mobile.getByRole('button', { name: 'Sign the letter' }).scrollIntoViewIfNeeded();
	await expect(mobile.getByText('You have reached the end of the letter.')).toBeVisible();
	await mobile.getByRole('button', { name: 'Sign the letter' }).click();
	await expect(mobile.getByText(/^You signed this letter on Monday 4 May/)).toBeVisible();
	await page.goto('/desk/rounds');
	await page.getByRole('link', { name: /Gull & String Kites Engagement letter, signed by Mara Whitlock/ }).click();
	await expect(page.getByText('This goes by itself once all have signed:')).toBeVisible();
	await expect(page.getByRole('link', { name: 'Papers for each month' })).toBeVisible();
	expect(await waiting(product, client)).toEqual([1, 1]);
	await page.getByRole('button', { name: 'Read and countersign …' }).click();
	await page.getByRole('button', { name: /^Sign “.*” as Odalys Fenwick$/ }).click();
	await expect(page.getByRole('dialog')).toHaveCount(0);
	await expect.poll(() => waiting(product, client), { timeout: 60_000 }).toEqual([0, 0]);
	await mobile.goto('/portal/pennywhistle-row');
	await expect(mobile.getByText('Trial balance on the day we begin').first()).toBeVisible();
	await mobile.context().close();
	await page.goto(`${client}/history`);
	await expect(page.getByText(/sent “Getting started”, which had waited: it was to go once “Engagement letter” is signed by all/)).toBeVisible();
});

/** How many drafts, and how many standing requests, wait for letters. */
async function waiting(
	product: { sql: { query(text: string, values: string[]): Promise<{ rows: { n: number }[] }> } },
	client: string
): Promise<number[]> {
	const { rows } = await product.sql.query(
		`select count(*)::int n from request_draft where after_letters <> '{}' and removed_at is null and client_id = $1
		union all select count(*)::int from recurring_request where after_letters <> '{}' and client_id = $1`,
		[client.split('/').at(-1)!]
	);
	return rows.map(({ n }) => n);
}

test('whoever signs second is told so in words that are typed for them', async ({ page, product }) => {
	test.setTimeout(120_000);
	await signInAtDesk(page);
	await page.goto('/desk/clients?search=ferry');
	await page.getByRole('link', { name: 'Ferry Café' }).click();
	await page.getByRole('link', { name: 'Ask for something' }).click();
	await page.getByText('Engagement letter with fees and payment').click();
	await awake(page);
	await page.getByText('Engagement letter', { exact: true }).first().click();
	await page.getByRole('button', { name: 'Change who signs' }).click();
	await page.getByRole('combobox', { name: 'Who is number 1' }).selectOption('first');
	await page.getByRole('button', { name: 'Add somebody' }).click();
	await page.getByRole('combobox', { name: 'Who is number 2' }).selectOption('second');
	const words = page.getByRole('button', { name: /^Message to/ });
	await expect(words).toHaveCount(1);
	await words.last().click();
	const field = page.getByRole('textbox', { name: /^What the message says to .* when it is their turn/ });
	await typeIn(field, 'Your name is the last one we need.');
	await expect(field).toBeFocused();
	await expect(field).toHaveText('Your name is the last one we need.');
	await expect(words.last()).toHaveText('their own message');
	await expectAccessible(page, 'words for one of those who sign');
	await expect(page.getByText('Saved as a draft.')).toBeVisible();
	await page.reload();
	await awake(page);
	await page.getByText('Engagement letter', { exact: true }).first().click();
	await page.getByRole('button', { name: 'Change who signs' }).click();
	await words.last().click();
	await expect(field).toHaveText('Your name is the last one we need.');
	const { rows } = await product.sql.query(`select content from request_draft where content::text like '%the last one we need%'`);
	expect(rows).toHaveLength(1);
});
