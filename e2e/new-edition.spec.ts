import { PDFDocument, StandardFonts } from '@cantoo/pdf-lib';
import { awake, expect, expectAccessible, signInAtDesk, test } from './product';

test.use({ file: 'newedition' });

async function terms(fee: string, pagesBetween: number): Promise<Buffer> {
	const document = await PDFDocument.create();
	const font = await document.embedFont(StandardFonts.Helvetica);
	document.addPage([612, 792]).drawText(`The fee is ${fee} a month.`, { x: 64, y: 700, size: 11, font });
	for (let n = 0; n < pagesBetween; n++) document.addPage([612, 792]).drawText(`Schedule ${n + 1}`, { x: 64, y: 700, size: 11, font });
	const last = document.addPage([612, 792]);
	for (const [at, words] of [
		'For the client',
		'Signature: ______________________________',
		'For us',
		'Signature: ______________________________'
	].entries())
		last.drawText(words, { x: 64, y: 640 - at * 50, size: 11, font });
	return Buffer.from(await document.save());
}

test('the PDF of a template is exchanged for a new edition, in the Library: the places go along, and it can be undone', async ({ page, product }) => {
	await signInAtDesk(page);
	await page.goto('/desk/library/lists');
	await page.getByRole('link', { name: /Taking on a client/ }).click();
	await awake(page);
	await page.getByText('Engagement letter', { exact: true }).first().click();
	await page.getByLabel('a PDF of yours').check();
	await page
		.getByLabel(/^Add the PDF that is signed/)
		.setInputFiles({ name: 'Terms 2026.pdf', mimeType: 'application/pdf', buffer: await terms('300 CAD', 0) });
	await page.getByRole('button', { name: 'Take over the 2 places found in the text' }).click();
	await expect(page.getByRole('button', { name: 'Places on the pages: 2 …' })).toBeVisible();
	const exchange = page.getByLabel('A new edition of Terms 2026.pdf');
	await exchange.focus();
	await expect(exchange).toBeFocused();
	// what cannot be signed is refused, and the old one stays
	await exchange.setInputFiles({ name: 'notes.pdf', mimeType: 'application/pdf', buffer: Buffer.from('no PDF') });
	await expect(page.getByText(/^notes\.txt is no PDF/)).toBeVisible();
	await expect(page.getByRole('link', { name: 'Terms 2026.pdf' })).toBeVisible();
	await exchange.setInputFiles({ name: 'Terms 2027.pdf', mimeType: 'application/pdf', buffer: await terms('340 CAD', 2) });
	const said = page.getByText('Terms 2027.pdf instead of Terms 2026.pdf. 2 places went with their words.');
	await expect(said).toBeVisible();
	await expect(page.getByLabel('What do you ask for?')).toHaveValue('Terms 2027');
	await page.getByText('What it says otherwise').click();
	await expect(page.locator('ins', { hasText: '340' })).toBeVisible();
	await expectAccessible(page, 'a new edition');
	await page.getByRole('button', { name: 'Undo' }).click();
	await expect(page.getByLabel('What do you ask for?')).toHaveValue('Terms 2026');
	await expect(page.getByRole('link', { name: 'Terms 2026.pdf' })).toBeVisible();
	await page
		.getByLabel('A new edition of Terms 2026.pdf')
		.setInputFiles({ name: 'Terms 2027.pdf', mimeType: 'application/pdf', buffer: await terms('340 CAD', 2) });
	await expect(said).toBeVisible();
	await page.getByRole('button', { name: 'Save as a new version' }).click();
	await expect
		.poll(
			async () =>
				(
					await product.sql.query<{ on: string }>(
						`select string_agg(p ->> 'page', ',' order by (p ->> 'y')::numeric) as on from request_list l, jsonb_array_elements(l.lines) line, jsonb_array_elements(line -> 'spec' -> 'signing' -> 'places') p
						where l.name = 'Taking on a client'`
					)
				).rows[0]?.on
		)
		.toBe('4,4');
});
