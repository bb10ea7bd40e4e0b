import { awake, expect, expectAccessible, signInAtDesk, test } from './product';

test.use({ file: 'questionnaire' });

test('a questionnaire is written by keyboard, and answered on a phone part by part', async ({ page, product, browser }) => {
	test.setTimeout(180_000);
	await signInAtDesk(page, 'odalys');
	await page.goto('/desk/library/forms');
	await awake(page);
	await page.getByRole('button', { name: 'New form' }).click();
	await page.waitForURL(/forms\/[0-9a-f-]{36}/);
	await awake(page);
	const question = (n: number) => page.getByLabel(new RegExp(`^Question ${n}(,|$)`));
	const type = page.keyboard;

	// a line a question: a heading, kinds told from the words, a follow-up by Tab
	await question(1).click();
	await type.press('Control+A');
	await type.type('# Who you are');
	await type.press('Enter');
	await expect(page.getByLabel('Heading of the part')).toHaveValue('Who you are');
	await type.type('What does your business do?');
	await type.press('Enter');
	await type.type('Does anyone work for you?');
	await type.press('Enter');
	await type.type('How many people?');
	await type.press('Tab');
	await expect(page.getByLabel('Question 3, a follow-up of 2')).toBeFocused();
	await expect(page.getByText('only if 2 is yes')).toBeVisible();
	await expect(page.getByLabel('How question 2 is answered')).toHaveValue('yes_no');
	await expect(page.getByLabel('How question 3 is answered')).toHaveValue('number');
	// a second Tab goes on, so that nobody is held in the sheet
	await type.press('Tab');
	await expect(question(3)).not.toBeFocused();
	await question(3).click();
	await type.press('End');
	await type.press('Enter');
	await type.type('Legal form');
	await type.press('Shift+Tab');
	await type.press('Alt+Enter');
	await page.getByLabel('Kept as a fact, and never asked again').selectOption('Legal form');
	await expectAccessible(page, 'a questionnaire that is being written');
	await page.getByRole('button', { name: 'More about question 4' }).click();
	// an emptied line is removed by one more Backspace, and the line above goes on
	await question(4).click();
	await type.press('End');
	await type.press('Enter');
	await type.type('x');
	await type.press('Backspace');
	await type.press('Backspace');
	await expect(question(4)).toBeFocused();
	await expect(question(5)).toHaveCount(0);
	// the next part, and pasted lines with choices
	await type.press('Enter');
	await type.type('The money:');
	await type.press('Enter');
	await page.evaluate(() => {
		const data = new DataTransfer();
		data.setData('text/plain', '1. Where does money come in? (all that apply)\n- card\n- cash\n2. E-mail for bills\n3. Who are the directors?');
		document.activeElement!.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
	});
	await expect(question(7)).toHaveValue('Who are the directors?');
	await expect(page.getByLabel('How question 5 is answered')).toHaveValue('several_of');
	await page.getByLabel('How question 7 is answered').selectOption('table');
	// moved by keyboard: headings stay where they are
	await question(6).click();
	await type.press('Alt+ArrowUp');
	await expect(question(5)).toHaveValue('E-mail for bills');
	await type.press('Alt+ArrowDown');
	await page.getByLabel('Name, as clients read it').click();
	await type.press('Control+A');
	await type.type('Getting to know your business');
	await page.getByRole('button', { name: 'Save the form' }).click();
	await expect(page.getByText('Saved.')).toBeVisible();
	await page.reload();
	await awake(page);
	await expect(page.getByText('7 questions in 2 parts')).toBeVisible();
	await expect(page.getByText('only if 2 is yes')).toBeVisible();
	// the client's own line under what is kept secret from nobody: what is known already
	await product.sql.query(`update fact set said_by_name = 'Odalys Fenwick' where name = 'legal_form'`);

	const phone = await browser.newContext({ viewport: { width: 390, height: 844 }, baseURL: product.origin });
	const client = await phone.newPage();
	await client.goto('/portal/pennywhistle-row/sign-in');
	await client.getByLabel('E-mail').fill('mara@gullstring.example');
	await client.getByLabel('Password', { exact: true }).fill('kites above the harbour');
	await client.getByRole('button', { name: 'Sign in', exact: true }).click();
	await client.waitForURL('**/portal/pennywhistle-row');
	await client.goto('/portal/pennywhistle-row/forms');
	await client.getByRole('button', { name: /Getting to know/ }).click();
	await client.waitForURL(/item\//);
	await expect(client.getByText('Part 1 of 2')).toBeVisible();
	await expectAccessible(client, 'a questionnaire on a phone');
	await client.getByLabel('What does your business do?').click();
	await client.keyboard.type('Kites');
	// the follow-up comes with its answer, in place
	await expect(client.getByLabel('How many people?')).toBeHidden();
	await client.getByRole('radio', { name: 'Yes' }).press('Space');
	await expect(client.getByLabel('How many people?')).toBeVisible();
	await client.getByLabel('How many people?').click();
	await client.keyboard.type('2');
	// known already, with who said it
	await expect(client.getByRole('radio', { name: 'sole trader' })).toBeChecked();
	await expect(client.getByText(/We know this from Odalys Fenwick/)).toBeVisible();
	// kept as typed: there after loading again
	await expect
		.poll(
			async () =>
				(await product.sql.query<{ typed: object }>(`select typed from item where title = 'Getting to know your business'`)).rows.map(
					({ typed }) => Object.values(typed).filter((field: { value: unknown }) => field.value === '2').length
				)[0],
			{ timeout: 20_000 }
		)
		.toBe(1);
	await client.reload();
	await expect(client.getByLabel('How many people?')).toHaveValue('2');
	await expect(client.getByLabel('What does your business do?')).toHaveValue('Kites');
	await client.getByRole('button', { name: 'Next part' }).click();
	await expect(client.getByRole('heading', { name: 'The money' })).toBeFocused();
	await client.getByRole('checkbox', { name: 'card' }).press('Space');
	await client.getByLabel('E-mail for bills').click();
	await client.keyboard.type('bills@');
	await client.getByLabel('Name', { exact: true }).click();
	await client.keyboard.type('Mara Whitlock');
	await client.getByRole('button', { name: 'Add a row' }).click();
	await client.keyboard.type('Otis');
	await client.getByRole('button', { name: 'Look over your answers' }).click();
	await expect(client.getByText('Mara Whitlock')).toBeVisible();
	await expectAccessible(client, 'answers looked over');
	// what is wrong is shown where it stands, and nothing is lost
	await client.getByRole('button', { name: 'Hand in the answers' }).click();
	await expect(client.getByText('This does not look like an e-mail address.')).toBeVisible();
	await expect(client.getByLabel('E-mail for bills')).toHaveValue('bills@');
	await client.getByLabel('E-mail for bills').click();
	await client.keyboard.press('End');
	await client.keyboard.type('gullstring.example');
	await client.getByRole('button', { name: 'Look over your answers' }).click();
	// the answer above is changed: its follow-up is asked no more
	await client.getByRole('button', { name: 'Change: Does anyone work for you?' }).click();
	await client.getByRole('radio', { name: 'No', exact: true }).press('Space');
	await expect(client.getByLabel('How many people?')).toBeHidden();
	await client.getByRole('button', { name: 'Next part' }).click();
	await client.getByRole('button', { name: 'Look over your answers' }).click();
	await expect(client.getByText('How many people?')).toHaveCount(1);
	await client.getByRole('button', { name: 'Hand in the answers' }).click();
	await client.waitForURL(/done=/);

	// the firm reads what was asked, and the record has followed
	const { rows } = await product.sql.query<{ id: string; client_id: string }>(
		`select id, client_id from item where title = 'Getting to know your business'`
	);
	await page.goto(`/desk/clients/${rows[0].client_id}/item/${rows[0].id}`);
	await awake(page);
	await expect(page.getByText('Mara Whitlock').first()).toBeVisible();
	await expect(page.getByText('bills@gullstring.example')).toBeVisible();
	await expect(page.getByText('How many people?')).toHaveCount(0);
	await page.goto(`/desk/clients/${rows[0].client_id}`);
	await awake(page);
	await page.getByRole('button', { name: /known/ }).first().click();
	await expect(page.getByText(/still right, said Mara Whitlock/).first()).toBeVisible();
	await phone.close();
});
