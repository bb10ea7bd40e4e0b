import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { PDFDocument, StandardFonts } from '@cantoo/pdf-lib';
import { awake, expect, expectAccessible, phone, signInAtDesk, signInAtPortal, test, typeIn } from './product';

test.use({ file: 'onpaper' });

async function scan(words: string): Promise<Buffer> {
	const document = await PDFDocument.create();
	const page = document.addPage([612, 792]);
	page.drawText(words, { x: 64, y: 700, size: 14, font: await document.embedFont(StandardFonts.TimesRomanItalic) });
	return Buffer.from(await document.save());
}

test('somebody rather signs on paper: sends the pages, is told what is missing, sends others, and the sealed file holds them', async ({
	page,
	product,
	browser
}) => {
	test.setTimeout(240_000);
	const { rows } = await product.sql.query<{ item: string; title: string; name: string; email: string; client: string; letter: string }>(
		`select s.item_id item, i.title, s.name, c.email, cl.name client, s.letter_id letter from letter_signer s join letter l on l.id = s.letter_id and l.state = 'sent'
			join item i on i.id = s.item_id join contact c on c.id = s.contact_id join client cl on cl.id = s.client_id
		where s.state = 'asked' and s.signs_by = 'portal' and c.password_hash is not null and not exists (select from jsonb_array_elements(l.places) p where p ->> 'kind' in ('account', 'routing'))
			and (select count(*) from letter_signer o where o.letter_id = s.letter_id and o.side = 'client' and not o.copy) = 1
		order by cl.name limit 1`
	);
	const [one] = rows;
	// the words are looked for in English
	await product.sql.query(`update contact set locale = 'en' where email = $1`, [one.email]);
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, one.email);
	await mobile.goto(`/portal/pennywhistle-row/item/${one.item}`);
	await mobile.waitForLoadState('networkidle');
	const unfold = mobile.getByText('Rather sign on paper');
	await unfold.focus();
	await mobile.keyboard.press('Enter');
	await expect(mobile.getByText('Print the letter, sign it by hand, and send us all its pages')).toBeVisible();
	await expect(mobile.getByRole('button', { name: 'Send the signed pages' })).toHaveCount(0);
	const choose = async (name: string, words: string) =>
		mobile
			.locator('details[open] input[type=file]')
			.first()
			.setInputFiles({ name, mimeType: 'application/pdf', buffer: await scan(words) });
	await choose('page one.pdf', 'Only the first page');
	const send = mobile.getByRole('button', { name: 'Send the signed pages' });
	await expect(send).toBeVisible();
	// what is not sent yet outlives a reload
	await mobile.reload();
	await mobile.waitForLoadState('networkidle');
	await expect(mobile.getByRole('link', { name: 'page one.pdf' })).toBeVisible();
	await expectAccessible(mobile, 'signing on paper');
	await send.dblclick();
	await expect(mobile.getByText('You sent it signed by hand.')).toBeFocused();
	await expect(send).toHaveCount(0);

	await signInAtDesk(page);
	await page.goto('/desk/rounds');
	await expect(page.getByRole('heading', { name: /Signed on paper, to look at/ })).toBeVisible();
	await page.getByRole('link', { name: new RegExp(`${one.title}: ${one.name} sent it signed by hand`) }).click();
	await awake(page);
	await expect(page.getByText(`${one.name} sent it signed by hand,`, { exact: false }).last()).toBeVisible();
	await expect(page.getByText('Nobody is reminded of it: the pages that were signed by hand wait to be looked at.')).toBeVisible();
	await page.getByRole('button', { name: 'Send it back …' }).press('Enter');
	await typeIn(page.getByLabel(`What is missing; ${one.name} reads it`), 'Only the first page came. Please send all of them.');
	await page.getByRole('button', { name: 'Send it back', exact: true }).press('Enter');
	await expect(page.getByRole('button', { name: 'Send it back …' })).toHaveCount(0);

	await mobile.reload();
	await mobile.waitForLoadState('networkidle');
	await expect(mobile.getByText('Only the first page came. Please send all of them.')).toBeVisible();
	await choose('all pages.pdf', 'Signed in ink');
	await expect(mobile.getByRole('link', { name: 'all pages.pdf' })).toBeVisible();
	await mobile.getByRole('button', { name: /page one\.pdf/ }).click();
	await expect(mobile.getByRole('link', { name: 'page one.pdf' })).toHaveCount(0);
	await send.click();
	await expect(mobile.getByText('You sent it signed by hand.')).toBeVisible();

	await page.goto(`/desk/items/${one.item}`);
	await awake(page);
	await page.getByRole('button', { name: 'Take it as signed …' }).press('Enter');
	await expect(page.getByRole('checkbox', { name: /^all pages\.pdf/ })).toBeChecked();
	await expectAccessible(page, 'taking what was signed on paper');
	const take = page.getByRole('button', { name: 'Take it as signed', exact: true });
	// without saying that one has looked nothing happens
	await take.press('Enter');
	expect((await product.sql.query('select 1 from signature where letter_id = $1', [one.letter])).rowCount).toBe(0);
	await page.getByRole('checkbox', { name: /I have looked at the pages/ }).press('Space');
	await take.press('Enter');
	await expect(page.getByText(/has signed .*, by hand on paper/)).toBeVisible({ timeout: 30_000 });
	await mobile.reload();
	await expect(mobile.getByText(/^You signed this letter on /)).toBeVisible();

	await page.goto('/desk/rounds');
	await page.getByRole('link', { name: new RegExp(`${one.title}, signed by ${one.name}`) }).click();
	await page.getByRole('button', { name: 'Read and countersign …' }).click();
	await page.getByRole('button', { name: /^Sign “.*” as Odalys Fenwick$/ }).click();
	await expect(page.getByRole('dialog')).toHaveCount(0);
	await expect
		.poll(async () => (await product.sql.query('select state from letter where id = $1', [one.letter])).rows[0].state, { timeout: 60_000 })
		.toBe('sealed');
	await mobile.reload();
	const href = await mobile.getByRole('link', { name: 'Download the signed letter (PDF)' }).getAttribute('href');
	const file = join(mkdtempSync(join(tmpdir(), 'on-paper-')), 'letter.pdf');
	writeFileSync(file, await (await mobile.request.get(href!)).body());
	const said = execFileSync('pdftotext', ['-layout', file, '-'], { encoding: 'utf8' }).replace(/\s+/g, ' ');
	expect(said).toContain('Signed in ink');
	expect(said).toContain('Signed by hand on paper; the pages follow the letter.');
	expect(said).not.toContain('Only the first page');
	await mobile.context().close();
});
