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
	await expect(page.getByRole('heading', { name: 'Four files have no place yet.' })).toBeVisible();
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
		['insurance renewal.pdf', 'Three'],
		['card april.pdf', 'Four']
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
