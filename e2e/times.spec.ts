import { awake, expect, expectAccessible, signInAtDesk, signInAtPortal, test, phone } from './product';

test.use({ file: 'times' });

const PORTAL = '/portal/pennywhistle-row';

test('a client says on a phone when they may be written to, and what the firm shows and sends goes by it', async ({ page, browser, product }) => {
	test.setTimeout(240_000);
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, 'mara@gullstring.example');
	await mobile.waitForLoadState('networkidle');
	await mobile.getByRole('link', { name: 'What we write to you' }).click();
	await expect(mobile.getByRole('heading', { name: 'What Pennywhistle Row Bookkeeping writes to you' })).toBeVisible();
	await mobile.waitForLoadState('networkidle');
	await expectAccessible(mobile, 'what is written to a client');

	// hours typed key by key; one alone is refused where it stands, and what was typed is kept
	const from = mobile.getByLabel('Not before');
	await from.focus();
	await mobile.keyboard.type('1100AM');
	await expect(from).toHaveValue('11:00');
	const save = mobile.getByRole('button', { name: 'Save: When it comes' });
	await save.click();
	await expect(mobile.getByText('Write both times, or none.')).toBeVisible();
	await expect(mobile.getByLabel('Not after')).toBeFocused();
	await expect(from).toHaveValue('11:00');
	await mobile.keyboard.type('0300PM');
	await expect(mobile.getByLabel('Not after')).toHaveValue('15:00');
	// with the space bar
	await mobile.getByLabel('Wednesday').focus();
	await mobile.keyboard.press('Space');
	await save.focus();
	await mobile.keyboard.press('Enter');
	await expect(mobile.getByText('Saved. It holds from the next message on.')).toBeVisible();
	await expect(save).toBeFocused();
	await mobile.reload();
	await mobile.waitForLoadState('networkidle');
	await expect(from).toHaveValue('11:00');
	await expect(mobile.getByLabel('Wednesday')).toBeChecked();

	// a zone whose days never meet the firm's hours: said with those hours as clocks show them there
	await mobile.getByLabel('Time zone you are in').selectOption('Pacific/Auckland');
	await save.click();
	await expect(mobile.getByText(/when it is 00:00 to 08:00 in Auckland/)).toBeVisible();
	await expect(mobile.getByLabel('Time zone you are in')).toHaveValue('Pacific/Auckland');
	await mobile.getByLabel('Time zone you are in').selectOption('');
	await save.click();
	await expect(mobile.getByText('Saved. It holds from the next message on.')).toBeVisible();

	// the record says it, and the firm may change it
	await signInAtDesk(page);
	await page.goto('/desk/clients');
	await awake(page);
	await page.getByRole('link', { name: 'Gull & String Kites' }).first().click();
	await page.getByRole('button', { name: 'change: people' }).click();
	await expect(page.getByText('Is written to from 11:00 to 15:00, not on Wednesdays.')).toBeVisible();
	await page.getByRole('button', { name: 'Change Mara Whitlock …' }).click();
	const times = page.getByRole('form', { name: 'When Mara Whitlock is written to' });
	await expect(times.getByLabel('Not before')).toHaveValue('11:00');
	await expectAccessible(page, 'the times of a contact');
	// meanwhile the client chooses one a week: nobody overwrites what they have not seen
	await mobile.getByLabel('Reminders in a week, at most').selectOption('1');
	await Promise.all([mobile.waitForResponse((answer) => answer.request().method() === 'POST'), save.click()]);
	await expect(mobile.getByText('Saved. It holds from the next message on.')).toBeVisible();
	await times.getByLabel('Wednesday').uncheck();
	await times.getByRole('button', { name: 'Save the times' }).click();
	await expect(page.getByRole('alert').filter({ hasText: 'changed these times meanwhile' })).toBeVisible();
	await expect(times.getByLabel('Wednesday')).not.toBeChecked();
	await times.getByLabel('Reminders in a week, at most').selectOption('1');
	await times.getByRole('button', { name: 'Save the times' }).click();
	await expect(page.getByText('Is written to from 11:00 to 15:00; at most one reminder a week.')).toBeVisible();

	// the Almanac shows the hour and why
	await page.goto('/desk/almanac');
	await awake(page);
	await expect(page.getByText(/for they are written to from 11:00 to 15:00/).first()).toBeVisible();
});

test('reminders are stopped and started on the page; whoever only looks cannot', async ({ page, browser, product }) => {
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, 'juno@ferrycafe.example');
	await mobile.goto(`${PORTAL}/told`);
	await mobile.waitForLoadState('networkidle');
	await mobile.getByRole('button', { name: 'Stop reminders' }).click();
	await expect(mobile.getByRole('status').filter({ hasText: 'You have stopped reminders.' })).toBeVisible();
	await mobile.getByRole('button', { name: 'Remind me again' }).click();
	await expect(mobile.getByRole('status').filter({ hasText: 'you are reminded of it' })).toBeVisible();
	await signInAtDesk(page);
	await page.goto('/desk/clients');
	await awake(page);
	await page.getByRole('link', { name: 'Gull & String Kites' }).first().click();
	await page.getByRole('button', { name: 'change: people' }).click();
	const [look] = await Promise.all([page.waitForEvent('popup'), page.getByRole('button', { name: 'See the portal as Mara Whitlock' }).click()]);
	await look.waitForLoadState();
	await look.goto(`${PORTAL}/told`);
	await expect(look).toHaveURL(new RegExp(`${PORTAL}$`));
});

test('a plan is chosen for a service and for a person, and it is said which holds and why: before sending, and beside what was asked', async ({
	page
}) => {
	test.setTimeout(180_000);
	await signInAtDesk(page, 'tamsin');
	await page.goto('/desk/firm');
	await awake(page);
	await page.getByRole('button', { name: 'Reminders of Monthly books' }).click();
	const plan = page.getByLabel('Reminders of what is asked for Monthly books from now on');
	await expectAccessible(page, 'the plan of a service');
	const [key] = await plan
		.locator('option')
		.evaluateAll((all) => all.map((one) => (one as HTMLOptionElement).value).filter((value) => !['', 'usual', 'none'].includes(value)));
	await plan.selectOption(key);
	const name = (await plan.locator(`option[value="${key}"]`).textContent())!.split(':')[0].trim();
	await page.getByRole('button', { name: 'Save the plan' }).click();
	await expect(page.getByText(`chased by “${name}”`)).toBeVisible();

	await page.goto('/desk/clients');
	await awake(page);
	await page.getByRole('link', { name: 'Gull & String Kites' }).first().click();
	await page.getByRole('button', { name: 'change: people' }).click();
	await page.getByRole('button', { name: 'Change Mara Whitlock …' }).click();
	await page.getByLabel('Reminders of what is asked from now on').selectOption('none');
	await page.getByRole('button', { name: 'Save Mara' }).click();
	await expect(page.getByText('Is reminded by “No reminders”.')).toBeVisible();
	const { pathname } = new URL(page.url());
	await page.goto(`${pathname}/ask`);
	await awake(page);
	await page.getByRole('button', { name: /From scratch/ }).click();
	await expect(page.getByText('Now: “No reminders”, as chosen for Mara Whitlock.')).toBeVisible();

	// beside what was asked before it holds what held then
	await page.goto('/desk/rounds');
	await awake(page);
	await page.goto(pathname);
	await awake(page);
	await page.getByRole('link', { name: 'Last year’s final accounts' }).first().click();
	await expect(page.getByText(/By the plan/)).toBeVisible();
});

test('a questionnaire has a plan wherever it is asked, a line one of its own, by keyboard; it is said beside the line and beside what was asked', async ({
	page
}) => {
	test.setTimeout(180_000);
	await signInAtDesk(page, 'odalys');
	await page.goto('/desk/library/questionnaires');
	await awake(page);
	await page
		.getByRole('link', { name: /Getting to know you/ })
		.first()
		.click();
	const opener = page.getByRole('button', { name: 'Reminders …' });
	await opener.press('Enter');
	const wherever = page.getByLabel('Reminders of it wherever it is asked from now on');
	await expectAccessible(page, 'the plan of a questionnaire');
	await wherever.focus();
	await page.keyboard.press('ArrowDown');
	await page.keyboard.press('ArrowDown');
	const name = (await wherever.evaluate((select: HTMLSelectElement) => select.selectedOptions[0].text)).split(':')[0];
	await page.keyboard.press('Tab');
	await page.keyboard.press('Enter');
	await expect(page.getByText(`Reminded by “${name}”.`)).toBeVisible();
	await expect(opener).toBeFocused();
	await page.reload();
	await expect(page.getByText(`Reminded by “${name}”.`)).toBeVisible();

	await page.goto('/desk/clients');
	await awake(page);
	await page.getByRole('link', { name: 'Tern Point Ferries' }).first().click();
	await expect(page.getByRole('heading', { name: 'Tern Point Ferries' })).toBeVisible();
	const { pathname } = new URL(page.url());
	await page.goto(`${pathname}/ask`);
	await awake(page);
	await page.getByRole('button', { name: /From scratch/ }).click();
	await page.getByLabel('What do you ask for?').focus();
	await page.keyboard.type('The lease of the pier', { delay: 20 });
	const reminders = page.locator('label', { hasText: /^reminders/ }).locator('select');
	await reminders.focus();
	await page.keyboard.press('End');
	await expect(page.getByRole('button', { name: 'The lease of the pier reminded by “No reminders”' })).toBeVisible();
	await page.getByRole('button', { name: 'several questions' }).press('Enter');
	await page.getByLabel('What do you ask for?').last().focus();
	await page.keyboard.type('About you', { delay: 20 });
	await page
		.locator('label.field', { hasText: /^Questions/ })
		.locator('select')
		.focus();
	await page.keyboard.press('ArrowDown');
	await expect(reminders.locator('option').first()).toHaveText(`as the questionnaire has it: ${name}`);
	await page.getByLabel('Title, also the subject of the message').focus();
	await page.keyboard.type('The pier', { delay: 20 });
	await page.getByRole('button', { name: 'Send to Tobias' }).press('Enter');
	await expect(page).toHaveURL(new RegExp(`${pathname}$`));
	for (const [title, plan] of [
		['The lease of the pier', 'By the plan No reminders, chosen for this one thing.'],
		['About you', `By the plan ${name}, as the questionnaire “Getting to know you and your business” has it.`]
	]) {
		await page.goto(pathname);
		await awake(page);
		const more = page.getByRole('button', { name: 'show all: open' }).or(page.getByRole('button', { name: /: open$/ }));
		if (!(await page.getByRole('link', { name: title }).first().isVisible())) await more.first().press('Enter');
		await page.getByRole('link', { name: title }).first().click();
		await expect(page.getByText(plan)).toBeVisible();
	}
});
