import { awake, expect, expectAccessible, mailTo, signInAtDesk, signInAtPortal, test, phone } from './product';

test.use({ file: 'told' });

test('what one is told is chosen by keyboard, and comes: at once what was wished at once, the rest with what waits in the summary', async ({
	page,
	browser,
	product
}) => {
	test.setTimeout(240_000);
	await signInAtDesk(page);
	await page.getByText('Odalys', { exact: true }).click();
	await page.getByRole('link', { name: 'What you are told' }).click();
	await expect(page.getByRole('heading', { name: 'What you are told' })).toBeVisible();
	await awake(page);
	await expect(page.getByText('It goes Tue 5 May 08:00. If it went now, it would say this.')).toBeVisible();
	const letter = page.getByRole('complementary', { name: 'The next summary' });
	await expect(letter.getByText('Waiting in Rounds')).toBeVisible();
	await expectAccessible(page, 'what one is told');

	// time and kinds by keyboard alone
	await page.getByLabel('Time').focus();
	await page.keyboard.press('ArrowDown');
	await expect(page.getByLabel('Time')).toHaveValue('08:30');
	const atOnce = page.getByLabel('Somebody wrote to us or asked something: at once');
	await page.getByLabel('Somebody wrote to us or asked something: in the summary').focus();
	await page.keyboard.press('ArrowLeft');
	await expect(atOnce).toBeChecked();
	await expect(atOnce).toBeFocused();
	await page.keyboard.press('Enter');
	await expect(page.getByRole('status')).toHaveText('Saved. From now on you are told like this.');
	await expect(page.getByText('It goes Tue 5 May 08:30.')).toBeVisible();
	await page.reload();
	await awake(page);
	await expect(page.getByLabel('Time')).toHaveValue('08:30');
	await expect(atOnce).toBeChecked();

	// without a summary it is said what is lost; not saved, it stays as it was
	await page.getByLabel('A summary').focus();
	await page.keyboard.press('n');
	await expect(page.getByText('Without a summary, what is chosen for it is not sent.')).toBeVisible();
	await expect(page.getByLabel('Time')).toBeHidden();
	await page.goto('/desk/rounds');
	await page.goBack();
	await awake(page);
	await expect(page.getByLabel('A summary')).toHaveValue('daily');

	// a client writes; what colleagues do is no news
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, 'mara@gullstring.example');
	await mobile.goto('/portal/pennywhistle-row/words');
	await mobile.waitForLoadState('networkidle');
	const field = mobile.getByLabel('Write to Pennywhistle Row Bookkeeping');
	await field.click();
	await field.pressSequentially('The landlord has the lease.');
	await mobile.getByRole('button', { name: 'Send it' }).click();
	await expect(mobile.getByRole('listitem').filter({ hasText: 'The landlord has the lease.' })).toBeVisible();
	await page.goto('/desk/rounds');
	await awake(page);
	await page.getByRole('button', { name: /Mon 4 May/ }).click();
	await page.getByRole('button', { name: 'One hour' }).click();
	await expect(page.getByRole('dialog', { name: /Move the demo/ })).toBeHidden({ timeout: 60_000 });
	// what ran out that morning is told at once as well, in another mail or in this one
	const saying = async (kind: string) =>
		(
			await product.sql.query(
				`select state from message where kind = $1 and to_address = 'odalys@pennywhistle.example' and content::text like '%Mara Whitlock wrote: “The landlord has the lease.”%'`,
				[kind]
			)
		).rows;
	await expect.poll(() => saying('told_at_once'), { timeout: 30_000 }).toEqual([{ state: 'sent' }]);
	expect(await mailTo(product, 'odalys@pennywhistle.example', 'told_at_once')).toContain('/desk/told');

	// then one summary a business day, which has it no more, and says what waits
	await page.getByRole('button', { name: /Mon 4 May/ }).click();
	await page.getByRole('button', { name: 'One week' }).click();
	await expect(page.getByRole('dialog', { name: /Move the demo/ })).toBeHidden({ timeout: 90_000 });
	const { rows } = await product.sql.query<{ subject: string; body_text: string }>(
		`select subject, body_text from message where kind = 'summary' and to_address = 'odalys@pennywhistle.example' and state = 'sent' and planned_at > '2026-05-04T13:00:00Z' order by planned_at`
	);
	expect(rows.map(({ subject }) => subject.split(':')[0])).toEqual(['Tue 5 May', 'Wed 6 May', 'Thu 7 May', 'Fri 8 May', 'Mon 11 May']);
	const summary = await mailTo(product, 'odalys@pennywhistle.example', 'summary');
	expect(summary).toContain('Wrote to you: ');
	expect(await saying('summary')).toEqual([]);
	expect(rows[0].body_text).not.toContain('Wrote to you');

	// a client of whom one does not want to hear is said at the client, and can be taken back in the list
	const client = (await product.sql.query<{ id: string }>(`select id from client where name = 'Gull & String Kites'`)).rows[0].id;
	await page.goto(`/desk/clients/${client}`);
	await awake(page);
	await expect(page.getByText('You are e-mailed about this client.')).toBeVisible();
	await page.getByRole('button', { name: 'Leave it out' }).press('Enter');
	await expect(page.getByText('You are not e-mailed about this client.')).toBeVisible();
	await page.goto('/desk/told');
	await awake(page);
	await expect(page.getByText('you are not e-mailed about it')).toBeVisible();
	await page.getByRole('button', { name: 'Like other clients: Gull & String Kites' }).press('Enter');
	await expect(page.getByText('you are not e-mailed about it')).toBeHidden();
	await mobile.context().close();
});

test('an administrator says what is usual; everybody sees how everybody is told, and colleagues cannot change it', async ({ page, browser }) => {
	test.setTimeout(120_000);
	await signInAtDesk(page, 'tamsin');
	await page.goto('/desk/firm');
	await page.getByRole('link', { name: 'What they are told by e-mail' }).click();
	await expect(page.getByRole('heading', { name: 'What your people are told' })).toBeVisible();
	await awake(page);
	await expect(page.getByRole('listitem').filter({ hasText: 'Odalys Fenwick' })).toContainText('chose it themselves');
	await expect(page.getByRole('listitem').filter({ hasText: 'Imre Lockhart' })).toContainText('nothing by e-mail');
	await page.getByLabel('A summary').focus();
	await page.keyboard.press('o');
	await expect(page.getByLabel('A summary')).toHaveValue('daily');
	await page.getByLabel('Time').focus();
	await page.keyboard.press('ArrowDown');
	await page.getByRole('button', { name: 'Save' }).press('Enter');
	await expect(page.getByRole('status')).toHaveText('Saved. This is usual from now on.');
	await expect(page.getByRole('listitem').filter({ hasText: 'Imre Lockhart' })).toContainText('a summary on business days at 08:30');
	await expect(page.getByRole('listitem').filter({ hasText: 'Odalys Fenwick' })).toContainText('08:');
	await expectAccessible(page, 'what the firm’s people are told');

	const colleague = await browser.newPage();
	await signInAtDesk(colleague, 'imre');
	await colleague.goto('/desk/firm/told');
	await awake(colleague);
	await expect(colleague.getByText('An administrator of the firm can change what is usual.')).toBeVisible();
	await expect(colleague.getByLabel('A summary')).toHaveCount(0);
	await colleague.goto('/desk/told');
	await awake(colleague);
	await expect(colleague.getByText('This is how the firm usually tells its people')).toBeVisible();
	await expect(colleague.getByLabel('Time')).toHaveValue('08:30');
	// a choice of one's own, and back to what is usual
	await colleague.getByLabel('Time').focus();
	await colleague.keyboard.press('ArrowDown');
	await colleague.getByRole('button', { name: 'Save' }).press('Enter');
	await expect(colleague.getByText('You chose this yourself.')).toBeVisible();
	await expect(colleague.getByRole('status')).toHaveText('Saved. From now on you are told like this.');
	await colleague.getByRole('button', { name: 'Be told as is usual in the firm' }).press('Enter');
	await expect(colleague.getByText('This is how the firm usually tells its people')).toBeVisible();
	await expect(colleague.getByLabel('Time')).toHaveValue('08:30');
	await colleague.close();
});

test('what is due stands in one’s own calendar, under an address that is made, replaced and ended', async ({ page, playwright, product }) => {
	test.setTimeout(120_000);
	await signInAtDesk(page);
	await page.goto('/desk/told');
	await awake(page);
	await page.getByRole('button', { name: 'Make an address' }).press('Enter');
	const field = page.getByLabel('Address of your calendar', { exact: true });
	await expect(field).toHaveValue(/\/calendar\/[\w-]{43}\.ics$/);
	const first = await field.inputValue();
	// as a calendar program reads it: without a session, and not anew while nothing changed
	const program = await playwright.request.newContext({ baseURL: product.origin });
	const read = await program.get(new URL(first).pathname);
	expect(read.headers()['content-type']).toBe('text/calendar; charset=utf-8');
	const text = await read.text();
	expect(text).toMatch(/things are due/);
	expect((await program.get(new URL(first).pathname, { headers: { 'if-none-match': read.headers().etag } })).status()).toBe(304);
	await page.getByRole('button', { name: 'Make another address; this one ends' }).press('Enter');
	await expect(field).not.toHaveValue(first);
	const second = await field.inputValue();
	expect((await program.get(new URL(first).pathname)).status()).toBe(404);
	await page.reload();
	await awake(page);
	await expect(field).toHaveValue(second);
	await page.getByRole('button', { name: 'End this address' }).press('Enter');
	await expect(field).toBeHidden();
	expect((await program.get(new URL(second).pathname)).status()).toBe(404);
	expect((await program.get('/calendar/nothing.ics')).status()).toBe(404);
	await program.dispose();
});
