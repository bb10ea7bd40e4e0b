import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { Locator } from '@playwright/test';
import { awake, expect, expectAccessible, phone, signInAtDesk, signInAtPortal, test, type Product } from './product';

// the longest file has the first name, so that it is begun first
test.use({ file: 'accessible' });

const WAITS = { timeout: 20_000 };

/** The main views of the desk, with a client, a talk, and whatever else each needs. */
async function viewsOfDesk(product: Product): Promise<string[]> {
	const { rows } = await product.sql.query(
		`select (select id from client where name = 'Gull & String Kites') client, (select client_id || '/words/' || with_contact_id from remark where with_contact_id is not null limit 1) talk, (select id from item where state = 'handed_in' and kind = 'paper' limit 1) item, (select id from message where kind = 'chase' limit 1) message, (select id from client_import limit 1) list, (select id from request_list limit 1) request_list, (select id from item where kind = 'transactions' limit 1) lines, (select id from transaction_file limit 1) file, (select id from client_form limit 1) form, (select client_id from transaction_file limit 1) with_lines, (select client_id || '/item/' || item_id from letter where state = 'sealed' order by sealed_at limit 1) sealed`
	);
	const [{ client, talk, item, message, list, request_list: requestList, lines, file, form, with_lines: withLines, sealed }] = rows;
	return [
		'/desk/rounds',
		`/desk/rounds/item-${item}`,
		'/desk/clients',
		'/desk/clients/new',
		`/desk/clients/${client}`,
		`/desk/clients/${client}/history`,
		`/desk/clients/${talk}`,
		`/desk/clients/${client}/ask`,
		`/desk/clients/${client}/merge`,
		'/desk/clients/import',
		`/desk/clients/import/${list}`,
		'/desk/clients/invite',
		'/desk/clients/people',
		'/desk/clients/ask',
		'/desk/clients/ask?by=file',
		'/desk/clients/asked?show=open',
		`/desk/clients/${client}/standing`,
		`/desk/clients/${withLines}/transactions`,
		`/desk/clients/${withLines}/transactions/${file}?asked=1`,
		`/desk/clients/${withLines}/transactions/${file}/papers`,
		`/desk/clients/${withLines}/item/${lines}`,
		`/desk/clients/${sealed}/trail`,
		'/desk/firm/people',
		'/desk/firm/told',
		'/desk/firm/brands',
		'/desk/library',
		'/desk/library/lists',
		'/desk/library/about-signing',
		`/desk/library/lists/${requestList}`,
		'/desk/library/forms',
		`/desk/library/forms/${form}`,
		'/desk/library/ready/welcome',
		'/desk/library/plans',
		'/desk/library/plans/usual',
		'/desk/almanac/works',
		'/desk/practice',
		'/desk/you',
		'/desk/told',
		'/desk/almanac',
		'/desk/postroom',
		`/desk/postroom/${message}`,
		'/desk/firm'
	];
}
/** How many lots the views are looked at in: one for each test, so that a slow machine has time for all. */
const LOTS = 2;

for (let lot = 0; lot < LOTS; lot++)
	test(`every main view of the desk, lot ${lot + 1} of ${LOTS}: accessible by Day and Night, nothing on the console`, async ({ page, product }) => {
		test.setTimeout(300_000);
		await page.goto('/desk/sign-in');
		await expectAccessible(page, 'sign-in');
		await signInAtDesk(page);
		const views = await viewsOfDesk(product);
		for (const view of views.filter((_, n) => n % LOTS === lot)) {
			await page.goto(view);
			await awake(page);
			await expect(page.locator('h1, h2').first()).toBeVisible(WAITS);
			await expectAccessible(page, view);
			// the colours are all that Night changes
			await page.evaluate(() => (document.documentElement.dataset.mode = 'dark'));
			await expectAccessible(page, `${view} by Night`, ['color-contrast']);
		}
	});

test('writing a letter is accessible', async ({ page, product }) => {
	await signInAtDesk(page);
	const { rows } = await product.sql.query<{ id: string }>(`select id from client where name = 'Gull & String Kites'`);
	await page.goto(`/desk/clients/${rows[0].id}/ask`);
	await page.getByRole('link', { name: /^Taking on a client/ }).click();
	await awake(page);
	await page.locator('[id^=row-]').first().click();
	await expect(page.getByRole('textbox', { name: 'Words of Engagement letter' })).toBeVisible();
	await expectAccessible(page, 'writing a letter');
});

test('every main view of the portal: accessible, no sideways scrolling at 320 px', async ({ browser, product }) => {
	const page = await phone(browser, product.origin);
	await page.setViewportSize({ width: 320, height: 640 });
	const look = async (what: string) => {
		await expectAccessible(page, what);
		expect(await page.evaluate(() => document.documentElement.scrollWidth), what).toBeLessThanOrEqual(320);
	};
	for (const path of [
		'/portal/pennywhistle-row/sign-in',
		'/portal/pennywhistle-row/sign-in/code',
		'/portal/pennywhistle-row/help',
		'/portal/pennywhistle-row/forgotten',
		'/portal/pennywhistle-row/join/nothing',
		'/mail/stop/nothing'
	]) {
		await page.goto(path);
		await look(path);
	}
	// somebody whose papers no other test of this run hands in
	await signInAtPortal(page, 'nessa@saltgrassbees.example');
	await look('first page');
	await page.getByRole('link', { name: 'Add the paper' }).click();
	await expect(page.getByText('Choose files')).toBeVisible();
	await look('a paper');
	await page.getByText('This does not apply to me').click();
	await look('says no');
	await page.goto('/portal/pennywhistle-row');
	await page.getByRole('link', { name: /Engagement letter/ }).click();
	await look('a sealed letter');
	await page.goto('/portal/pennywhistle-row/you');
	await look('how somebody signs in');
	await page.goto('/portal/pennywhistle-row/forms');
	await look('forms with which somebody asks');
	await page.goto('/portal/pennywhistle-row/told');
	await look('what is written to somebody, and when');
	await page.goto('/portal/pennywhistle-row/words');
	await look('what the firm and somebody wrote to each other');
	await page.context().close();
});

test('the desk is worked by keyboard alone', async ({ page }) => {
	await signInAtDesk(page);
	await page.keyboard.press('ArrowDown');
	await page.keyboard.press('ArrowDown');
	await page.keyboard.press('Enter');
	await expect(page).toHaveURL(/rounds\/[a-z-]+-/);
	await page.keyboard.press('Escape');
	await expect(page).toHaveURL(/rounds$/);
	await page.keyboard.press('2');
	await expect(page).toHaveURL(/clients/);
	await page.keyboard.press('/');
	await page.keyboard.type('barnacle');
	await page.keyboard.press('Enter');
	await expect(page.getByRole('row')).toHaveCount(2);
	// no key acts while a person types
	await page.getByPlaceholder(/Find or do/).fill('');
	await page.getByPlaceholder(/Find or do/).pressSequentially('1n2');
	await expect(page).toHaveURL(/search=barnacle/);
	await page.goto('/desk/rounds');
	await page.waitForFunction(() => document.documentElement.dataset.live === 'yes');
	await page.keyboard.press('?');
	await expect(page.getByRole('dialog', { name: 'Keys' })).toBeVisible();
});

test('what came in is dealt with by keyboard alone, in one pass', async ({ page, product }) => {
	await signInAtDesk(page);
	const state = async (id: string) => (await product.sql.query('select state from item where id = $1', [id])).rows[0].state;
	const opened = async () => {
		await page.waitForURL(/rounds\/item-/);
		return page.url().split('item-')[1];
	};
	const papers = page.getByRole('region', { name: /^Handed in/ }).getByRole('link');
	await papers.first().focus();
	await page.keyboard.press('Enter');
	const back = await opened();
	await page.keyboard.press('b');
	await expect(page.getByLabel(/What still needs fixing/)).toBeFocused();
	await page.keyboard.type('The second page is missing, and a and w are only letters here.');
	await page.getByRole('button', { name: /^Send it back to/ }).focus();
	await page.keyboard.press('Enter');
	await expect.poll(async () => page.url().split('item-')[1]).not.toBe(back);
	expect(await state(back)).toBe('sent_back');
	const waived = await opened();
	// a page that has just been opened takes the focus to itself: pressed again, the key leads back
	const pressFor = (key: string, what: Locator) =>
		expect(async () => {
			await page.keyboard.press(key);
			await expect(what).toBeFocused({ timeout: 1000 });
		}).toPass(WAITS);
	await pressFor('w', page.getByRole('button', { name: /^Waive “/ }));
	await page.keyboard.press('Enter');
	await expect.poll(async () => page.url().split('item-')[1]).not.toBe(waived);
	expect(await state(waived)).toBe('waived');
	const accepted = await opened();
	const talk = page.getByLabel(/, by e-mail and on their page$/);
	await pressFor('q', talk);
	await page.keyboard.press('Tab');
	await pressFor('.', page.getByRole('button', { name: /^Accept/ }));
	await page.keyboard.press('a');
	await expect.poll(async () => page.url().split('item-')[1]).not.toBe(accepted);
	expect(await state(accepted)).toBe('accepted');
});

test('the portal brings little script: what a phone on a slow line has to fetch first', async ({ browser, product }) => {
	const page = await phone(browser, product.origin);
	await signInAtPortal(page, 'nessa@saltgrassbees.example');
	const { rows } = await product.sql.query(
		`select i.id from item i join contact c on c.id = i.contact_id where c.email = 'nessa@saltgrassbees.example' and i.kind = 'paper' limit 1`
	);
	// a questionnaire brings the most along
	const { rows: asked } = await product.sql.query(
		`select i.id from item i join contact c on c.id = i.contact_id where c.email = 'nessa@saltgrassbees.example' and i.kind = 'question' and i.state = 'asked' limit 1`
	);
	const question = { key: 'name', title: 'Its name', help: '', required: true, answer: { is: 'line' }, fact: null };
	await product.sql.query(`update item set kind = 'questionnaire', spec = $2 where id = $1`, [
		asked[0].id,
		JSON.stringify({ questions: [question], files: true, signed: true })
	]);
	for (const path of ['', `/item/${rows[0].id}`, `/item/${asked[0].id}`]) {
		const scripts: Promise<number>[] = [];
		const fresh = await page.context().newPage();
		fresh.on('requestfinished', (request) => {
			if (request.resourceType() === 'script') scripts.push(request.sizes().then((sizes) => sizes.responseBodySize));
		});
		await (await fresh.context().newCDPSession(fresh)).send('Network.setCacheDisabled', { cacheDisabled: true });
		await fresh.goto(`/portal/pennywhistle-row${path}`);
		await fresh.waitForLoadState('networkidle');
		const bytes = (await Promise.all(scripts)).reduce((sum, size) => sum + size, 0);
		expect(scripts.length).toBeGreaterThan(5);
		expect(bytes / 1024, `kB of script of ${path || 'the first page'}`).toBeLessThan(100);
		await fresh.close();
	}
	await page.context().close();
});

/** Passes pages on, but holds back what follows `mark` in each until it is released. */
async function inTwoHalves(origin: string, mark: string) {
	const held: (() => void)[] = [];
	const server = createServer((request, response) => {
		void fetch(origin + request.url, { headers: { accept: request.headers.accept ?? '*/*' } }).then(async (answer) => {
			const type = answer.headers.get('content-type') ?? '';
			const policy = answer.headers.get('content-security-policy');
			response.writeHead(answer.status, { 'content-type': type, ...(policy && { 'content-security-policy': policy }) });
			const body = Buffer.from(await answer.arrayBuffer());
			const half = type.startsWith('text/html') ? body.indexOf(mark) + mark.length : body.length;
			response.write(body.subarray(0, half));
			if (half < body.length) held.push(() => response.end(body.subarray(half)));
			else response.end();
		});
	});
	await new Promise<void>((listening) => server.listen(0, 'localhost', listening));
	return {
		origin: `http://localhost:${(server.address() as AddressInfo).port}`,
		release: () => held.splice(0).forEach((go) => go()),
		close: () => (server.closeAllConnections(), server.close())
	};
}

test('nothing moves away from under the finger while a page comes alive', async ({ page, product }) => {
	await page.addInitScript(() => {
		const moved: string[] = ((window as unknown as { moved: string[] }).moved = []);
		new PerformanceObserver((list) => {
			for (const entry of list.getEntries() as (PerformanceEntry & { value: number; sources: { node?: Node }[] })[])
				if (entry.value > 0.002) moved.push(entry.sources.map(({ node }) => node?.textContent?.trim().slice(0, 40)).join(' | '));
		}).observe({ type: 'layout-shift', buffered: true });
	});
	const moved = () => page.evaluate(() => (window as unknown as { moved: string[] }).moved);
	// on a slow line the first half of a page is painted before the second half arrives
	const slowLine = await inTwoHalves(product.origin, '</form>');
	for (const path of ['/desk/sign-in', '/portal/pennywhistle-row/sign-in', '/desk/sign-in/code']) {
		await page.goto(slowLine.origin + path, { waitUntil: 'commit' });
		await expect(page.locator('form button')).toBeVisible();
		await page.evaluate(() => new Promise((painted) => requestAnimationFrame(() => requestAnimationFrame(painted))));
		slowLine.release();
		await page.waitForLoadState('networkidle');
		expect(await moved(), `${path} in two halves`).toEqual([]);
	}
	slowLine.close();
	for (const path of ['/desk/sign-in', '/portal/pennywhistle-row/sign-in']) {
		await page.goto(path);
		await expect(page.getByRole('button', { name: /passkey/ })).toBeVisible();
		expect(await moved(), path).toEqual([]);
	}
	await signInAtDesk(page);
	const { rows } = await product.sql.query(`select id from item where state = 'handed_in' and kind = 'paper' limit 1`);
	await page.goto(`/desk/rounds/item-${rows[0].id}`);
	await expect(page.getByRole('img', { name: /^Page 1 of/ })).toBeVisible(WAITS);
	expect(await moved(), 'a paper beside its item').toEqual([]);
});
