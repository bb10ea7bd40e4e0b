import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { createCanvas } from '@napi-rs/canvas';
import { awake, expect, expectAccessible, phone, signInAtDesk, signInAtPortal, test } from './product';

test.use({ file: 'pages' });

test('a scan of two papers is taken apart by keyboard, kept over a reload, and taken back; who was slower is told', async ({
	page,
	browser,
	product
}) => {
	test.setTimeout(150_000);
	await signInAtDesk(page);
	await page.goto('/desk/arrivals');
	await awake(page);
	await page.getByRole('link', { name: /scan0012\.pdf/ }).click();
	await page.getByRole('link', { name: 'Split it, join it with others, turn its pages' }).click();
	await page.waitForURL('**/pages');
	await awake(page);
	const sheet = (n: number) => page.getByRole('button', { name: `Page ${n} of scan0012.pdf` });
	await expect(sheet(3)).toHaveAccessibleName('Page 3 of scan0012.pdf, looks blank');
	await expectAccessible(page, 'the pages of a file');
	const second = await (await browser.newContext({ baseURL: product.origin })).newPage();
	await signInAtDesk(second, 'ferrin');
	await second.goto(new URL(page.url()).pathname);
	await awake(second);

	// without choosing anything, a key is about the page that has the focus
	await sheet(1).focus();
	for (let n = 0; n < 3; n++) await page.keyboard.press('ArrowRight');
	await expect(sheet(4)).toBeFocused();
	await page.keyboard.press('t');
	await page.keyboard.press('t');
	await page.keyboard.press('f');
	await expect(sheet(4)).toBeFocused();
	await expect(sheet(4)).toHaveAccessibleName('Page 4 of scan0012.pdf, turned by 180 degrees');
	await page.getByRole('button', { name: 'Leave out the page that looks blank' }).press('Enter');
	await expect(page.getByText('one page left out')).toBeVisible();
	await page.getByLabel('Name of file 1').pressSequentially('Notice of assessment', { delay: 10 });
	await page.keyboard.press('Tab');
	await page.getByLabel('Name of file 2').pressSequentially('Premium / shop', { delay: 10 });
	await page.reload();
	await awake(page);
	await expect(page.getByLabel('Name of file 1')).toHaveValue('Notice of assessment');
	await expect(page.getByLabel('Name of file 2')).toHaveValue('Premium / shop');
	await expect(sheet(4)).toHaveAccessibleName(/turned by 180 degrees/);
	await page.getByRole('button', { name: 'Make 2 files' }).press('Enter');
	await page.waitForURL('**/rounds/arrival-*');
	await expect(page.getByRole('complementary').getByRole('heading', { name: 'Notice of assessment.pdf' })).toBeVisible();

	await expect(second.getByRole('button', { name: /^Page 2 of/ })).toBeVisible();
	await second.getByRole('button', { name: 'Every page a file of its own' }).click();
	await second.getByRole('button', { name: 'Make 4 files' }).click();
	await expect(second.getByRole('alert')).toContainText('scan0012.pdf has its place by now');
	// the page stays, and what it says with it
	await expect(second.getByRole('button', { name: 'Make 4 files' })).toBeEnabled();
	await expect(second.getByRole('alert')).toContainText('Nothing was changed.');
	await second.context().close();

	await page.goto('/desk/arrivals');
	await awake(page);
	await expect(page.getByRole('heading', { name: 'Eight files have no place yet.' })).toBeVisible();
	await expect(page.getByRole('link', { name: /^Premium - shop\.pdf|Premium - shop\.pdf/ })).toBeVisible();
	await expect(page.getByText('its pages are in 2 files')).toBeVisible();
	await page.getByRole('button', { name: 'Take scan0012.pdf out of its place' }).press('Enter');
	await expect(page.getByRole('heading', { name: 'Seven files have no place yet.' })).toBeVisible();
	await expect(page.getByText('Premium - shop.pdf')).toHaveCount(0);
	await expect(page.getByRole('link', { name: /scan0012\.pdf/ })).toBeVisible();

	// what has no pages is read there too
	await page.getByRole('link', { name: /till april\.csv/ }).click();
	await expect(page.getByRole('complementary').getByRole('cell', { name: '1180.20' })).toBeVisible();
	await expect(page.getByRole('link', { name: 'Split it, join it with others, turn its pages' })).toHaveCount(0);
});

test('a client photographs two pages on their phone, which come in as one document in the order they chose', async ({ browser, product }) => {
	test.setTimeout(120_000);
	const photo = (colour: string, width: number, height: number) => {
		const canvas = createCanvas(width, height);
		const drawing = canvas.getContext('2d');
		drawing.fillStyle = colour;
		drawing.fillRect(0, 0, width, height);
		return { name: `${colour}.jpg`, mimeType: 'image/jpeg', buffer: canvas.toBuffer('image/jpeg') };
	};
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, 'mara@gullstring.example');
	await mobile.getByRole('link', { name: 'Send us something we did not ask for' }).click();
	await mobile.waitForURL(/send$/);
	await mobile.waitForLoadState('networkidle');
	await mobile.getByRole('button', { name: 'Several photos as one document' }).press('Enter');
	const panel = mobile.getByRole('region', { name: 'Several photos as one document' });
	await panel.getByLabel('Photograph a page').setInputFiles([photo('red', 300, 400)]);
	await panel
		.getByLabel('Choose photos')
		.setInputFiles([photo('blue', 400, 300), { name: 'notes.jpg', mimeType: 'image/jpeg', buffer: Buffer.from('no picture') }]);
	await expect(panel.getByRole('alert')).toHaveText('notes.jpg cannot be opened on this device. Add it as a file of its own.');
	await expect(panel.getByRole('listitem')).toHaveCount(2);
	await panel.getByRole('button', { name: 'Page 2 earlier' }).press('Enter');
	await panel.getByRole('button', { name: 'Turn page 1' }).press('Enter');
	await panel.getByLabel('What is it called? (optional)').pressSequentially('Lease of the loft', { delay: 10 });
	await expectAccessible(mobile, 'several photos as one document');
	await panel.getByRole('button', { name: 'Add them as one document of 2 pages' }).press('Enter');
	const link = mobile.getByRole('link', { name: 'Lease of the loft.pdf' });
	await expect(link).toBeVisible();
	await expect(panel).toHaveCount(0);
	const file = test.info().outputPath('lease.pdf');
	writeFileSync(file, await (await mobile.request.get((await link.getAttribute('href'))!)).body());
	const said = execFileSync('pdfinfo', ['-l', '2', file], { encoding: 'utf8' });
	// the blue one lies, and is turned; the red one stands
	expect(said).toMatch(/Pages: +2\n[\s\S]*Page +1 size: +842 x 631[\s\S]*Page +1 rot: +90[\s\S]*Page +2 size: +631\.5 x 842/);
});

test('what regularly comes is kept by itself once somebody allows it, tried on the past year, and changed by keyboard', async ({
	page,
	browser,
	product
}) => {
	test.setTimeout(150_000);
	await signInAtDesk(page);
	await page.goto('/desk/arrivals');
	await awake(page);
	await page.getByRole('link', { name: /till april\.csv/ }).click();
	const leaf = page.getByRole('complementary');
	await leaf.getByLabel('Folder').selectOption('Bills and receipts');
	await leaf.getByLabel('from now on keep what Rosalba Finch sends with “till” in its name there by itself').press('Space');
	await leaf.getByRole('button', { name: 'Keep it among their papers' }).press('Enter');
	await expect(page.getByRole('link', { name: /till april\.csv/ })).toHaveCount(0);
	await page.goto('/desk/arrivals');
	await awake(page);
	await expect(page.getByText('“till” from Rosalba Finch')).toBeVisible();
	await page.getByRole('button', { name: 'Try: “till” from Rosalba Finch of The Copper Thimble' }).press('Enter');
	await expect(page.getByRole('status')).toHaveText('would have filed 1 in the past year, none of them elsewhere than you did');
	await expectAccessible(page, 'Arrivals with rules');

	const { rows } = await product.sql.query<{ email: string }>(
		`select ct.email::text from contact ct join client_contact cc on cc.contact_id = ct.id join client c on c.id = cc.client_id
		where c.name = 'The Copper Thimble' and ct.name = 'Rosalba Finch'`
	);
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, rows[0].email);
	await mobile.goto('/portal/pennywhistle-row/send');
	await mobile.waitForLoadState('networkidle');
	await mobile
		.locator('input[type=file]')
		.first()
		.setInputFiles([{ name: 'till may.csv', mimeType: 'text/csv', buffer: Buffer.from('day,cash\n2026-05-01,1\n') }]);
	await expect(mobile.getByRole('link', { name: 'till may.csv' })).toBeVisible();
	const rule = page.getByRole('listitem').filter({ hasText: 'from Rosalba Finch' }).filter({ hasText: 'allowed by' });
	await expect(rule.getByText('1 filed; allowed by Odalys')).toBeVisible({ timeout: 60_000 });

	await page.getByRole('button', { name: 'Change: “till” from Rosalba Finch of The Copper Thimble' }).press('Enter');
	const words = page.getByLabel('Words that all stand in its name, or in it');
	await words.focus();
	await page.keyboard.press('ControlOrMeta+a');
	await page.keyboard.type('Till, shop', { delay: 10 });
	await expect(words).toHaveValue('Till, shop');
	await page.keyboard.press('Tab');
	await page.keyboard.press('ControlOrMeta+a');
	await page.keyboard.type('Takings', { delay: 10 });
	await page.keyboard.press('Enter');
	await expect(page.getByText('“shop” and “till” from Rosalba Finch')).toBeVisible();
	await expect(rule.getByText('Takings')).toBeVisible();
	await page.getByRole('button', { name: /^Switch off: “shop” and “till”/ }).press('Enter');
	await expect(page.getByText('“shop” and “till” from Rosalba Finch')).toHaveCount(0);
});
