import { createTransport } from 'nodemailer';
import { awake, expect, expectAccessible, phone, signInAtDesk, signInAtPortal, test } from './product';

test.use({ file: 'arrivals' });

const pdf = (name: string) => ({ name, mimeType: 'application/pdf', buffer: Buffer.from(`%PDF-1.7 ${name}`) });

test('a client sends what nobody asked for; it says where it belongs, is filed by keyboard, and taken back', async ({ page, browser, product }) => {
	test.setTimeout(150_000);
	const { rows } = await product.sql.query<{ title: string; email: string }>(
		`select i.title, ct.email::text from item i join contact ct on ct.id = i.contact_id join client c on c.id = i.client_id
		where c.name = 'Heron & Pike Anglers' and i.kind = 'paper' and i.phase = 'open' order by i.title`
	);
	expect(rows.map(({ title }) => title)).toContain('Card statement');

	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, rows[0].email);
	await mobile.getByRole('link', { name: 'Send us something we did not ask for' }).click();
	await mobile.waitForURL(/send$/);
	await mobile.waitForLoadState('networkidle');
	await mobile
		.locator('input[type=file]')
		.first()
		.setInputFiles([pdf('card april.pdf'), pdf('by mistake.pdf')]);
	await expect(mobile.getByRole('link', { name: 'card april.pdf' })).toBeVisible();
	const note = mobile.getByLabel('What is it? (optional) card april.pdf');
	await note.pressSequentially('the statement of the card', { delay: 10 });
	await mobile.keyboard.press('Enter');
	await expect(mobile.getByText('Saved.')).toBeVisible();
	await mobile.getByRole('button', { name: 'Take by mistake.pdf back' }).press('Enter');
	await expect(mobile.getByText('by mistake.pdf')).toHaveCount(0);
	await mobile.reload();
	await expect(note).toHaveValue('the statement of the card');
	await expectAccessible(mobile, 'what a client sends by themselves');

	await signInAtDesk(page);
	await page.getByRole('link', { name: 'Arrivals', exact: true }).click();
	await awake(page);
	await expect(page.getByRole('heading', { name: 'Eight files have no place yet.' })).toBeVisible();
	await expect(page.getByText('seems to be “Bank statement”')).toBeVisible();
	await expectAccessible(page, 'Arrivals');
	await page.getByRole('link', { name: /card april\.pdf/ }).click();
	const leaf = page.getByRole('complementary');
	await expect(leaf.getByRole('heading', { name: 'It seems to be “Card statement”.' })).toBeVisible();
	await expect(leaf.getByText('“card”, “statement” stand in its name or note', { exact: false })).toBeVisible();
	await expectAccessible(page, 'a file without a place');
	await page.keyboard.press('a');
	await expect(page.getByRole('link', { name: /card april\.pdf/ })).toHaveCount(0);
	await mobile.reload();
	await expect(mobile.getByText('Filed under “Card statement”.')).toBeVisible();
	await expect(mobile.getByRole('button', { name: 'Take card april.pdf back' })).toHaveCount(0);

	// elsewhere, and away; each comes back
	await page.goto('/desk/arrivals');
	await awake(page);
	await page.getByRole('link', { name: /insurance renewal/ }).click();
	await expect(leaf.getByText('Nothing says where it belongs.')).toBeVisible();
	await leaf.getByLabel('File it under').selectOption({ index: 1 });
	await leaf.getByRole('button', { name: 'File it', exact: true }).press('Enter');
	await expect(page.getByRole('link', { name: /insurance renewal/ })).toHaveCount(0);
	await page.goto('/desk/arrivals');
	await awake(page);
	for (const [name, left] of [
		['insurance renewal.pdf', 'Seven'],
		['card april.pdf', 'Eight']
	]) {
		await page.getByRole('button', { name: `Take ${name} out of its place` }).press('Enter');
		await expect(page.getByRole('heading', { name: `${left} files have no place yet.` })).toBeVisible();
	}
	const { rows: after } = await product.sql.query(
		`select i.state from item i join client c on c.id = i.client_id where c.name = 'Heron & Pike Anglers' and i.title = 'Card statement' and i.kind = 'paper'`
	);
	expect(after).toContainEqual({ state: 'asked' });
	await mobile.context().close();
});

test('by mail: what a stranger sends is let in by keyboard, what the client sends is on their page, an old address is refused', async ({
	page,
	browser,
	product
}) => {
	test.setTimeout(150_000);
	const { rows } = await product.sql.query<{ id: string; email: string }>(
		`select c.id, ct.email::text from client c join client_contact cc on cc.client_id = c.id join contact ct on ct.id = cc.contact_id
		where c.name = 'Gull & String Kites' and ct.email = 'mara@gullstring.example'`
	);
	const [{ id, email }] = rows;
	const smtp = createTransport({ host: '127.0.0.1', port: Number(product.env.PAPERS_SMTP_PORT), ignoreTLS: true });
	const send = (to: string, from: string, ...names: string[]) =>
		smtp
			.sendMail({
				from,
				to,
				subject: 'What came <b>today</b>',
				text: 'Here they are.',
				attachments: names.map((name) => ({ filename: name, content: `%PDF-1.7 ${name}` }))
			})
			.then(
				() => 'taken',
				(error: { response: string }) => error.response
			);

	// the client reads the address on their page, and what they send is listed there
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, email);
	await mobile.goto('/portal/pennywhistle-row/send');
	const address = mobile.getByRole('link', { name: /^papers-/ });
	await expect(mobile.getByText(`Send it from ${email}:`, { exact: false })).toBeVisible();
	const first = (await address.textContent())!.trim();
	expect(await send(first, email, 'rent.pdf')).toBe('taken');
	await mobile.reload();
	await expect(mobile.getByRole('link', { name: 'rent.pdf' })).toBeVisible();
	await expectAccessible(mobile, 'sending, with the address for mail');

	expect(await send(first, 'Harbour Fuel <bills@harbourfuel.example>', 'bill one.pdf', 'bill two.pdf')).toBe('taken');
	await signInAtDesk(page);
	await page.goto('/desk/arrivals');
	await awake(page);
	await page.getByRole('link', { name: /bill one\.pdf/ }).click();
	const leaf = page.getByRole('complementary');
	await expect(leaf.getByRole('heading', { name: 'bills@harbourfuel.example is not known at Gull & String Kites.' })).toBeVisible();
	await expect(leaf.getByText('“What came <b>today</b>”')).toBeVisible();
	await expect(leaf.getByRole('button', { name: 'Keep it among their papers' })).toHaveCount(0);
	await expectAccessible(page, 'a mail that waits to be let in');
	await page.keyboard.press('i');
	await page.keyboard.press('i');
	await expect(leaf.getByRole('button', { name: 'Keep it among their papers' })).toBeVisible();
	await expect(leaf.getByRole('heading', { name: 'bill one.pdf' })).toBeVisible();
	// Mara sees nothing of what others sent
	await mobile.reload();
	await expect(mobile.getByRole('link', { name: 'rent.pdf' })).toBeVisible();
	await expect(mobile.getByText(/bill/)).toHaveCount(0);

	// dealt with one after the other, in the order in which they stood
	await leaf.getByRole('button', { name: 'Keep it among their papers' }).press('Enter');
	await expect(leaf.getByRole('heading', { name: 'bill two.pdf' })).toBeVisible();

	await page.goto(`/desk/clients/${id}`);
	await awake(page);
	await page.getByRole('button', { name: 'another address …' }).press('Enter');
	await expectAccessible(page, 'another address for papers');
	await page.getByRole('button', { name: 'Give them another address' }).press('Enter');
	await expect(page.getByRole('link', { name: first })).toHaveCount(0);
	const second = (await page.getByRole('link', { name: /^papers-/ }).textContent())!.trim();
	expect(await send(first, email, 'late.pdf')).toMatch(/^550 5\.1\.1/);
	expect(await send(second, email)).toMatch(/^550 5\.6\.0 There is no file/);
	expect(await send(second, email, 'in time.pdf')).toBe('taken');
	await mobile.reload();
	await expect(mobile.getByRole('link', { name: 'in time.pdf' })).toBeVisible();
	await expect(mobile.getByRole('link', { name: second })).toBeVisible();
	await mobile.context().close();
});

test('the order of Rounds holds while somebody works through it: what is left of a client stays where its first one stood', async ({
	page,
	product
}) => {
	const { rows } = await product.sql.query<{ id: string }>(
		`select id from item where phase = 'to_look_at' and state = 'handed_in' and client_id = (
			select client_id from item where phase = 'to_look_at' and state = 'handed_in'
			group by client_id having count(*) > 1 and bool_and(kind in ('paper', 'question')) order by min(state_at) limit 1
		) order by kind, state_at, id`
	);
	// the client's first came before all others, and what is left of theirs after them
	await product.sql.query(`update item set state_at = '2026-04-01T12:00:00Z' where id = $1`, [rows[0].id]);
	await product.sql.query(`update item set state_at = '2026-05-04T12:00:00Z' where id = any ($1)`, [rows.slice(1).map(({ id }) => id)]);
	await signInAtDesk(page);
	const handedIn = page.getByRole('region', { name: /^Handed in/ }).getByRole('link');
	const inOrder = () => handedIn.evaluateAll((links) => links.map((link) => (link as HTMLAnchorElement).pathname.split('item-')[1]));
	const before = await inOrder();
	expect(before[0]).toBe(rows[0].id);
	const second = before[1];
	expect(rows.map(({ id }) => id)).toContain(second);
	await handedIn.first().focus();
	await page.keyboard.press('Enter');
	await page.waitForURL(new RegExp(rows[0].id));
	await expect(page.getByRole('complementary').getByRole('button', { name: /^Accept/ })).toBeVisible();
	await page.keyboard.press('a');
	await page.waitForURL(new RegExp(second));
	await expect.poll(inOrder).toEqual(before.slice(1));
	// opened anew, they stand where they belong by now
	await page.goto('/desk/rounds');
	await expect.poll(async () => (await inOrder()).at(-1)).toBe(before.findLast((id) => rows.some((row) => row.id === id)));
});

test('the papers of a client are found by what stands inside them', async ({ page }) => {
	await signInAtDesk(page);
	await page.goto('/desk/clients');
	await awake(page);
	await page
		.getByRole('link', { name: /Brine & Barrow Oysters/ })
		.first()
		.click();
	await page.getByRole('link', { name: /^\d+ papers$/ }).click();
	await page.waitForURL(/papers$/);
	const rows = page.locator('tbody').getByRole('row');
	await expect(rows.first()).toBeVisible();
	const all = await rows.count();
	expect(all).toBeGreaterThan(10);
	await expectAccessible(page, 'the papers of a client');
	const find = page.getByRole('searchbox', { name: 'Find papers' });
	await find.focus();
	await page.keyboard.type('tideline 9002', { delay: 15 });
	await page.keyboard.press('Enter');
	await page.waitForURL(/find=tideline/);
	await expect(rows.getByText(/inside: .*Tideline/).first()).toBeVisible();
	expect(await rows.count()).toBeLessThan(all);
	await expect(find).toBeFocused();
	await page.keyboard.type(' nothing has this', { delay: 15 });
	await page.keyboard.press('Enter');
	await expect(page.getByText('Nothing here has all of these words.', { exact: false })).toBeVisible();
	await expect(find).toHaveValue('tideline 9002 nothing has this');
	await page.reload();
	await expect(find).toHaveValue('tideline 9002 nothing has this');
	await page.getByRole('link', { name: 'Show all papers' }).press('Enter');
	await expect(rows).toHaveCount(all);
	await expect(find).toHaveValue('');
});

test('several files are named by a pattern, typed, seen beforehand, and kept as they were when it means nothing', async ({ page }) => {
	await signInAtDesk(page);
	await page.goto('/desk/arrivals');
	await awake(page);
	const ticks = page.getByRole('main').getByRole('checkbox');
	await ticks.nth(0).press('Space');
	await ticks.nth(1).press('Space');
	await page.getByRole('button', { name: 'Rename …' }).press('Enter');
	const pattern = page.getByLabel('Call 2 files');
	await pattern.press('ControlOrMeta+a');
	await page.keyboard.type('{cleint} {number}', { delay: 10 });
	await expect(page.getByText('{cleint} means nothing here.', { exact: false })).toBeVisible();
	await expect(page.getByRole('button', { name: 'Rename', exact: true })).toBeDisabled();
	await pattern.press('ControlOrMeta+a');
	await page.keyboard.type('came {number}', { delay: 10 });
	await expect(page.getByText(/^came 1\.\w+, came 2\.\w+$/)).toBeVisible();
	await expectAccessible(page, 'naming several files');
	await page.keyboard.press('Enter');
	await expect(page.getByText('2 files renamed.')).toBeVisible();
	await expect(page.getByRole('link', { name: /^came 1\./ })).toBeVisible();
	// they are chosen still, to be kept in one go
	await expect(page.getByRole('button', { name: 'Keep among their papers' })).toBeVisible();
});

test('a large file goes on where the line broke: from a phone that was not asked for it, and from the firm, where it is whole again after a reload', async ({
	page,
	browser,
	product
}) => {
	const big = (name: string) => ({
		name,
		mimeType: 'application/pdf',
		buffer: Buffer.concat([Buffer.from('%PDF-1.4\n'), Buffer.alloc(3_000_000, 32)])
	});
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, 'mara@gullstring.example');
	await mobile.goto('/portal/pennywhistle-row/send');
	await mobile.waitForLoadState('networkidle');
	let broken = 0;
	await mobile.route('**/send/uploads/*', async (route) => {
		if (route.request().method() === 'PATCH' && broken++ === 0) await route.abort('connectionreset');
		else await route.continue();
	});
	await mobile
		.locator('input[type=file]')
		.first()
		.setInputFiles([big('the whole lease.pdf')]);
	await expect(mobile.getByRole('link', { name: 'the whole lease.pdf' })).toBeVisible();
	expect(broken).toBeGreaterThan(1);
	await mobile.context().close();

	await signInAtDesk(page);
	const { rows } = await product.sql.query(`select id from client where name = 'Gull & String Kites'`);
	const papers = `/desk/clients/${rows[0].id}/papers`;
	await page.goto(papers);
	await awake(page);
	// the line is dead from the first part on; then the page is loaded anew, and the same file chosen again
	await page.route('**/given/uploads/*', (route) => (route.request().method() === 'PATCH' ? route.abort('connectionreset') : route.continue()));
	const choose = async () => {
		await page.getByRole('button', { name: 'Add papers' }).click();
		await page
			.locator('input[type=file]')
			.first()
			.setInputFiles([big('accounts in full.pdf')]);
	};
	await choose();
	await expect.poll(async () => (await product.sql.query('select 1 from unfinished_upload where staff_id is not null')).rowCount).toBe(1);
	page.once('dialog', (dialog) => void dialog.accept());
	await page.goto(papers);
	await awake(page);
	// only now: a line that came back before the page was left could have brought the whole file
	await page.unroute('**/given/uploads/*');
	await choose();
	await expect(page.getByRole('link', { name: /accounts in full\.pdf/ })).toBeVisible();
	expect((await product.sql.query(`select bytes::int from paper where name = 'accounts in full.pdf'`)).rows).toEqual([{ bytes: 3_000_009 }]);
});
