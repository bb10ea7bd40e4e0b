import type { Page } from '@playwright/test';
import {
	awake,
	CONTACT_PASSWORD,
	expect,
	expectAccessible,
	mailTo,
	PDF_FILE,
	phone,
	signInAtDesk,
	signInAtPortal,
	STAFF_PASSWORD,
	test,
	type Product
} from './product';

test.use({ file: 'kept' });

/** An open item of a kind, with who is asked: somebody who reads English, about which nothing was written yet; the same one in every run. */
async function openItem(product: Product, kind: string, where = 'true') {
	const { rows } = await product.sql.query<{ id: string; email: string; client: string; spec: Record<string, unknown> }>(
		`select i.id, c.email, i.client_id client, i.spec from item i join contact c on c.id = i.contact_id join client cl on cl.id = i.client_id and cl.state = 'active'
		where i.kind = $1 and i.state in ('asked', 'seen', 'started') and c.password_hash is not null and c.locale = 'en'
			and not exists (select from remark k where k.item_id = i.id) and ${where}
		order by c.email, i.position, i.id limit 1`,
		[kind]
	);
	return rows[0];
}
/** Asks somebody for one thing, as the desk would. */
const give = (product: Product, id: string, spec: object) => product.sql.query('update item set spec = $2 where id = $1', [id, JSON.stringify(spec)]);
const at = (page: Page, item: string) => page.goto(`/portal/pennywhistle-row/item/${item}`);

test('a page that is read while words are on their way has them all the same', async ({ browser, product }) => {
	const item = await openItem(product, 'paper');
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, item.email);
	await at(mobile, item.id);
	await mobile.waitForLoadState('networkidle');
	await mobile.getByText('Ask about this').click();
	const words = mobile.getByLabel('Your question or remark');
	// the words wait on their way until the page was read anew, and arrive before it is shown
	let readAnew = () => {};
	const read = new Promise<void>((resolve) => (readAnew = resolve));
	let arrive = () => {};
	const arrived = new Promise<void>((resolve) => (arrive = resolve));
	await mobile.route('**/item/*?/keep', async (route) => {
		await read;
		await route.fulfill({ response: await route.fetch() });
		arrive();
	});
	await mobile.route(`**/item/${item.id}`, async (route) => {
		const response = await route.fetch();
		readAnew();
		await arrived;
		await route.fulfill({ response });
	});
	const sending = mobile.waitForRequest(/keep$/);
	await words.pressSequentially('Both sides are on one page.', { delay: 5 });
	await sending;
	await mobile.reload();
	await expect(words).toHaveValue('Both sides are on one page.');
	await mobile.unrouteAll({ behavior: 'ignoreErrors' });
	await expect
		.poll(async () => (await product.sql.query('select typed::text from item where id = $1', [item.id])).rows[0].typed)
		.toContain('Both sides are on one page.');
	await product.sql.query('update item set typed = default where id = $1', [item.id]);
	await mobile.context().close();
});

test('explanations and letters can be typed, one key after the other', async ({ page, product }) => {
	await signInAtDesk(page);
	const { rows } = await product.sql.query(`select id from client where name = 'Mossbank Surveyors'`);
	await page.goto(`/desk/clients/${rows[0].id}/ask`);
	await awake(page);
	// looking at a list makes no draft, however often
	const drafts = async () =>
		(await product.sql.query('select 1 from request_draft where client_id = $1 and removed_at is null', [rows[0].id])).rowCount;
	const before = await drafts();
	await page.getByRole('link', { name: /^Taking on a client/ }).click();
	await awake(page);
	await page.locator('[id^=row-]').first().click();
	const letter = page.getByRole('textbox', { name: 'Words of Engagement letter' });
	await letter.click();
	await page.keyboard.press('Control+Home');
	await page.keyboard.type('New words in one go; nothing else happens. ', { delay: 15 });
	await expect(letter).toBeFocused();
	await expect(letter).toContainText('New words in one go; nothing else happens.');
	expect(await drafts()).toBe(before);
	await page.locator('[id^=row-]').nth(1).click();
	const why = page.getByRole('textbox', { name: /^Why, in words/ });
	await why.click();
	await page.keyboard.press('Control+a');
	await page.keyboard.type('Please send it in one file', { delay: 15 });
	await expect(why).toBeFocused();
	await expect(why).toHaveText('Please send it in one file');
	// the draft began with the change, has its address, and is there after a reload
	await expect(page.getByText('Saved as a draft.')).toBeVisible();
	await expect(page).toHaveURL(/\?draft=/);
	expect(await drafts()).toBe(before! + 1);
	await page.reload();
	await awake(page);
	await page.locator('[id^=row-]').nth(1).click();
	await expect(page.getByRole('textbox', { name: /^Why, in words/ })).toHaveText('Please send it in one file');
	expect(await drafts()).toBe(before! + 1);
});

test('an amount that is refused stays as it was typed, also on a page that was loaded directly; left at once it is kept, emptied it stays empty', async ({
	browser,
	product
}) => {
	const item = await openItem(product, 'question');
	await give(product, item.id, { answer: { is: 'money', currency: 'CAD' }, fact: null });
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, item.email);
	await at(mobile, item.id);
	const field = mobile.getByLabel(/Amount in CAD/);
	await field.pressSequentially('12x50', { delay: 20 });
	await mobile.getByRole('button', { name: 'Send the answer' }).click();
	await expect(mobile.getByRole('alert')).toBeVisible();
	await expect(field).toHaveValue('12x50');
	await expect(field).toBeFocused();
	// away within a moment of the last key: nothing is lost
	await field.press('Control+a');
	await field.pressSequentially('1,234.5', { delay: 20 });
	await at(mobile, item.id);
	await expect(field).toHaveValue('1,234.5');
	await mobile.waitForLoadState('networkidle');
	await field.press('Control+a');
	await field.press('Delete');
	await expect(field).toHaveValue('');
	await mobile.getByRole('link', { name: /Back to the list/ }).click();
	await mobile.waitForURL(/pennywhistle-row$/);
	await at(mobile, item.id);
	await expect(field).toHaveValue('');
	// what could not be sent stays on the device, until whoever wrote it signs out
	await mobile.route('**/*keep*', (route) => route.abort());
	await field.pressSequentially('77', { delay: 20 });
	const copies = () => mobile.evaluate(() => Object.keys(localStorage).filter((key) => key.startsWith('lantern-typed')).length);
	expect(await copies()).toBe(1);
	await mobile.getByRole('button', { name: 'Sign out' }).click();
	await mobile.waitForURL(/sign-in/);
	expect(await copies()).toBe(0);
	await mobile.context().close();
});

test('two devices on one answer: the later one stays, and says so', async ({ browser, product }) => {
	const item = await openItem(product, 'question', `i.spec #>> '{answer,is}' = 'words'`);
	const [one, other] = [await phone(browser, product.origin), await phone(browser, product.origin)];
	for (const device of [one, other]) {
		await signInAtPortal(device, item.email);
		await at(device, item.id);
	}
	const kept = async () =>
		(await product.sql.query(`select typed #>> '{answer.answer,value}' words from item where id = $1`, [item.id])).rows[0].words;
	await one.getByLabel('Your answer').pressSequentially('From the kitchen', { delay: 10 });
	await expect.poll(kept).toBe('From the kitchen');
	await other.getByLabel('Your answer').pressSequentially('From the shop', { delay: 10 });
	await expect(other.getByRole('status')).toContainText('also being written on another device');
	expect(await kept()).toBe('From the shop');
	// what is written elsewhere reaches a page that only asks something
	await one.getByText('Ask about this').click();
	await one.getByLabel('Your question or remark').pressSequentially('Which one?', { delay: 10 });
	await expect(one.getByRole('status')).toContainText('on another device just now');
	await expect(one.getByLabel('Your answer')).toHaveValue('From the shop');
	await one.context().close();
	await other.context().close();
});

test('on a slow phone: what is opened and typed before the page comes alive stays open, and goes on', async ({ browser, product }) => {
	const item = await openItem(product, 'paper');
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, item.email);
	let first = true;
	await mobile.route('**/*.js', async (route) => {
		if (first) await new Promise((go) => setTimeout(go, 1500));
		first = false;
		await route.continue();
	});
	await mobile.goto(`/portal/pennywhistle-row/item/${item.id}`, { waitUntil: 'commit' });
	await mobile.getByText('Ask about this').click();
	const field = mobile.getByLabel('Your question or remark');
	await field.click();
	const words = 'Do you need both sides of it, or is the front enough? '.repeat(3).trim();
	await mobile.keyboard.type(words, { delay: 20 });
	await mobile.waitForLoadState('networkidle');
	await mobile.keyboard.type(' Thank you');
	await expect(field).toBeFocused();
	await expect(field).toHaveValue(`${words} Thank you`);
	await mobile.context().close();
});

test('signed out while typing: signed in again in place, and what was typed is sent; nobody else sends it', async ({ page, browser, product }) => {
	const item = await openItem(product, 'paper');
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, item.email);
	await at(mobile, item.id);
	await mobile.getByText('Ask about this').click();
	await mobile.getByLabel('Your question or remark').pressSequentially('Do you need both sides?', { delay: 15 });
	await mobile.context().clearCookies();
	await mobile.getByRole('button', { name: 'Send it' }).click();
	const again = mobile.getByRole('dialog', { name: 'Please sign in again' });
	await again.getByLabel('Password').pressSequentially('not my password', { delay: 5 });
	await mobile.keyboard.press('Enter');
	await expect(again.getByRole('alert')).toBeVisible();
	await again.getByLabel('Password').fill(CONTACT_PASSWORD);
	await again.getByRole('button', { name: 'Sign in and continue' }).click();
	await expect(mobile.getByText('Do you need both sides?')).toBeVisible();
	await expect(mobile.getByRole('status')).toContainText('Sent. Thank you.');
	expect((await product.sql.query(`select 1 from remark where item_id = $1 and words = 'Do you need both sides?'`, [item.id])).rowCount).toBe(1);

	// at the desk: the firm's words to the client
	await signInAtDesk(page);
	await page.goto(`/desk/clients/${item.client}/item/${item.id}`);
	await awake(page);
	await page.getByLabel(/by e-mail and on their page/).pressSequentially('The front is enough.', { delay: 15 });
	await page.context().clearCookies();
	await page.getByRole('button', { name: /^Send to / }).click();
	const dialog = page.getByRole('dialog', { name: 'Please sign in again' });
	await expect(dialog.getByText('odalys@pennywhistle.example')).toBeVisible();
	await dialog.getByLabel('Password').fill(STAFF_PASSWORD);
	await page.keyboard.press('Enter');
	await expect(page.getByText('The front is enough.', { exact: true })).toBeVisible();
	await mobile.context().close();
});

test('named files that are missing are named before anything is handed in; until the firm has looked, a page can be added', async ({
	page,
	browser,
	product
}) => {
	const item = await openItem(product, 'paper', `c.email <> 'mara@gullstring.example'`);
	await give(product, item.id, {
		slots: [
			{ name: 'Front', accepts: 'any' },
			{ name: 'Back', accepts: 'any' }
		],
		statementsOf: 'none'
	});
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, item.email);
	await at(mobile, item.id);
	await mobile.getByLabel('Add: Front').setInputFiles({ name: 'front.pdf', mimeType: 'application/pdf', buffer: Buffer.from('%PDF-1.4\n%%EOF') });
	await expect(mobile.getByText('Still missing: Back.')).toBeVisible();
	await mobile.getByRole('button', { name: 'Hand in without them' }).click();
	await expect(mobile.getByRole('status')).toContainText('Sent. Thank you.');
	await expect(mobile.getByRole('status')).toBeFocused();
	await at(mobile, item.id);
	await mobile.getByRole('button', { name: 'Add or remove a page' }).click();
	await mobile
		.getByLabel('Add: Back')
		.setInputFiles({ name: 'back.pdf', mimeType: 'application/pdf', buffer: Buffer.from('%PDF-1.4\n% back\n%%EOF') });
	await mobile.getByRole('button', { name: 'Hand in these 2 files' }).click();
	await expect(mobile.getByRole('status')).toContainText('Sent. Thank you.');
	await signInAtDesk(page);
	await page.goto(`/desk/clients/${item.client}/item/${item.id}`);
	await awake(page);
	await expect
		.poll(async () => (await product.sql.query('select looked_at is not null looked from item where id = $1', [item.id])).rows[0].looked)
		.toBe(true);
	await at(mobile, item.id);
	await expect(mobile.getByText('You handed this in')).toBeVisible();
	await expect(mobile.getByRole('button', { name: 'Add or remove a page' })).toHaveCount(0);
	await mobile.context().close();
});

test('without scripts a refused answer says what is wrong and stays, a file is added, a reason is given', async ({ browser, product }) => {
	const [question, paper] = [await openItem(product, 'question'), await openItem(product, 'paper', `i.attachments = '{}'`)];
	await give(product, question.id, { answer: { is: 'number', unit: 'people' }, fact: null });
	const context = await browser.newContext({ baseURL: product.origin, javaScriptEnabled: false });
	const plain = await context.newPage();
	const signIn = async (email: string) => {
		await plain.goto('/portal/pennywhistle-row/sign-in');
		await plain.getByLabel('E-mail address').fill(email);
		await plain.getByLabel('Password').fill(CONTACT_PASSWORD);
		await plain.getByRole('button', { name: 'Sign in', exact: true }).click();
	};
	await signIn(question.email);
	await at(plain, question.id);
	await plain.getByLabel(/people/).pressSequentially('about four');
	await plain.getByRole('button', { name: 'Send the answer' }).click();
	await expect(plain.getByRole('alert')).toBeVisible();
	await expect(plain.getByLabel(/people/)).toHaveValue('about four');
	await context.clearCookies();
	await signIn(paper.email);
	await at(plain, paper.id);
	await plain
		.getByLabel('Choose files')
		.first()
		.setInputFiles({ name: 'plain.pdf', mimeType: 'application/pdf', buffer: Buffer.from('%PDF-1.4\n%%EOF') });
	await plain.getByRole('button', { name: 'Add these files' }).click();
	await expect(plain.getByRole('link', { name: 'plain.pdf' })).toBeVisible();
	await plain.getByText('I have sent it already').click();
	await plain.getByLabel('How, and when?').fill('By post on Friday');
	await plain.getByRole('button', { name: /^Tell / }).click();
	await at(plain, paper.id);
	await expect(plain.getByText('“By post on Friday”')).toBeVisible();
	await context.close();
});

test('a question that wants a file is answered with one, on a phone and without scripts; asked back, it alone is open again', async ({
	browser,
	page,
	product
}) => {
	const item = await openItem(product, 'questionnaire');
	const file = (key: string, title: string, more: object = {}) => ({
		key,
		title,
		help: '',
		required: true,
		answer: { is: 'file', accepts: 'any' },
		fact: null,
		...more
	});
	await give(product, item.id, {
		questions: [
			{ key: 'name', title: 'Its name', help: '', required: true, answer: { is: 'line' }, fact: null },
			file('lease', 'The lease of your workshop'),
			file('plan', 'A plan of it', { required: false, answer: { is: 'file', accepts: 'picture' } })
		],
		files: false
	});
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, item.email);
	await at(mobile, item.id);
	await mobile.getByLabel('Its name').pressSequentially('Kite Loft', { delay: 15 });
	await mobile.getByRole('button', { name: 'Hand in the answers' }).click();
	await expect(mobile.getByText('Please add a file.')).toBeVisible();
	const lease = mobile.getByLabel('Add: The lease of your workshop');
	await lease.setInputFiles({ ...PDF_FILE, name: 'lease.pdf' });
	await expect(mobile.getByRole('link', { name: 'lease.pdf' })).toBeVisible();
	await expect(mobile.getByLabel('Its name')).toHaveValue('Kite Loft');
	// what does not fit says so beside its question, and nothing is lost
	await mobile.getByLabel('Add: A plan of it (optional)').setInputFiles({ ...PDF_FILE, name: 'plan.pdf' });
	await expect(mobile.getByText(/plan\.pdf does not fit “A plan of it”: a picture is needed there/)).toBeVisible();
	await mobile.reload();
	await expect(mobile.getByLabel('Its name')).toHaveValue('Kite Loft');
	// taken out by keyboard, and put there again
	await mobile.getByRole('button', { name: 'Remove lease.pdf' }).focus();
	await mobile.keyboard.press('Enter');
	await expect(mobile.getByRole('link', { name: 'lease.pdf' })).toHaveCount(0);
	await lease.setInputFiles({ ...PDF_FILE, name: 'lease-signed.pdf' });
	await expect(mobile.getByRole('link', { name: 'lease-signed.pdf' })).toBeVisible();
	await expectAccessible(mobile, 'a question that wants a file');
	await mobile.getByRole('button', { name: 'Hand in the answers' }).click();
	await expect(mobile.getByRole('status')).toContainText('Sent. Thank you.');

	await signInAtDesk(page);
	await page.goto(`/desk/clients/${item.client}/item/${item.id}`);
	await awake(page);
	await expect(page.getByRole('definition').getByRole('link', { name: 'lease-signed.pdf' })).toBeVisible();
	await page.getByRole('button', { name: 'Ask back: The lease of your workshop' }).focus();
	await page.keyboard.press('Enter');
	await page.keyboard.type('The second page is missing.');
	await page.getByRole('button', { name: 'Ask back', exact: true }).click();
	await expect.poll(async () => (await product.sql.query('select state from item where id = $1', [item.id])).rows[0].state).toBe('sent_back');

	const context = await browser.newContext({ baseURL: product.origin, javaScriptEnabled: false });
	const plain = await context.newPage();
	await plain.goto('/portal/pennywhistle-row/sign-in');
	await plain.getByLabel('E-mail address').fill(item.email);
	await plain.getByLabel('Password').fill(CONTACT_PASSWORD);
	await plain.getByRole('button', { name: 'Sign in', exact: true }).click();
	await at(plain, item.id);
	await expect(plain.getByText('The second page is missing.').first()).toBeVisible();
	await plain.locator('input[name=files]').setInputFiles({ ...PDF_FILE, name: 'page-2.pdf' });
	await plain.getByLabel('still missing').selectOption('The lease of your workshop');
	await plain.getByRole('button', { name: 'Add these files' }).click();
	await expect(plain.getByRole('link', { name: 'page-2.pdf' }).first()).toBeVisible();
	await plain.getByRole('button', { name: 'Hand in the answers' }).click();
	await expect(plain.getByRole('status')).toContainText('Sent. Thank you.');
	const { rows } = await product.sql.query('select state, answer_data from item where id = $1', [item.id]);
	expect(rows[0].state).toBe('handed_in');
	expect(rows[0].answer_data.lease.map(({ name }: { name: string }) => name)).toEqual(['lease-signed.pdf', 'page-2.pdf']);
	await context.close();
	await mobile.context().close();
});

test('an answer is passed on to somebody else of the client, who answers it; whoever is asked signs the answers, by keyboard alone', async ({
	browser,
	product
}) => {
	test.setTimeout(150_000);
	const item = await openItem(product, 'question');
	await product.sql.query(`update item set kind = 'questionnaire' where id = $1`, [item.id]);
	const line = (key: string, title: string) => ({ key, title, help: '', required: true, answer: { is: 'line' }, fact: null });
	await give(product, item.id, {
		questions: [line('name', 'Its name'), line('hours', 'Who works how many hours?')],
		files: false,
		signed: true
	});
	// somebody else of the same client, who can sign in
	const { rows: others } = await product.sql.query<{ id: string; name: string; email: string }>(
		`select c.id, c.name, c.email from contact c where c.password_hash is not null and c.locale = 'en' and c.email <> $1
			and not exists (select from client_contact l where l.contact_id = c.id and l.client_id = $2) order by c.email limit 1`,
		[item.email, item.client]
	);
	const [other] = others;
	await product.sql.query(
		`insert into client_contact (firm_id, client_id, contact_id, role, rank) select firm_id, client_id, $2, role, 9 from client_contact where client_id = $1 limit 1`,
		[item.client, other.id]
	);
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, item.email);
	await at(mobile, item.id);
	await mobile.getByLabel('Its name').pressSequentially('Kite Loft', { delay: 15 });
	await mobile.getByRole('button', { name: 'Ask somebody else', exact: true }).nth(1).click();
	await expect(mobile.getByLabel('Whom')).toBeFocused();
	await expect(mobile.getByLabel('For which answer')).toHaveValue('hours');
	await mobile.getByLabel('Whom').selectOption(other.name);
	await mobile.getByLabel('A word to them').pressSequentially('You keep the hours.', { delay: 10 });
	await mobile.getByRole('button', { name: 'Ask them' }).click();
	await expect(mobile.getByText('They are asked, and get an e-mail.')).toBeVisible();
	await expect(mobile.getByText(`${other.name} was asked for this.`)).toBeVisible();
	await expect(mobile.getByLabel('Its name')).toHaveValue('Kite Loft');
	const mail = await mailTo(product, other.email, 'answer_passed');
	for (const words of ['Who works how many hours?', 'You keep the hours.']) expect(mail).toContain(words);

	const theirs = await phone(browser, product.origin);
	await signInAtPortal(theirs, other.email);
	await at(theirs, item.id);
	await expect(theirs.getByText(/asks you for one answer here/)).toBeVisible();
	await theirs.getByLabel('Who works how many hours?').pressSequentially('Two, thirty each', { delay: 15 });
	// somebody else signs: there is nothing to hand in here
	await expect(theirs.getByText(/signs these answers and hands them in/)).toBeVisible();
	await expect(theirs.getByRole('button', { name: 'Sign and hand in' })).toHaveCount(0);
	await theirs.getByRole('button', { name: /^Done, tell / }).click();
	await expect(theirs.getByText(/is told that you have answered/)).toBeVisible();
	await mailTo(product, item.email, 'answer_passed');

	await at(mobile, item.id);
	await expect(mobile.getByLabel('Who works how many hours?')).toHaveValue('Two, thirty each');
	await expect(mobile.getByText(`${other.name} has answered this.`)).toBeVisible();
	await mobile.getByRole('button', { name: 'Sign and hand in' }).focus();
	await mobile.keyboard.press('Enter');
	await expect(mobile.getByText('Please tick that you agree before you sign.').first()).toBeVisible();
	await expectAccessible(mobile, 'answers that are to be signed');
	await mobile.getByRole('checkbox', { name: /I agree to sign them electronically/ }).focus();
	await mobile.keyboard.press('Space');
	const name = mobile.getByLabel('Your full name');
	await name.focus();
	await mobile.keyboard.press('Control+a');
	await mobile.keyboard.type('Mara W. Whitlock', { delay: 15 });
	await expect(name).toBeFocused();
	await mobile.keyboard.press('Tab');
	await mobile.getByRole('button', { name: 'Sign and hand in' }).focus();
	await mobile.keyboard.press('Enter');
	await expect(mobile.getByRole('status')).toContainText('Sent. Thank you.');
	await expect
		.poll(
			async () => (await product.sql.query('select sealed_key is not null sealed from signed_answers where item_id = $1', [item.id])).rows[0]?.sealed
		)
		.toBe(true);
	await at(mobile, item.id);
	await expect(mobile.getByText(/^Signed by Mara W\. Whitlock on/)).toBeVisible();
	const [download] = await Promise.all([mobile.waitForEvent('download'), mobile.getByRole('link', { name: 'Your signed answers as PDF' }).click()]);
	expect(download.suggestedFilename()).toMatch(/\(signed\)\.pdf$/);
	await theirs.context().close();
	await mobile.context().close();
});

test('while the line is down the page stays with what is typed; where nothing answers it says so, and leads on', async ({ page }) => {
	await signInAtDesk(page);
	await page.goto('/desk/clients/new');
	await awake(page);
	const name = page.getByLabel('Name', { exact: true }).first();
	await name.pressSequentially('Gull', { delay: 10 });
	await page.context().setOffline(true);
	await page.getByRole('link', { name: 'Library', exact: true }).press('Enter');
	await expect(page.getByText('You are not connected. This page stays as it is')).toBeVisible();
	await expect(page).toHaveURL(/desk\/clients/);
	await expect(name).toHaveValue('Gull');
	await page.context().setOffline(false);
	await expect(page.getByText('You are not connected.')).toHaveCount(0);
	await page.getByRole('link', { name: 'Library', exact: true }).press('Enter');
	await expect(page).toHaveURL(/desk\/library/);
	await awake(page);

	await page.route('**/__data.json*', (route) => route.abort());
	await page.getByRole('link', { name: 'Almanac', exact: true }).press('Enter');
	await expect(page.getByRole('heading', { name: 'This page cannot be reached just now.' })).toBeVisible();
	await expectAccessible(page, 'a page that nothing answers for');
	await page.unroute('**/__data.json*');
	await page.getByRole('link', { name: 'Try again' }).press('Enter');
	await expect(page).toHaveURL(/desk\/almanac/);
	await awake(page);
	// what is not there is said within the desk
	await page.goto('/desk/clients/00000000-0000-4000-8000-000000000000');
	await expect(page.getByRole('heading', { name: 'There is nothing here.' })).toBeVisible();
	await page.getByRole('link', { name: 'Clients', exact: true }).press('Enter');
	await expect(page).toHaveURL(/desk\/clients$/);
	await expect(page.getByRole('heading', { name: 'There is nothing here.' })).toHaveCount(0);
});
