import { readFileSync } from 'node:fs';
import { awake, expect, expectAccessible, phone, signInAtDesk, signInAtPortal, test } from './product';

test.use({ file: 'library_questionnaires' });

test('a ready-made questionnaire is copied, made one’s own by keyboard, tried, and saved as a version', async ({ page }) => {
	test.setTimeout(180_000);
	await signInAtDesk(page);
	await page.goto('/desk/library/questionnaires');
	await awake(page);
	await expectAccessible(page, 'questionnaires of the Library');
	await page.getByRole('button', { name: 'Copy Starting payroll' }).click();
	await page.waitForURL(/questionnaires\/[0-9a-f-]{36}$/);
	await awake(page);
	await expect(page.getByText('15 questions in 3 parts')).toBeVisible();
	const question = (n: number) => page.getByLabel(new RegExp(`^Question ${n}(,|$)`));
	const type = page.keyboard;

	// whoever only passes by with Tab changes nothing
	await question(1).focus();
	for (let i = 0; i < 9; i++) await type.press('Tab');
	await expect(page.getByRole('button', { name: 'Saved' })).toBeVisible();
	await expect(page.getByLabel('Question 2', { exact: true })).toBeVisible();

	// a question of one's own, on a condition about an earlier answer
	await question(2).click();
	await type.press('End');
	await type.press('Enter');
	await type.type('Which weekday?');
	await expect(question(3)).toHaveValue('Which weekday?');
	await page.getByLabel('How question 3 is answered').selectOption('one_of');
	await page.getByLabel('Choices, one a line').click();
	await type.press('Control+A');
	await type.type('Thursday\nFriday');
	await page.getByLabel('one may write another').press('Space');
	await page.getByRole('button', { name: 'Ask only if …' }).press('Enter');
	await page.getByLabel('Question', { exact: true }).selectOption('2. How often do you pay?');
	await page.getByLabel('How it is compared').selectOption('differs');
	await page.getByLabel('Value', { exact: true }).selectOption('every month');
	await expectAccessible(page, 'a question that is open');
	await type.press('Escape');
	await page.getByRole('button', { name: 'More about question 3' }).click();
	await expect(page.getByText('only if 2 is not every month')).toBeVisible();
	await expect(page.getByText('Thursday, Friday, or another')).toBeVisible();

	// tried beside: what is left out, and why
	const trying = page.getByRole('complementary', { name: 'Trying it' });
	await expect(trying.getByText(/because 2 is not answered/)).toBeVisible();
	await expect(trying.getByText('Which weekday?')).toBeHidden();
	await trying.getByText('every two weeks').click();
	await expect(trying.getByText('Which weekday?')).toBeVisible();
	await trying.getByText('every month').click();
	await expect(trying.getByText('because 2 is every month')).toBeVisible();
	// as a client of ours, by typing its name
	await page.getByLabel('As whom it is tried').selectOption('a client of ours …');
	await page.getByLabel('Which client?').click();
	await type.type('tidew');
	await trying.getByRole('button', { name: 'Tidewrack Salvage' }).click();
	await expect(page.getByText('Tidewrack Salvage begins with')).toBeVisible();
	// what is being written is not lost by it
	await expect(question(3)).toHaveValue('Which weekday?');

	// what cannot be is named, and not saved
	await question(3).click();
	await type.press('Alt+ArrowUp');
	await expect(page.getByText(/asks about question 3, which comes later/).first()).toBeVisible();
	await expect(page.getByRole('button', { name: 'Save as a new version' })).toBeDisabled();
	await type.press('Alt+ArrowDown');
	await page.getByRole('button', { name: 'Save as a new version' }).press('Enter');
	await expect(page.getByRole('button', { name: 'Saved' })).toBeVisible();
	await page.reload();
	await awake(page);
	await expect(question(3)).toHaveValue('Which weekday?');
	await expect(page.getByText('1: 15 questions')).toBeVisible();

	// out as a file and in again; a file that is none is refused in words
	const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'Download as a file' }).click()]);
	const file = readFileSync(await download.path(), 'utf8');
	await page.goto('/desk/library/questionnaires');
	await awake(page);
	const add = page.getByLabel('Add from a file …');
	await add.setInputFiles({ name: 'kites.json', mimeType: 'application/json', buffer: Buffer.from('{"kites":1}') });
	await expect(page.getByRole('alert')).toHaveText('This is not a questionnaire that was downloaded here.');
	await add.setInputFiles({ name: 'payroll.json', mimeType: 'application/json', buffer: Buffer.from(file) });
	await page.getByRole('link', { name: 'Look at it' }).click();
	await page.waitForURL(/questionnaires\/[0-9a-f-]{36}$/);
	await awake(page);
	await expect(page.getByRole('heading', { name: 'Starting payroll (2)' })).toBeVisible();
	await expect(page.getByText('only if 2 is not every month')).toBeVisible();
});

test('asked of one client from the Library; what they do not know, and what is asked back alone', async ({ page, browser, product }) => {
	test.setTimeout(180_000);
	await signInAtDesk(page);
	const { rows } = await product.sql.query<{ id: string }>(`select id from client where name = 'Gull & String Kites'`);
	await page.goto(`/desk/clients/${rows[0].id}/ask`);
	await awake(page);
	const type = page.keyboard;
	await page.getByText('From scratch').click();
	// the line that an empty sheet begins with
	await page.getByLabel('What do you ask for?').fill('A statement for March');
	await page.getByRole('button', { name: 'several questions' }).first().click();
	await page.getByRole('combobox', { name: 'Questions', exact: true }).selectOption({ label: 'Three questions about us, 3 questions' });
	await expect(page.getByLabel('What do you ask for?')).toHaveValue('Three questions about us');
	await expect(page.getByText(/Now that is version 1/)).toBeVisible();
	const title = page.getByLabel('Title, also the subject');
	if ((await title.inputValue()) === '') await title.fill('How we are doing');
	await page.getByRole('button', { name: 'Send to Mara' }).click();
	await expect
		.poll(
			async () => (await product.sql.query(`select 1 from item where client_id = $1 and title = 'Three questions about us'`, [rows[0].id])).rowCount
		)
		.toBe(1);

	const client = await phone(browser, product.origin);
	await signInAtPortal(client, 'mara@gullstring.example');
	await client.getByRole('link', { name: /Three questions about us/ }).click();
	await client.waitForURL(/item\//);
	await client.getByText('so-so').click();
	await client.getByLabel(/What could we do better/).click();
	await client.keyboard.type('Answer sooner.');
	// a question of their own about a question begins with its words, and is kept like everything else
	await client.getByRole('button', { name: 'Ask about this question' }).nth(1).click();
	await expect(client.locator('textarea[name=words]')).toBeFocused();
	await client.keyboard.type('In which way?');
	await expect(client.locator('textarea[name=words]')).toHaveValue('“What could we do better?”: In which way?');
	// nothing is said of the last one: it is no answer, and what was typed stays
	await client.getByRole('button', { name: 'Hand in the answers' }).click();
	await expect(client.getByRole('alert').first()).toContainText('One answer is still missing');
	await client.getByLabel('I do not know').last().check();
	await expectAccessible(client, 'a question whose answer is not known');
	await client.getByRole('button', { name: 'Hand in the answers' }).click();
	await client.waitForURL(/done=/);

	// at the desk: what is not known is said; one is asked back, one corrected
	const item = await product.sql.query<{ id: string }>(`select id from item where client_id = $1 and title = 'Three questions about us'`, [
		rows[0].id
	]);
	await page.goto(`/desk/clients/${rows[0].id}/item/${item.rows[0].id}`);
	await awake(page);
	await expect(page.getByText('Mara does not know')).toBeVisible();
	await page.getByRole('button', { name: 'Correct: What could we do better?' }).focus();
	await type.press('Enter');
	await page.getByRole('textbox', { name: /What could we do better/ }).click();
	await type.press('Control+A');
	await type.type('Answer sooner, said by phone.');
	await page.getByRole('button', { name: 'Correct it' }).click();
	await expect(page.getByText(/Mara Whitlock answered: “Answer sooner.”. Corrected by Odalys Fenwick/)).toBeVisible();
	await page.getByRole('button', { name: 'Ask back: Shall we give you a call about it?' }).focus();
	await type.press('Enter');
	await type.type('Please say yes or no.');
	await expect(page.getByRole('textbox', { name: /^What is to be put right/ })).toHaveValue('Please say yes or no.');
	await expectAccessible(page, 'answers that are looked at');
	await page.getByRole('button', { name: 'Ask back', exact: true }).click();
	await expect(page.getByText(/^Only this answer is open again/)).toHaveCount(0);
	const state = async () => (await product.sql.query('select state from item where id = $1', [item.rows[0].id])).rows[0].state;
	await expect.poll(state).toBe('sent_back');

	// on the phone that one alone is open, with the firm's words
	await client.goto(`/portal/pennywhistle-row/item/${item.rows[0].id}`);
	await expect(client.getByText('Please say yes or no.').last()).toBeVisible();
	await expect(client.getByRole('radio', { name: 'so-so' })).toBeHidden();
	await client.getByText('What you answered otherwise').click();
	await expect(client.getByText('Answer sooner, said by phone.')).toBeVisible();
	await client.getByText('Yes', { exact: true }).click();
	await client.getByRole('button', { name: 'Hand in the answers' }).click();
	await client.waitForURL(/done=/);
	await page.reload();
	await awake(page);
	await expect(page.getByText('before: “no answer”')).toBeVisible();

	// what many answered
	await page.getByRole('link', { name: 'Answers of all clients' }).click();
	await page.waitForURL(/answers$/);
	await awake(page);
	await expect(page.getByText('6 have answered.')).toBeVisible();
	await expect(page.getByRole('row', { name: /so-so 2 33 %/ })).toBeVisible();
	await expectAccessible(page, 'answers of many by question');
	await page.getByRole('button', { name: 'By client' }).press('Enter');
	await page.getByRole('button', { name: /How are you getting on/ }).click();
	await expect(page.getByRole('rowheader').first()).toContainText(/Lantern Street Players|Gull & String Kites/);
	await expectAccessible(page, 'answers of many by client');
	const [csv] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'Download as CSV' }).click()]);
	expect(readFileSync(await csv.path(), 'utf8')).toContain('Answer sooner, said by phone.');
	await client.context().close();
});

test('what follows from an answer is written, listed before it is accepted, and stands in Rounds until it is done', async ({ page, product }) => {
	await signInAtDesk(page);
	const { rows } = await product.sql.query(
		`select id from questionnaire where name like '%sole trader%' or questions @> '[{"key":"trade_name"}]' limit 1`
	);
	await page.goto(`/desk/library/questionnaires/${rows[0].id}`);
	await awake(page);
	await page.getByRole('button', { name: 'More about question 1', exact: true }).click();
	await page.getByRole('button', { name: 'Something follows from it at the firm …' }).click();
	const words = page.getByRole('textbox', { name: 'What is to be done, for 1' });
	await expect(page.getByRole('combobox', { name: 'Who, for 1' })).toHaveText(/whoever looks after the client/);
	await page.getByRole('button', { name: 'Save as a new version' }).click();
	await expect(page.getByRole('alert')).toContainText('Please write what is to be done.');
	await words.pressSequentially('Look up the trade code', { delay: 10 });
	await expect(words).toHaveValue('Look up the trade code');
	// what follows from all of them, by keyboard
	await page.getByRole('button', { name: 'Something else follows …' }).last().press('Enter');
	await page.getByRole('combobox', { name: 'What follows, at the end, 3' }).selectOption('a draft from the list');
	await page.getByRole('combobox', { name: 'Which lines of it, at the end, 3' }).selectOption({ index: 1 });
	await page.getByRole('button', { name: 'Only if, at the end, 3' }).press('Enter');
	await page.getByRole('button', { name: 'Always, at the end, 3' }).press('Enter');
	// an explanation with emphasis is shown as it will be read
	const explanation = page.getByRole('textbox', { name: /^Explanation/ });
	await explanation.click();
	await page.keyboard.type('In your ');
	await page.keyboard.press('Control+b');
	await page.keyboard.type('own');
	await page.keyboard.press('Control+b');
	await page.keyboard.type(' words.');
	await expect(page.getByRole('complementary', { name: 'Trying it' }).locator('.font-bold').filter({ hasText: 'own' })).toBeVisible();
	await page.getByRole('button', { name: 'Save as a new version' }).click();
	await expect(page.getByRole('button', { name: 'Saved' })).toBeVisible();
	await page.reload();
	await awake(page);
	await expect(page.getByText('one thing follows').first()).toBeVisible();
	await expect(page.getByRole('combobox', { name: 'Which lines of it, at the end, 3' })).toHaveValue(/.+/);
	await page.getByRole('button', { name: 'More about question 1', exact: true }).click();
	await expect(explanation).toHaveText('In your own words.');
	await expect(explanation.locator('strong')).toHaveText('own');

	const { rows: given } = await product.sql.query(
		`select i.id from item i join client c on c.id = i.client_id where c.name = 'Cinder Hill Pottery' and i.kind = 'questionnaire' and i.state = 'handed_in'`
	);
	await page.goto(`/desk/rounds/item-${given[0].id}`);
	await awake(page);
	await expect(page.getByText('a task for Imre Lockhart: “Look at how the stock is counted”')).toBeVisible();
	await expect(page.getByText('a task for whoever looks after the client: “Call them, and plan the first month together”')).toBeVisible();
	await page.getByRole('button', { name: /^Accept and open next/ }).click();
	const task = page.getByRole('link', { name: /Look at how the stock is counted, from “About you and your business”/ });
	await expect(task).toBeVisible();
	await task.click();
	await expect(page.getByText(/It follows from the answer to “.*” in About you and your business\./)).toBeVisible();
	await page.keyboard.press('a');
	await expect(task).toHaveCount(0);
	const { rows: left } = await product.sql.query(`select words, done_at is not null done from task where item_id = $1 order by words`, [given[0].id]);
	expect(left).toEqual([
		{ words: 'Ask for the log of the vehicle', done: false },
		{ words: 'Call them, and plan the first month together', done: false },
		{ words: 'Look at how the stock is counted', done: true }
	]);
});
