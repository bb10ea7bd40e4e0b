import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { createCanvas } from '@napi-rs/canvas';
import { PDFDocument, StandardFonts } from '@cantoo/pdf-lib';
import type { Page } from '@playwright/test';
import { awake, expect, expectAccessible, phone, signInAtDesk, signInAtPortal, test, typeIn } from './product';

test.use({ file: 'letters' });

/** Two pages of terms; on the second, lines to sign on for two. */
async function terms(): Promise<Buffer> {
	const document = await PDFDocument.create();
	const font = await document.embedFont(StandardFonts.Helvetica);
	const first = document.addPage([612, 792]);
	for (let n = 1; n <= 16; n++)
		first.drawText(`${n}. Either side may end this agreement with thirty days of notice.`, { x: 64, y: 740 - n * 40, size: 11, font });
	const second = document.addPage([612, 792]);
	const write = (text: string, x: number, y: number) => second.drawText(text, { x, y, size: 11, font });
	write('For the client', 64, 640);
	write('Signature: ______________________________', 64, 600);
	write('Date: ______________', 390, 600);
	write('Company: ______________________________', 64, 560);
	write('For Pennywhistle Row', 64, 480);
	write('Signature: ______________________________', 64, 440);
	write('Date: ______________', 390, 440);
	return Buffer.from(await document.save());
}

/** A request of one letter to Gull & String Kites, from scratch. */
async function beginLetter(page: Page): Promise<void> {
	await signInAtDesk(page);
	await page.goto('/desk/clients?search=gull');
	await page.getByRole('link', { name: 'Gull & String Kites' }).click();
	await page.getByRole('link', { name: 'Ask for something' }).click();
	await page
		.getByRole('link', { name: /From scratch/ })
		.or(page.getByRole('button', { name: /From scratch/ }))
		.click();
	await awake(page);
	await page.getByRole('button', { name: 'a letter to sign', exact: true }).click();
	await page.getByRole('button', { name: 'leave out' }).first().click();
}

test('one of the client’s papers is found by keyboard and taken to be signed', async ({ page, product }) => {
	await beginLetter(page);
	await page.getByLabel('a PDF of yours').check();
	const opener = page.getByRole('button', { name: 'Take one of their papers …' });
	await opener.press('Enter');
	const field = page.getByLabel('Find among their PDFs');
	await expect(field).toBeFocused();
	const group = page.getByRole('group', { name: 'Their papers' });
	const first = group.getByRole('button').first();
	const name = (await first.textContent())!;
	await expectAccessible(page, 'a paper to sign');
	const { pathname } = new URL(page.url());
	await page.keyboard.type('no such lease', { delay: 15 });
	await page.keyboard.press('Enter');
	await expect(group.getByText('No PDF of theirs was found for “no such lease”.')).toBeVisible();
	await expect(field).toHaveValue('no such lease');
	expect(new URL(page.url()).pathname).toBe(pathname);
	await typeIn(field, name);
	await expect(group.getByRole('button')).not.toHaveCount(0);
	await page.keyboard.press('Tab');
	await expect(first).toBeFocused();
	await page.keyboard.press('Enter');
	await expect(page.getByRole('link', { name, exact: true })).toBeVisible();
	await expect(group).toHaveCount(0);
	await expect(opener).toBeFocused();
	await expect(page.getByLabel('What do you ask for?')).toHaveValue(name.replace(/\.pdf$/i, ''));
	await expect
		.poll(async () => (await product.sql.query(`select 1 from request_draft where content::text like '%' || $1 || '%'`, [name])).rowCount)
		.toBe(1);
	await page.reload();
	await awake(page);
	await page
		.getByText(name.replace(/\.pdf$/i, ''), { exact: true })
		.first()
		.click();
	await page.getByRole('button', { name: 'Put places on the pages …' }).press('Enter');
	const dialog = page.getByRole('dialog');
	await expect(dialog.locator('canvas[data-drawn]').first()).toBeAttached();
	// a place for their title says by itself what is asked
	await dialog.getByRole('button', { name: 'title', exact: true }).press('Enter');
	await dialog.getByRole('button', { name: /^Page 1 of 1\. Enter puts a title/ }).press('Enter');
	await expect(dialog.getByRole('button', { name: 'title of whoever gets this request, Title, page 1' })).toBeFocused();
	await expect(dialog.getByLabel('What is asked. The same words are filled in once.')).toHaveValue('Title');
});

test('a PDF is given places by keyboard and by mouse, signed on a phone, countersigned and sealed', async ({ page, product, browser }) => {
	test.setTimeout(240_000);
	await beginLetter(page);
	await page.getByLabel('a PDF of yours').check();
	const add = async (name: string, mimeType: string, buffer: Buffer) => {
		const [chooser] = await Promise.all([page.waitForEvent('filechooser'), page.getByLabel(/PDF that is signed|another PDF/).click()]);
		await chooser.setFiles({ name, mimeType, buffer });
	};
	// what cannot be signed is named, and what to do
	await add('notes.txt', 'text/plain', Buffer.from('Notes.'));
	await expect(page.getByText('notes.txt is no PDF', { exact: false })).toBeVisible();
	await add('Terms of the year end.pdf', 'application/pdf', await terms());
	await expect(page.getByLabel('What do you ask for?')).toHaveValue('Terms of the year end');
	await expect(page.getByText('Take over the 5 places found in the text')).toBeVisible();
	await expectAccessible(page, 'a letter made of a PDF');

	// by keyboard: a place that was found is taken over, moved and named; another is put by mouse
	const opener = page.getByRole('button', { name: 'Put places on the pages …' });
	await opener.press('Enter');
	const dialog = page.getByRole('dialog');
	await expect(dialog.locator('canvas[data-drawn]').first()).toBeAttached();
	await dialog
		.getByRole('button', { name: /^Found on page 2: signature\. Take it over for whoever gets this request/ })
		.first()
		.press('Enter');
	const signature = dialog.getByRole('button', { name: 'signature of whoever gets this request, page 2' });
	await expect(signature).toBeFocused();
	const before = (await signature.boundingBox())!;
	await page.keyboard.press('Shift+ArrowRight');
	await page.keyboard.press('ArrowDown');
	const after = (await signature.boundingBox())!;
	expect(after.x - before.x).toBeGreaterThan(5);
	await page.keyboard.press('Control+z');
	await page.keyboard.press('Control+z');
	expect(Math.abs((await signature.boundingBox())!.x - before.x)).toBeLessThan(1.5);
	await dialog.getByRole('button', { name: 'text', exact: true }).click();
	const second = dialog.locator('[data-page="2"]');
	await second.scrollIntoViewIfNeeded();
	const box = (await second.boundingBox())!;
	await page.mouse.click(box.x + box.width * 0.7, box.y + box.height * 0.3);
	const label = dialog.getByLabel('What is asked. The same words are filled in once.');
	await typeIn(label, 'Company');
	await expect(label).toHaveValue('Company');
	await expect(dialog.getByRole('button', { name: 'text of whoever gets this request, Company, page 2' })).toBeVisible();
	// whoever has no place is named, until they have one
	await expect(dialog.getByText('There is no place on the pages for anyone of us who may.')).toBeVisible();
	await dialog.getByRole('group', { name: 'For whom' }).getByRole('button', { name: 'anyone of us who may' }).click();
	await dialog.getByRole('button', { name: /^Found on page 2: signature\. Take it over for anyone of us/ }).press('Enter');
	await dialog
		.getByRole('button', { name: /^Found on page 2: date\. Take it over for anyone of us/ })
		.last()
		.press('Enter');
	await expect(dialog.getByText('There is no place on the pages')).toHaveCount(0);
	await expectAccessible(page, 'placing');
	await dialog.getByRole('button', { name: 'Done' }).press('Enter');
	await expect(page.getByRole('button', { name: 'Places on the pages: 4 …' })).toBeFocused();

	// reloaded in the middle, nothing is lost
	await typeIn(page.getByLabel('Title, also the subject of the message'), 'Your year end');
	await expect
		.poll(async () => (await product.sql.query(`select 1 from request_draft where content ->> 'title' = 'Your year end'`)).rowCount)
		.toBe(1);
	await page.reload();
	await awake(page);
	await page.getByText('Terms of the year end', { exact: true }).first().click();
	await expect(page.getByRole('button', { name: 'Places on the pages: 4 …' })).toBeVisible();
	await expect(page.getByLabel('Title, also the subject of the message')).toHaveValue('Your year end');
	await page.getByRole('button', { name: /^Send to/ }).click();
	await page.waitForURL(/clients\/[0-9a-f-]{36}$/);

	// on a phone: read to the end, what is asked is typed key by key and kept through a reload
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, 'mara@gullstring.example');
	await mobile
		.getByRole('link', { name: /Terms of the year end/ })
		.first()
		.click();
	await expect(mobile.getByText('2 places on these pages are yours.')).toBeVisible();
	await expect(mobile.locator('canvas[data-drawn]').first()).toBeAttached();
	await expect(mobile.getByRole('button', { name: 'Sign the letter' })).toBeDisabled();
	await mobile.getByRole('button', { name: 'Show me the next one' }).click();
	await mobile.getByRole('button', { name: 'Mara Whitlock: Company' }).click();
	const company = mobile.getByRole('textbox', { name: 'Company' });
	await expect(company).toBeFocused();
	// the record knows it; they write something else
	await expect(company).toHaveValue('Gull & String Kites');
	await mobile.keyboard.press('End');
	await mobile.keyboard.type(' Limited', { delay: 15 });
	await expect(company).toHaveValue('Gull & String Kites Limited');
	await expect(mobile.getByRole('button', { name: 'Mara Whitlock: Company, Gull & String Kites Limited' })).toBeAttached();
	await expectAccessible(mobile, 'signing pages');
	await mobile.reload();
	await expect(company).toHaveValue('Gull & String Kites Limited');
	await company.fill('');
	await mobile.getByRole('button', { name: 'Type my name' }).scrollIntoViewIfNeeded();
	await expect(mobile.getByText('You have reached the end of the letter.')).toBeVisible();
	await mobile.getByRole('checkbox').check();
	await mobile.getByRole('button', { name: 'Sign the letter' }).click();
	await expect(mobile.getByRole('alert')).toContainText('One thing is left to fill in: Company.');
	await typeIn(company, 'Gull & String Kites Ltd');
	await mobile.getByRole('button', { name: 'Sign the letter' }).click();
	await expect(mobile.getByText(/^You signed this letter on Monday 4 May/)).toBeVisible();

	// the firm reads the same pages, and signs
	await page.goto('/desk/rounds');
	await page.getByRole('link', { name: /Gull & String Kites Terms of the year end, signed by Mara Whitlock/ }).click();
	await page.getByRole('button', { name: 'Read and countersign …' }).click();
	await expect(page.getByRole('dialog').locator('canvas[data-drawn]').first()).toBeAttached();
	await expect(page.getByRole('img', { name: 'Mara Whitlock: Company, Gull & String Kites Ltd' })).toBeAttached();
	await page.getByRole('button', { name: /^Sign “.*” as Odalys Fenwick$/ }).click();
	await expect(page.getByRole('dialog')).toHaveCount(0);
	const signed = mobile.getByRole('link', { name: 'Download the signed letter (PDF)' });
	await expect(async () => {
		await mobile.reload();
		await expect(signed).toBeVisible({ timeout: 1000 });
	}).toPass();
	const [download] = await Promise.all([mobile.waitForEvent('download'), signed.click()]);
	const file = await download.path();
	const text = execFileSync('pdftotext', ['-layout', file, '-'], { encoding: 'utf8' });
	for (const words of [
		'Gull & String Kites Ltd',
		'Mara Whitlock',
		'Odalys Fenwick',
		'4 May 2026',
		'Certificate of signing',
		'Terms of the year end.pdf'
	])
		expect(text).toContain(words);
	expect(execFileSync('pdfsig', [file], { encoding: 'utf8' })).toContain('Total document signed');
	await mobile.context().close();
});

test('a couple signs one after the other: who has signed, and for whom it waits, is said to both sides', async ({ page, product, browser }) => {
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, 'juno@ferrycafe.example');
	await mobile.goto('/portal/pennywhistle-row');
	await mobile.getByRole('button', { name: '3 more that are done' }).click();
	await mobile.getByRole('link', { name: /Consent to one return for both/ }).click();
	await expect(mobile.getByText(/^You signed this letter on .* Abel Thorne and Pennywhistle Row Bookkeeping sign next/)).toBeVisible();
	await expect(mobile.getByText('Abel Thorne is asked to sign')).toBeVisible();
	await expect(mobile.getByRole('button', { name: 'Sign the letter' })).toHaveCount(0);
	await signInAtDesk(page);
	await page.goto('/desk/clients?search=ferry');
	await page.getByRole('link', { name: 'Ferry Café' }).click();
	await page.getByRole('link', { name: 'Consent to one return for both' }).first().click();
	const who = page.getByRole('list', { name: 'Who signs' });
	await expect(who).toContainText('Abel Thorne is asked to sign');
	await expect(page.getByText(/^It can be signed until /)).toBeVisible();
	// somebody else of theirs signs instead of the one who has not
	const { rows } = await product.sql.query<{ client: string; firm: string; id: string; name: string }>(
		`select cc.client_id client, cc.firm_id firm, k.id, k.name from client_contact cc join client c on c.id = cc.client_id, contact k
		where c.name = 'Ferry Café' and k.email = 'tobias@quay.example' limit 1`
	);
	await product.sql.query('insert into client_contact (firm_id, client_id, contact_id, rank) values ($1, $2, $3, 3)', [
		rows[0].firm,
		rows[0].client,
		rows[0].id
	]);
	await page.reload();
	await awake(page);
	const instead = page.getByRole('button', { name: 'Somebody else instead of Abel Thorne' });
	await instead.press('Enter');
	await page.getByLabel('Who instead of Abel Thorne').selectOption(rows[0].name);
	await expectAccessible(page, 'who signs instead');
	await page.getByRole('button', { name: 'They sign' }).press('Enter');
	await expect(who).toContainText(`${rows[0].name} is asked to sign`);
	await expect(who).not.toContainText('Abel Thorne');
	await mobile.reload();
	await expect(mobile.getByText(`${rows[0].name} is asked to sign`)).toBeVisible();
	await mobile.context().close();
});

test('whoever holds a sealed file learns whether it is what was signed; nothing of the file leaves their browser', async ({ page, product }) => {
	const { rows } = await product.sql.query<{ sealed_key: string }>(
		'select sealed_key from letter where sealed_key is not null order by sealed_at limit 1'
	);
	const file = readFileSync(join(product.folder, 'papers', rows[0].sealed_key.slice(0, 2), rows[0].sealed_key));
	const sent: string[] = [];
	page.on('request', (request) => sent.push(request.postData() ?? ''));
	await page.goto('/portal/pennywhistle-row/help');
	await page.getByRole('link', { name: 'Check a signed file' }).click();
	const choose = page.getByLabel(/Choose the file/);
	await choose.setInputFiles({ name: 'letter.pdf', mimeType: 'application/pdf', buffer: file });
	await expect(page.getByRole('heading', { name: 'Yes. It is unchanged.' })).toBeVisible();
	await expect(page.getByText(/^Signed by .* on /).first()).toBeVisible();
	await expectAccessible(page, 'checking a file');
	const changed = Buffer.from(file);
	changed[changed.length - 30] ^= 1;
	await choose.setInputFiles({ name: 'letter.pdf', mimeType: 'application/pdf', buffer: changed });
	await expect(page.getByRole('heading', { name: 'This file was not sealed like this.' })).toBeVisible();
	expect(sent.join('')).not.toContain('%PDF');
	expect(Math.max(...sent.map((body) => body.length))).toBeLessThan(1000);
	// typed key by key; what is wrong is said, and what was typed stays
	await page.getByText('By its fingerprint').click();
	const digest = page.getByLabel('SHA-256 of the file, 64 digits and letters');
	await digest.fill('');
	await typeIn(digest, 'abc');
	await page.getByRole('button', { name: 'Look it up' }).click();
	await expect(page.getByRole('alert')).toContainText('This is no SHA-256');
	await expect(digest).toHaveValue('abc');
});

test('several letters are countersigned in one go, with one’s own password once more', async ({ page, product }) => {
	await signInAtDesk(page, 'ferrin');
	await page.getByRole('link', { name: 'sign several' }).click();
	await awake(page);
	const waiting = page.getByRole('heading', { level: 1 });
	await expect(waiting).toHaveText(/^(\d+ letters wait|One letter waits) for our signature\.$/);
	const before = (await product.sql.query(`select 1 from letter where state = 'signed'`)).rowCount!;
	await expectAccessible(page, 'countersigning several');
	const list = page.getByRole('list', { name: 'Letters that wait for our signature' });
	for (const box of (await list.getByRole('checkbox').all()).slice(0, 2)) await box.press('Space');
	await expect(page.getByRole('button', { name: 'Sign 2 letters as Ferrin Ashgrove' })).toBeEnabled();
	const password = page.getByLabel('Your password, once more');
	await password.pressSequentially('not hers', { delay: 10 });
	await page.keyboard.press('Enter');
	await expect(page.getByRole('alert')).toBeVisible();
	// what was chosen stays
	await expect(page.getByRole('button', { name: 'Sign 2 letters as Ferrin Ashgrove' })).toBeEnabled();
	await password.fill('');
	await password.pressSequentially('lamplight ledger harbour', { delay: 10 });
	await page.keyboard.press('Enter');
	await expect(page.getByText('You have signed 2 letters.', { exact: false })).toBeVisible();
	await expect.poll(async () => (await product.sql.query(`select 1 from letter where state = 'signed'`)).rowCount).toBe(before - 2);
	await expect.poll(async () => (await product.sql.query(`select 1 from letter where state = 'complete'`)).rowCount).toBe(0);
	await page.reload();
	await expect(password.or(page.getByText('Nothing waits for our signature.'))).toBeVisible();
	if (await password.isVisible()) await expect(password).toHaveValue('');
});

test('clauses are numbered on over a heading, as they are written and as they are seen', async ({ page, product }) => {
	await beginLetter(page);
	const words = page.getByRole('textbox', { name: 'Words of Engagement letter' });
	const tools = page.getByRole('toolbar', { name: 'Format the letter' });
	await words.click();
	await page.keyboard.press('Control+a');
	await page.keyboard.press('Delete');
	const type = (text: string) => page.keyboard.type(text, { delay: 8 });
	const starts = () => words.locator('ol').evaluateAll((lists) => lists.map((list) => (list as HTMLOListElement).start));
	await type('1. We keep your books.');
	await page.keyboard.press('Enter');
	await type('You send what they need.');
	await page.keyboard.press('Enter');
	await page.keyboard.press('Enter');
	await tools.getByRole('button', { name: 'Heading' }).click();
	await type('What it costs');
	await page.keyboard.press('Enter');
	await type('1. A fee each month.');
	expect(await starts()).toEqual([1, 1]);
	const goOn = tools.getByRole('button', { name: 'Numbers go on' });
	await goOn.press('Enter');
	await expect(goOn).toHaveAttribute('aria-pressed', 'true');
	expect(await starts()).toEqual([1, 3]);
	// the button gives the focus back to the words
	await expect(words).toBeFocused();
	// and the caret with the next frame, which a click must not come before
	await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))));
	// another clause before it moves it on, and what is taken back takes it back
	await words.getByText('You send what they need.').click();
	await page.keyboard.press('End');
	await page.keyboard.press('Enter');
	await type('We ask if something is unclear.');
	expect(await starts()).toEqual([1, 4]);
	await expect(words.locator('li')).toHaveText([
		'We keep your books.',
		'You send what they need.',
		'We ask if something is unclear.',
		'A fee each month.'
	]);
	await expect
		.poll(async () => (await product.sql.query(`select 1 from request_draft where content::text like '%"goesOn": true%'`)).rowCount)
		.toBe(1);
	await page.reload();
	await awake(page);
	await page.getByText('Engagement letter', { exact: true }).first().click();
	expect(await starts()).toEqual([1, 4]);
	await words.getByText('A fee each month.').click();
	await expect(goOn).toHaveAttribute('aria-pressed', 'true');
	await goOn.click();
	expect(await starts()).toEqual([1, 1]);
});

test('a letter is written with a table, a new page and a part for some; declined, it is sent anew and says what changed', async ({
	page,
	product,
	browser
}) => {
	test.setTimeout(240_000);
	await beginLetter(page);
	const words = page.getByRole('textbox', { name: 'Words of Engagement letter' });
	const tools = page.getByRole('toolbar', { name: 'Format the letter' });
	await words.click();
	await page.keyboard.press('Control+a');
	await page.keyboard.press('Delete');
	const type = (text: string) => page.keyboard.type(text, { delay: 8 });
	await type('What it costs');
	await page.keyboard.press('Enter');
	await tools.getByRole('button', { name: 'Table' }).click();
	for (const cell of ['Service', 'Fee a month', 'Monthly books', '$280', 'Payroll']) {
		await type(cell);
		await page.keyboard.press('Tab');
	}
	await type('$40');
	await expect(words.locator('td, th')).toHaveText(['Service', 'Fee a month', 'Monthly books', '$280', 'Payroll', '$40']);
	await page.getByRole('button', { name: 'Row below' }).click();
	await expect(words.locator('tr')).toHaveCount(4);
	await page.keyboard.press('Tab');
	await page.getByRole('button', { name: 'Take this row out' }).click();
	await expect(words.locator('tr')).toHaveCount(3);
	await page.keyboard.press('Control+End');
	await type('We pay your people on the 15th.');
	await tools.getByRole('button', { name: 'Only for some' }).click();
	const when = page.getByRole('group', { name: 'When this part comes' });
	await expect(when).toBeVisible();
	await expectAccessible(page, 'a part of a letter that comes for some');
	await expect(words.locator('.letter-part')).toHaveText('We pay your people on the 15th.');
	// for everybody again: it stays where it is
	await when.getByRole('button', { name: 'For everybody' }).click();
	await expect(words.locator('.letter-part')).toHaveCount(0);
	await page.keyboard.press('Control+End');
	await page.keyboard.press('Enter');
	await tools.getByRole('button', { name: 'New page' }).click();
	await page.keyboard.press('Control+End');
	await page.keyboard.press('Enter');
	await type('How this ends: in writing.');
	await expect(words.locator('hr')).toHaveCount(1);
	const days = page.getByRole('spinbutton', { name: /^It can be signed for/ });
	await typeIn(days, '21');
	await expect(page.getByText('After that it lapses; who has not signed is told within the last 3 days.', { exact: false })).toBeVisible();
	await typeIn(page.getByLabel('Title, also the subject of the message'), 'Our terms');
	await expect.poll(async () => (await product.sql.query(`select 1 from request_draft where content ->> 'title' = 'Our terms'`)).rowCount).toBe(1);
	await page.reload();
	await awake(page);
	await page.getByText('Engagement letter', { exact: true }).first().click();
	await expect(words.locator('td, th')).toHaveText(['Service', 'Fee a month', 'Monthly books', '$280', 'Payroll', '$40']);
	await expect(words.locator('hr')).toHaveCount(1);
	await expect(days).toHaveValue('21');
	await page.getByRole('button', { name: /^Send to/ }).click();
	await page.waitForURL(/clients\/[0-9a-f-]{36}$/);

	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, 'mara@gullstring.example');
	const letterOn = (name: RegExp) => mobile.getByRole('link', { name }).first();
	await letterOn(/Engagement letter/).click();
	await expect(mobile.getByRole('cell', { name: 'Monthly books' })).toBeVisible();
	await expect(mobile.getByText(/^It can be signed until |It can be signed until Mon 25 May/).first()).toBeVisible();
	await mobile.getByText('I do not want to sign this').click();
	const reason = mobile.getByLabel('What should be different?');
	await typeIn(reason, 'Payroll costs too much.');
	await mobile.getByRole('button', { name: 'Decline to sign' }).click();
	await expect(mobile.getByText('will read why you do not want to sign “Engagement letter”', { exact: false })).toBeVisible();

	const { rows } = await product.sql.query<{ client_id: string; item_id: string }>(
		`select client_id, item_id from letter where state = 'declined' order by id = (select l.id from letter l join item i on i.id = l.item_id where l.state = 'declined' and i.reason like 'Payroll%') desc limit 1`
	);
	await page.goto(`/desk/clients/${rows[0].client_id}/item/${rows[0].item_id}`);
	await awake(page);
	await page.getByRole('button', { name: 'Write a new version …' }).click();
	await page.waitForURL(/ask\?draft=/);
	await awake(page);
	await page.getByText('Engagement letter', { exact: true }).first().click();
	await words.getByText('$40').click();
	await expect(words).toBeFocused();
	await page.keyboard.press('End');
	// the caret is where it was sent, before the next key
	await expect.poll(() => page.evaluate(() => getSelection()?.focusOffset)).toBe(3);
	const fee = words.locator('td').last();
	await page.keyboard.press('Backspace');
	await expect(fee).toHaveText('$4');
	await page.keyboard.press('Backspace');
	await expect(fee).toHaveText('$');
	await type('25');
	await expect(fee).toHaveText('$25');
	await page.getByRole('button', { name: /^Send to/ }).click();
	await page.waitForURL(/clients\/[0-9a-f-]{36}$/);
	const { rows: newer } = await product.sql.query<{ item_id: string }>('select item_id from letter where replaces_id is not null');
	await mobile.goto(`/portal/pennywhistle-row/item/${newer[0].item_id}`);
	const changes = mobile.getByRole('region', { name: 'What changed' });
	await expect(changes.locator('del')).toContainText('40');
	await expect(changes.locator('ins')).toContainText('25');
	await expectAccessible(mobile, 'a new version of a letter');
	await page.goto(`/desk/clients/${rows[0].client_id}/item/${rows[0].item_id}`);
	await expect(page.getByRole('link', { name: 'There is a new version of it' })).toBeVisible();

	// signed with a picture: what is no signature is said, and the right one is shown before it goes
	await mobile.getByRole('button', { name: 'Type my name' }).scrollIntoViewIfNeeded();
	await expect(mobile.getByText('You have reached the end of the letter.')).toBeVisible();
	await mobile.getByRole('button', { name: 'Use a picture' }).press('Enter');
	const choose = mobile.getByLabel('Choose a picture: dark ink on light paper');
	const blank = createCanvas(400, 300);
	const paper = blank.getContext('2d');
	paper.fillStyle = '#e8e4da';
	paper.fillRect(0, 0, 400, 300);
	await choose.setInputFiles({ name: 'blank.png', mimeType: 'image/png', buffer: await blank.encode('png') });
	await expect(mobile.getByRole('alert')).toContainText('No signature was found in this picture.');
	paper.lineWidth = 6;
	paper.moveTo(60, 200);
	paper.bezierCurveTo(120, 60, 220, 260, 340, 120);
	paper.stroke();
	await choose.setInputFiles({ name: 'mine.jpg', mimeType: 'image/jpeg', buffer: await blank.encode('jpeg', 85) });
	await expect(mobile.getByRole('img', { name: 'Your signature, from the picture' })).toBeVisible();
	await expectAccessible(mobile, 'a picture of a signature');
	await mobile.getByRole('checkbox').check();
	await mobile.getByRole('button', { name: 'Sign the letter' }).click();
	await expect(mobile.getByText(/^You signed this letter on Monday 4 May/)).toBeVisible();
	const { rows: marks } = await product.sql.query<{ method: string }>(
		`select mark ->> 'method' as method from signature order by signed_at desc limit 1`
	);
	expect(marks).toEqual([{ method: 'picture' }]);
	await mobile.context().close();
});

test('the trail of a letter is read at the desk, and taken out as a file that holds together by itself', async ({ page, product }) => {
	const { rows } = await product.sql.query<{ at: string }>(
		`select client_id || '/item/' || item_id as at from letter where state = 'sealed' order by sealed_at limit 1`
	);
	await signInAtDesk(page);
	await page.goto(`/desk/clients/${rows[0].at}`);
	await page.getByRole('link', { name: /^The trail:/ }).press('Enter');
	await expect(page.getByText(/^\d+ entries, unbroken\.$/)).toBeVisible();
	await expect(page.getByText('Up to here it stands in the sealed file')).toHaveCount(1);
	const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'Download as JSON' }).press('Enter')]);
	const trail = JSON.parse(readFileSync(await download.path(), 'utf8'));
	let hash: string = trail.document;
	for (const entry of trail.entries) {
		hash = createHash('sha256').update(`${hash}\n${entry.said}`).digest('hex');
		expect(hash).toBe(entry.hash);
	}
	const pdf = await page.context().request.get((await page.getByRole('link', { name: 'Open as PDF' }).getAttribute('href'))!);
	expect([pdf.status(), (await pdf.body()).subarray(0, 5).toString()]).toEqual([200, '%PDF-']);
});
