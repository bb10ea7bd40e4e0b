import { beginLetterToNewClient, codeIn, linkIn, signOpenLetter } from './letter-by-link';
import { awake, expect, expectAccessible, mailTo, phone, test, typeIn } from './product';

test.use({ file: 'by_link' });

test('somebody without access signs by a link of their own and a code; the rest and their invitation go once all have signed', async ({
	page,
	product,
	browser
}) => {
	test.setTimeout(240_000);
	const client = await beginLetterToNewClient(page);
	const way = page.getByRole('combobox', { name: 'How whoever gets this request comes to it' });
	await way.focus();
	await page.keyboard.press('ArrowDown');
	await expect(way).toHaveValue('link_mail');
	await expect(page.getByText('Whoever gets this request signs by a link of their own and a code by e-mail.')).toBeVisible();
	// beside other lines they need their invitation; alone the letter needs none
	await expect(page.getByText('Ines Brandt has no access yet.', { exact: true })).toBeVisible();
	await page.getByLabel('by themselves, once all have signed').check();
	await expect(page.getByText('Ines Brandt has no access yet and needs none for this: the message has the link by which they sign.')).toBeVisible();
	await expect(page.getByText('Saved as a draft.')).toBeVisible();
	await page.reload();
	await awake(page);
	await expect(page.getByText('Ines Brandt has no access yet and needs none for this')).toBeVisible();
	await expectAccessible(page, 'a letter by link');
	await page.getByRole('button', { name: 'Send the letter to Ines' }).click();
	await page.waitForURL(client);

	const mail = await mailTo(product, 'ines@ninthrock.example', 'request');
	expect(mail).toContain('Read and sign');
	expect(mail).not.toContain('/join/');
	const link = linkIn(mail);
	const mobile = await phone(browser, product.origin);
	await mobile.goto(link);
	await mobile.waitForLoadState('networkidle');
	await expect(mobile.getByRole('heading', { name: 'A letter to sign' })).toBeVisible();
	await expect(mobile.getByText('i***@ninthrock.example')).toBeVisible();
	expect(await mobile.content()).not.toContain('$280');
	await expectAccessible(mobile, 'the door of a letter');
	await mobile.getByRole('button', { name: 'Send me the code' }).press('Enter');
	const field = mobile.getByLabel('The code, eight digits');
	await expect(field).toBeFocused();
	const code = codeIn(await mailTo(product, 'ines@ninthrock.example', 'letter_code'));
	await mobile.keyboard.type('1234 5678', { delay: 15 });
	await mobile.keyboard.press('Enter');
	await expect(mobile.getByRole('alert')).toHaveText('That is not the code. Please type all eight digits from the newest message.');
	await expect(field).toHaveValue('1234 5678');
	await expectAccessible(mobile, 'a wrong code');
	await typeIn(field, code);
	await mobile.getByRole('button', { name: 'Open the letter' }).click();
	await expect(mobile.getByRole('heading', { name: 'Engagement letter', level: 1 })).toBeFocused();
	await expect(mobile.getByText('$280').first()).toBeVisible();

	// another browser with the same link is at the door, whatever it tries
	const other = await phone(browser, product.origin);
	await other.goto(link);
	await expect(other.getByRole('heading', { name: 'A letter to sign' })).toBeVisible();
	const pdf = await other.request.get(`${link}/pdf`, { maxRedirects: 0 });
	expect(pdf.status()).toBe(303);
	const refused = await other.request.post(`${link}?/sign`, {
		headers: { origin: product.origin, 'x-sveltekit-action': 'true' },
		form: { name: 'Ines Brandt', consent: 'yes', readWhole: 'yes' }
	});
	expect(await refused.text()).toContain('closed');
	const large = await other.request.post(`${link}?/sign`, { headers: { origin: product.origin }, form: { signature: 'x'.repeat(2_000_000) } });
	expect(large.status()).toBe(413);
	await other.goto('/portal/pennywhistle-row');
	await expect(other.getByRole('button', { name: 'Sign in', exact: true })).toBeVisible();
	// nor is anything else of the portal open to the browser that was let in
	const beside = await mobile.request.get('/portal/pennywhistle-row/papers', { maxRedirects: 0, headers: { accept: 'text/html' } });
	expect(beside.status()).toBe(303);

	// asked about; closed from elsewhere while they type, nothing typed is lost
	await mobile.getByText('Ask about this').click();
	const question = mobile.getByLabel('Your question or remark');
	await question.pressSequentially('From which month on?', { delay: 10 });
	await expect.poll(async () => (await product.sql.query(`select 1 from item where typed::text like '%From which month on%'`)).rowCount).toBe(1);
	await product.sql.query(`update letter_visit set let_in_at = let_in_at - interval '9 hours' where let_in_at is not null`);
	await mobile.getByRole('button', { name: 'Send it' }).click();
	await expect(mobile.getByText('For your safety the letter was closed. Open it again; what you typed is kept.')).toBeVisible();
	await mobile.getByRole('button', { name: 'Send me the code' }).click();
	await expect(field).toBeVisible();
	await expect.poll(async () => codeIn(await mailTo(product, 'ines@ninthrock.example', 'letter_code')) !== code, { timeout: 20_000 }).toBe(true);
	await typeIn(field, codeIn(await mailTo(product, 'ines@ninthrock.example', 'letter_code')));
	await field.press('Enter');
	await expect(question).toHaveValue('From which month on?');
	await mobile.getByRole('button', { name: 'Send it' }).click();
	await expect(mobile.getByText('From which month on?', { exact: true })).toBeVisible();
	await mobile.reload();
	await expect(mobile.getByText('From which month on?', { exact: true })).toBeVisible();

	await signOpenLetter(mobile);
	await expectAccessible(mobile, 'signed by a link');
	await mobile.getByRole('button', { name: 'Close the letter on this device' }).click();
	await expect(mobile.getByRole('heading', { name: 'A letter to sign' })).toBeVisible();
	await expect(mobile.getByText('For your safety')).toHaveCount(0);
	await expect(mobile.getByText('Ines Brandt has signed “Engagement letter”. It can be read here.')).toBeVisible();

	// at the desk: how they come to it, and who signed by what
	await page.goto('/desk/rounds');
	await page.getByRole('link', { name: /Ninth Rock Oysters Engagement letter, signed by Ines Brandt/ }).click();
	await expect(page.getByText('has signed Mon 4 May by a link of their own and a code by e-mail')).toBeVisible();
	await page.getByRole('button', { name: 'Read and countersign …' }).click();
	await page.getByRole('button', { name: /^Sign “.*” as Odalys Fenwick$/ }).click();
	await expect(page.getByRole('dialog')).toHaveCount(0);
	const copy = await mailTo(product, 'ines@ninthrock.example', 'signed_copy');
	expect(linkIn(copy)).toBe(link);
	// the rest went, and with it their invitation, with the next message of the day
	await expect
		.poll(
			async () =>
				(await product.sql.query(`select 1 from invitation v join contact c on c.id = v.contact_id where c.email = 'ines@ninthrock.example'`))
					.rowCount,
			{ timeout: 30_000 }
		)
		.toBe(1);
});
