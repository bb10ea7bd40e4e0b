import { readdirSync } from 'node:fs';
import { awake, expect, expectAccessible, signInAtDesk, test } from './product';

test.use({ file: 'practice' });

test('practising: set up by one click, plainly different, nothing leaves, cleared with a count, and left', async ({ page, browser, product }) => {
	test.setTimeout(480_000);
	await signInAtDesk(page);
	const mails = () => readdirSync(product.env.MAIL_STANDIN_FOLDER).length;
	const before = mails();
	await page.getByLabel('You and this desk').click();
	await page.getByRole('link', { name: 'Practice workspace' }).click();
	await awake(page);
	await expectAccessible(page, 'practice, not set up');
	await page.getByRole('button', { name: 'Set it up with made-up clients' }).click();
	await expect(page.getByText('It is being filled')).toBeVisible();
	await expect(page.getByText(/There are .*11 clients/)).toBeVisible({ timeout: 240_000 });
	await page.getByRole('button', { name: 'Go to the practice workspace' }).click();
	await page.waitForURL('**/desk/rounds');
	await awake(page);
	await expect(page.getByRole('note')).toContainText('nothing leaves the building');
	await expectAccessible(page, 'Rounds in practice');

	// the whole of a message stays in its Postroom, its link too, and it stands there as arrived
	await page.goto('/desk/clients');
	await page
		.getByRole('link', { name: /Aster Dahl/ })
		.first()
		.click();
	await awake(page);
	await page.getByRole('button', { name: 'Send again …' }).click();
	await page.getByLabel('also by text message to Aster').check();
	await page.getByRole('button', { name: 'Send the invitation' }).click();
	await expect
		.poll(
			async () =>
				(
					await product.sql.query(
						`select count(*)::int n from message m join firm f on f.id = m.firm_id and f.practice_of_id is not null
		where m.kind = 'invitation' and m.state = 'sent' and m.planned_at > (select max(planned_at) - interval '1 minute' from message) and m.body_text ~ '/join/[A-Za-z0-9_-]{43}'`
					)
				).rows[0].n
		)
		.toBe(2);
	expect(mails()).toBe(before);

	// one's own sign-in and the firm's people are real, and not touched from here
	await page.goto('/desk/you');
	await expect(page).toHaveURL(/\/desk\/practice$/);
	const refused = await page.request.post('/desk/firm/people?/changeRole', {
		form: { staffId: 'x', role: 'filing' },
		headers: { origin: product.origin }
	});
	expect(refused.status()).toBe(403);
	// the cookie of the practice session alone opens nothing
	const cookie = (await page.context().cookies()).find((c) => c.name === 'lantern_practice')!;
	const thief = await browser.newContext({ baseURL: product.origin });
	await thief.addCookies([cookie]);
	const tried = await thief.request.get('/desk/rounds', { maxRedirects: 0 });
	expect([303, 401]).toContain(tried.status());
	await thief.close();

	await awake(page);
	await expectAccessible(page, 'clearing practice');
	await page.getByLabel('Clients and people').check();
	await expect(page.getByText(/11 clients and 1\d people will go, and that cannot be undone/)).toBeVisible();
	await expect(page.getByRole('button', { name: 'Clear it for good' })).toBeDisabled();
	await page.getByLabel(/I am sure/).check();
	await page.getByRole('button', { name: 'Clear it for good' }).click();
	await expect(page.getByText(/Odalys Fenwick:.*11 clients/)).toBeVisible();
	await expect(page.getByRole('button', { name: 'Fill it with made-up clients' })).toBeVisible();
	await page.getByRole('button', { name: 'Back to the real workspace' }).click();
	await page.waitForURL('**/desk/rounds');
	await expect(page.getByRole('note')).toHaveCount(0);
	await page.goto('/desk/clients');
	await expect(page.getByText('Jackdaw Joinery')).toBeVisible();

	// signing out from within practice ends the real session too
	await page.goto('/desk/practice');
	await awake(page);
	await page.getByRole('button', { name: 'Go to the practice workspace' }).click();
	await page.waitForURL('**/desk/rounds');
	const real = (await page.context().cookies()).filter((c) => c.name === 'lantern_desk');
	await page.getByLabel('You and this desk').click();
	await page.getByRole('button', { name: 'Sign out', exact: true }).click();
	await page.waitForURL('**/desk/sign-in');
	await page.context().addCookies(real);
	await page.goto('/desk/rounds');
	await expect(page).toHaveURL(/sign-in/);
});
