import { beginLetterToNewClient, codeIn, linkIn, signOpenLetter } from './letter-by-link';
import { expect, expectAccessible, mailTo, phone, test } from './product';

test.use({ file: 'identity_check' });

test('somebody shows who they are before they see the letter: twice wrong, let try again by the firm, then right, and signed', async ({
	page,
	product,
	browser
}) => {
	test.setTimeout(240_000);
	const client = await beginLetterToNewClient(page);
	const way = page.getByRole('combobox', { name: 'How whoever gets this request comes to it' });
	await way.focus();
	for (let n = 0; n < 3; n++) await page.keyboard.press('ArrowDown');
	await expect(way).toHaveValue('link_check');
	await expect(way.locator('option:checked')).toHaveText('by a link of their own, a code by e-mail and an identity check (costs 1.40 CAD each time)');
	await expect(page.getByText('which costs 1.40 CAD each time.')).toBeVisible();
	await page.getByLabel('by themselves, once all have signed').check();
	await page.getByRole('button', { name: 'Send the letter to Ines' }).click();
	await page.waitForURL(client);

	const mobile = await phone(browser, product.origin);
	const link = linkIn(await mailTo(product, 'ines@ninthrock.example', 'request'));
	await mobile.goto(link);
	await mobile.waitForLoadState('networkidle');
	await expect(mobile.getByText('After the code, Quayside Identity (simulated) asks you a few questions')).toBeVisible();
	await mobile.getByRole('button', { name: 'Send me the code' }).press('Enter');
	await expect(mobile.getByLabel('The code, eight digits')).toBeFocused();
	await mobile.keyboard.type(codeIn(await mailTo(product, 'ines@ninthrock.example', 'letter_code')), { delay: 15 });
	await mobile.getByRole('button', { name: 'Go on' }).click();
	// what is told to whom comes before anything is asked, and nothing of the letter is there yet
	await expect(mobile.getByRole('heading', { name: 'A few questions about you' })).toBeFocused();
	await expect(mobile.getByText('It gets your name and your e-mail address.')).toBeVisible();
	await expect(mobile.getByText('You have 2 tries.')).toBeVisible();
	expect(await mobile.content()).not.toContain('$280');
	await expectAccessible(mobile, 'before the questions');

	const begin = mobile.getByRole('button', { name: 'Ask me the questions' });
	const send = mobile.getByRole('button', { name: 'Send my answers' });
	const groups = mobile.getByRole('group');
	await begin.press('Enter');
	await expect(mobile.getByRole('heading', { name: 'Quayside Identity (simulated) asks' })).toBeFocused();
	await expect(groups).toHaveCount(4);
	await expectAccessible(mobile, 'the questions');
	// not all answered: nothing goes; read anew in the middle, the same questions are there
	await groups.first().getByRole('radio').last().check();
	await send.click();
	await expect(groups).toHaveCount(4);
	await mobile.reload();
	await expect(groups).toHaveCount(4);
	const wrong = async () => {
		for (const group of await groups.all()) await group.getByRole('radio').last().check();
		await send.press('Enter');
	};
	await wrong();
	await expect(mobile.getByRole('alert')).toHaveText('These answers do not show who you are. You can try again, and the questions may be others.');
	await expect(mobile.getByText('This is your last try.')).toBeVisible();
	await begin.press('Enter');
	await expect(groups).toHaveCount(4);
	await wrong();
	await expect(mobile.getByText('It could not be confirmed that it is you, so the letter stays closed.')).toBeFocused();
	await expect(mobile.getByRole('link', { name: '(902) 555-0142' })).toBeVisible();
	await expect(mobile.getByRole('main').getByRole('button')).toHaveCount(0);
	await expectAccessible(mobile, 'stopped');

	await page.goto('/desk/rounds');
	await expect(page.getByRole('heading', { name: /Could not show who they are/ })).toBeVisible();
	await page.getByRole('link', { name: /Engagement letter: Ines Brandt did not pass the identity check, 0 of 100 points/ }).click();
	await expect(page.getByText('Ines Brandt cannot sign: they have no try left.')).toBeVisible();
	await expect(page.getByText('did not pass the identity check, 0 of 100 points (1.40 CAD)')).toHaveCount(2);
	await expect(page.getByText('Nobody is reminded of it: who signs could not show who they are.')).toBeVisible();
	await expectAccessible(page, 'stopped, at the desk');
	await page.getByRole('button', { name: 'Let Ines Brandt try again' }).press('Enter');
	await expect(page.getByText('Ines Brandt cannot sign')).toHaveCount(0);
	await mobile.reload();
	await mobile.waitForLoadState('networkidle');
	// the browser in which the code was given goes on with the questions
	await begin.press('Enter');
	await expect(groups).toHaveCount(4);
	// by keys alone: into each group with Tab, its first answer with the space bar
	await mobile.getByRole('heading', { name: 'Quayside Identity (simulated) asks' }).focus();
	for (let n = 0; n < 4; n++) {
		await mobile.keyboard.press('Tab');
		await mobile.keyboard.press('Space');
	}
	await mobile.keyboard.press('Tab');
	await expect(send).toBeFocused();
	await mobile.keyboard.press('Enter');
	await expect(mobile.getByRole('heading', { name: 'Engagement letter', level: 1 })).toBeFocused();
	await signOpenLetter(mobile);

	await page.goto('/desk/rounds');
	await page.getByRole('link', { name: /Ninth Rock Oysters Engagement letter, signed by Ines Brandt/ }).click();
	await expect(page.getByText('has signed Mon 4 May by a link of their own, a code by e-mail and an identity check')).toBeVisible();
	await expect(page.getByText('passed the identity check, 100 of 100 points')).toBeVisible();
	await page.getByRole('link', { name: 'The trail: who did what, when and from where' }).click();
	await expect(page.getByText('passed the identity check of Quayside Identity (simulated)').first()).toBeVisible();
});
