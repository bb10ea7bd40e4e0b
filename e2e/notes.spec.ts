import { awake, expect, expectAccessible, mailTo, phone, signInAtDesk, signInAtPortal, test, typeIn } from './product';

test.use({ file: 'notes' });

test('a note that only the firm reads: other paper, another key, a colleague named and told; no client sees it', async ({
	page,
	browser,
	product
}) => {
	test.setTimeout(240_000);
	await signInAtDesk(page);
	const { rows } = await product.sql.query<{ id: string; client_id: string }>(
		`select i.id, i.client_id from item i join client c on c.id = i.client_id where c.name = 'Gull & String Kites' and i.title = 'Last year’s final accounts'`
	);
	const at = `/desk/clients/${rows[0].client_id}/item/${rows[0].id}`;
	await page.goto(at);
	await awake(page);
	await expect(page.getByText('could you call them on Friday if nothing came?')).toBeVisible();
	await expect(page.getByText(/only us · Odalys Fenwick, .* · Imre has seen it/)).toBeVisible();

	// a name is begun, taken with the keyboard, and the words go on behind it
	const note = page.getByLabel('A note only we read', { exact: true });
	await note.focus();
	await page.keyboard.type('Mara has her own copy. @Im', { delay: 20 });
	await expect(page.getByRole('button', { name: 'Imre Lockhart' })).toBeVisible();
	await page.keyboard.press('Tab');
	await page.keyboard.press('Enter');
	await expect(note).toBeFocused();
	await expect(note).toHaveValue('Mara has her own copy. @Imre Lockhart ');
	await expect(page.getByText('Tells Imre Lockhart.')).toBeVisible();
	await page.keyboard.type('please leave the old accountant be, @Bramwell', { delay: 20 });
	await page.keyboard.type(' too', { delay: 20 });
	await expect(page.getByText('Nobody called Bramwell can read this, so nobody of that name is told.')).toBeVisible();
	await expectAccessible(page, 'a note that is typed');

	// the key that sends to the client does nothing here, and what was typed outlives a reload
	await page.keyboard.press('ControlOrMeta+Enter');
	await page.reload();
	await awake(page);
	await expect(note).toHaveValue('Mara has her own copy. @Imre Lockhart please leave the old accountant be, @Bramwell too');
	// nor does the key of a note send what stands in the other field
	const words = page.getByLabel(/^To Mara, by e-mail/);
	await words.focus();
	await page.keyboard.type('Your own copy is fine.', { delay: 20 });
	await page.keyboard.press('Alt+Enter');
	await expect(words).toHaveValue('Your own copy is fine.');
	await expect(page.getByText(/only us · Odalys Fenwick/)).toHaveCount(1);
	await note.focus();
	await page.keyboard.press('Alt+Enter');
	await expect(note).toHaveValue('');
	await expect(page.getByText(/only us · Odalys Fenwick, .* · Imre told/)).toBeVisible();
	await expect(words).toHaveValue('Your own copy is fine.');
	const written = await product.sql.query<{ notes: number; remarks: number }>(
		`select (select count(*)::int from client_note where item_id = $1 and words like 'Mara has%') notes, (select count(*)::int from remark where item_id = $1 and words like '%fine.') remarks`,
		[rows[0].id]
	);
	expect(written.rows).toEqual([{ notes: 1, remarks: 0 }]);
	await words.focus();
	await page.keyboard.press('ControlOrMeta+Enter');
	await expect(words).toHaveValue('');
	await expect(page.getByText('Your own copy is fine.', { exact: true })).toBeVisible();

	// one's own note is deleted where it stands; what others wrote is not offered
	await note.focus();
	await page.keyboard.type('Never mind.', { delay: 20 });
	await page.keyboard.press('Alt+Enter');
	const mine = page.getByRole('listitem').filter({ hasText: 'Never mind.' });
	await expect(mine).toBeVisible();
	await mine.getByRole('button', { name: /^Delete your note of/ }).press('Enter');
	await expect(mine).toHaveCount(0);
	await expect(page.getByText(/only us · Odalys Fenwick, .* · Imre told/)).toBeVisible();

	// whoever is named finds it in Rounds, and answers by a note
	const colleague = await browser.newPage();
	await signInAtDesk(colleague, 'imre');
	await colleague.goto('/desk/rounds');
	await awake(colleague);
	await colleague.getByRole('link', { name: /Mara has her own copy/ }).focus();
	await colleague.keyboard.press('Enter');
	await expect(colleague.getByRole('heading', { name: 'Odalys Fenwick named you in a note' })).toBeVisible();
	await expectAccessible(colleague, 'named in a note');
	await colleague.getByLabel('A note only we read', { exact: true }).focus();
	await colleague.keyboard.type('I will. @Odalys, thank you', { delay: 20 });
	await colleague.getByRole('button', { name: /^Keep the note/ }).dblclick();
	await expect(colleague.getByRole('link', { name: /Mara has her own copy/ })).toHaveCount(0);
	await colleague.close();
	await page.goto('/desk/rounds');
	await awake(page);
	await expect(page.getByRole('link', { name: /I will\. @Odalys, thank you/ })).toHaveCount(1);
	await page.getByRole('link', { name: /I will\. @Odalys, thank you/ }).click();
	await expect(page.getByRole('heading', { name: 'Imre Lockhart named you in a note' })).toBeVisible();
	await page.keyboard.press('n');
	await expect(page.getByRole('link', { name: /I will\. @Odalys, thank you/ })).toHaveCount(0);

	// the record lists it with where it stands; the client reads the firm's words and no note
	await page.goto(`/desk/clients/${rows[0].client_id}`);
	await awake(page);
	await page.getByRole('button', { name: /^(change|show|write a note|read): talk/ }).click();
	await expect(page.getByText('Mara has her own copy.')).toBeVisible();
	const mara = await browser.newPage({ viewport: { width: 390, height: 844 } });
	await signInAtPortal(mara, 'mara@gullstring.example');
	await mara.goto(`/portal/pennywhistle-row/item/${rows[0].id}`);
	await expect(mara.getByText('Your own copy is fine.').first()).toBeVisible();
	for (const secret of ['Quillfeather', 'Mara has her own copy', 'I will', 'only us'])
		expect(await mara.content(), `the client reads “${secret}”`).not.toContain(secret);
	await mara.close();
});

test('an answer is put off by keyboard: the row leaves Rounds, the record says until when, and what they write next stands there at once', async ({
	page,
	browser,
	product
}) => {
	test.setTimeout(240_000);
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, 'juno@ferrycafe.example');
	const write = async (words: string) => {
		await mobile.goto('/portal/pennywhistle-row/words');
		await mobile.waitForLoadState('networkidle');
		const field = mobile.getByLabel('Write to Pennywhistle Row Bookkeeping');
		await field.click();
		await field.pressSequentially(words);
		await mobile.getByRole('button', { name: 'Send it' }).click();
		await expect(mobile.getByRole('listitem').filter({ hasText: words })).toBeVisible();
	};
	await write('The oven is being repaired.');
	await signInAtDesk(page);
	const row = page.getByRole('link', { name: /The oven is being repaired/ });
	await row.click();
	await expect(page.getByRole('heading', { name: /wrote to you/ })).toBeVisible();
	await awake(page);
	await page.getByRole('button', { name: 'Answer later …' }).focus();
	await page.keyboard.press('Enter');
	const day = page.getByLabel('Not in Rounds before');
	await expect(day).toBeFocused();
	await expect(day).toHaveValue('2026-05-05');
	// today is no day ahead: it is said, and the form stays
	await day.fill('2026-05-04');
	await day.evaluate((field: HTMLInputElement) => field.form!.setAttribute('novalidate', ''));
	await page.keyboard.press('Enter');
	await expect(page.getByText('The day must lie ahead: it waits in Rounds again from then on.')).toBeVisible();
	await day.fill('2026-05-06');
	await expectAccessible(page, 'putting an answer off');
	await page.getByRole('button', { name: 'Put it off' }).click();
	await expect(row).toHaveCount(0);
	const { rows } = await product.sql.query<{ client_id: string; contact_id: string }>(
		`select client_id, with_contact_id contact_id from remark where words = 'The oven is being repaired.'`
	);
	await page.goto(`/desk/clients/${rows[0].client_id}/words/${rows[0].contact_id}`);
	await awake(page);
	await expect(page.getByText('Put off until Wed 6 May by Odalys Fenwick.')).toBeVisible();
	await write('It is back already.');
	await page.goto('/desk/rounds');
	await awake(page);
	await expect(page.getByRole('link', { name: /It is back already/ })).toBeVisible();
	// it is not put off any more, and nothing says that it is
	await page.goto(`/desk/clients/${rows[0].client_id}/words/${rows[0].contact_id}`);
	await awake(page);
	await expect(page.getByText('It is back already.')).toBeVisible();
	await expect(page.getByText('Put off until')).toHaveCount(0);
});

test('what a client wrote is given to a colleague; what was just sent is taken back, and stands in the field again', async ({
	page,
	browser,
	product
}) => {
	// a person of their own: a row shows the oldest words that wait, and Juno’s above still do
	test.setTimeout(150_000);
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, 'ines@lanternstreet.example');
	await mobile.goto('/portal/pennywhistle-row/words');
	await mobile.waitForLoadState('networkidle');
	await mobile.getByLabel('Write to Pennywhistle Row Bookkeeping').pressSequentially('Who looks at our till?');
	await mobile.getByRole('button', { name: 'Send it' }).click();
	await expect(mobile.getByRole('listitem').filter({ hasText: 'Who looks at our till?' })).toBeVisible();

	await signInAtDesk(page);
	const row = page.getByRole('link', { name: /Who looks at our till/ });
	await row.click();
	await expect(page.getByRole('heading', { name: /wrote to you/ })).toBeVisible();
	await awake(page);
	await page.getByRole('button', { name: 'Give to …' }).focus();
	await page.keyboard.press('Enter');
	const who = page.getByLabel('Who answers');
	await expect(who).toBeFocused();
	await expect(who.locator('option', { hasText: 'Bram' })).toHaveCount(0);
	await who.selectOption({ label: 'Ferrin Ashgrove' });
	await expectAccessible(page, 'giving an answer to a colleague');
	await page.getByRole('button', { name: 'Give it' }).press('Enter');
	await expect(page.getByRole('link', { name: /Who looks at our till.*Ferrin Ashgrove has it/ })).toBeVisible();
	expect(await mailTo(product, 'ferrin@pennywhistle.example', 'given_to_answer')).toContain('Who looks at our till?');

	// written by keyboard, and taken back by keyboard: the words stand in the field again, and nobody gets them
	const { rows } = await product.sql.query<{ client_id: string; contact_id: string }>(
		`select client_id, with_contact_id contact_id from remark where words = 'Who looks at our till?'`
	);
	const at = `/desk/clients/${rows[0].client_id}/words/${rows[0].contact_id}`;
	await page.goto(at);
	await awake(page);
	await expect(page.getByText('Ferrin Ashgrove has it to answer, given by Odalys Fenwick.')).toBeVisible();
	const field = page.getByLabel(/^To Ines/);
	await field.pressSequentially('Nobody, I am afread.', { delay: 10 });
	await page.keyboard.press('ControlOrMeta+Enter');
	const takeBack = page.getByRole('button', { name: /^Take it back/ });
	await expect(takeBack).toBeVisible();
	await expect(field).toHaveValue('');
	await expectAccessible(page, 'what was just sent');
	await page.keyboard.press('Alt+z');
	await expect(page.getByRole('link', { name: 'Your words are where you wrote them.' })).toBeFocused();
	await expect(field).toHaveValue('Nobody, I am afread.');
	await expect(page.getByRole('listitem').filter({ hasText: 'Nobody, I am' })).toHaveCount(0);
	await page.reload();
	await awake(page);
	await expect(field).toHaveValue('Nobody, I am afread.');
	await mobile.reload();
	await mobile.waitForLoadState('networkidle');
	await expect(mobile.getByText('Nobody, I am')).toHaveCount(0);
	// put right and sent, it is read at once; then nothing can be taken back any more
	await typeIn(field, 'Nobody, I am afraid.');
	await page.keyboard.press('ControlOrMeta+Enter');
	await expect(takeBack).toBeVisible();
	await mobile.reload();
	await expect(mobile.getByText('Nobody, I am afraid.')).toBeVisible();
	await expect
		.poll(async () => (await product.sql.query(`select seen_at is not null seen from remark where words = 'Nobody, I am afraid.'`)).rows[0].seen)
		.toBe(true);
	await takeBack.press('Enter');
	await expect(page.getByText('They have read it on their page by now. Write to them again instead.')).toBeVisible();
	await expect(page.getByRole('listitem').filter({ hasText: 'Nobody, I am afraid.' })).toBeVisible();
	await page.goto('/desk/rounds');
	await awake(page);
	await expect(row).toHaveCount(0);
});

test('an answer is taken from the Library and found again; a new address that their mailbox names is used; a mail reported as unwanted ends reminders', async ({
	page,
	product
}) => {
	test.setTimeout(240_000);
	await signInAtDesk(page);
	const { rows } = await product.sql.query<{ client_id: string; contact_id: string }>(
		`select cc.client_id, c.id contact_id from contact c join client_contact cc on cc.contact_id = c.id where c.email = 'mara@gullstring.example' limit 1`
	);
	const [{ client_id: client, contact_id: mara }] = rows;
	await page.goto(`/desk/clients/${client}/words/${mara}`);
	await awake(page);
	const field = page.getByLabel(/^To Mara/);
	await field.pressSequentially('Good morning.', { delay: 10 });
	await page.getByRole('button', { name: 'From the Library …' }).press('Enter');
	const list = page.getByLabel('From the Library');
	await expect(list).toBeFocused();
	await expectAccessible(page, 'words of the Library beside an answer');
	// gone through by keys nothing is taken before it is said; the second that is looked at is not wanted
	await list.press('ArrowDown');
	await expect(list.locator('option:checked')).toHaveText('We have it and look at it');
	await list.press('ArrowDown');
	await expect(list.locator('option:checked')).toHaveText('A picture will do');
	await expect(field).toHaveValue('Good morning.');
	await list.press('ArrowUp');
	await list.press('Enter');
	await expect(field).toBeFocused();
	await expect(field).toHaveValue(/^Good morning\.\n\nThank you, Mara\. We have it/);
	// as if it had been typed: kept, and the next key goes on below
	await page.keyboard.type(' Until then!', { delay: 10 });
	await page.reload();
	await awake(page);
	await expect(field).toHaveValue(/^Good morning\.[^]*here\. Until then!$/);
	await field.press('ControlOrMeta+Enter');
	await expect(page.getByRole('listitem').filter({ hasText: 'Until then!' })).toBeVisible();
	await expect(field).toHaveValue('');

	// found in the record, by words without their accents and case
	await page.goto(`/desk/clients/${client}`);
	await awake(page);
	await page.getByRole('button', { name: /talk/ }).first().press('Enter');
	const find = page.getByLabel('Find what was written');
	await find.pressSequentially('UNTIL looks', { delay: 10 });
	await expect(page.getByText('Nothing has “UNTIL looks” in it.')).toBeVisible();
	await typeIn(find, 'until MORNING');
	const found = page.getByRole('search', { name: 'What was written' }).getByRole('listitem');
	await expect(found).toHaveCount(1);
	await expect(found.locator('mark')).toHaveText(['morning', 'Until'], { ignoreCase: true });
	await expectAccessible(page, 'what was found in what was written');
	await found.getByRole('link').press('Enter');
	await expect(page.getByRole('heading', { name: 'Mara Whitlock and we' })).toBeVisible();

	// the mailbox that got it answers that it has moved
	// an earlier one to her went already: this one waits its twenty-five seconds
	await expect.poll(() => mailTo(product, 'mara@gullstring.example', 'remark'), { timeout: 60_000 }).toContain('Until then!');
	const sent = (
		await product.sql.query<{ id: string }>(
			`select id from message where kind = 'remark' and contact_id = $1 and state = 'sent' order by sent_at desc limit 1`,
			[mara]
		)
	).rows[0].id;
	await page.goto(`/desk/postroom/${sent}`);
	await awake(page);
	await page.getByLabel(/^Answer as Mara/).pressSequentially('I have a new e-mail address: mara@new-kites.example', { delay: 5 });
	await page.getByRole('button', { name: 'Send the answer' }).click();
	await expect(page.getByText('Answered.')).toBeVisible();
	await page.goto('/desk/rounds');
	await awake(page);
	await page.getByRole('link', { name: /has a new address, it seems: mara@new-kites\.example/ }).click();
	await expect(page.getByRole('heading', { name: 'Mara Whitlock may have a new address' })).toBeVisible();
	await awake(page);
	await expectAccessible(page, 'a new address');
	await page.getByRole('button', { name: 'Use this address from now on' }).press('Enter');
	await expect(page.getByRole('link', { name: /has a new address, it seems/ })).toHaveCount(0);
	await page.goto(`/desk/clients/${client}/words/${mara}`);
	await awake(page);
	await field.pressSequentially('Thank you, noted.', { delay: 10 });
	await field.press('ControlOrMeta+Enter');
	await expect(page.getByRole('listitem').filter({ hasText: 'Thank you, noted.' })).toBeVisible();
	expect(await mailTo(product, 'mara@new-kites.example', 'remark')).toContain('Thank you, noted.');

	// the mail service of the new one reports it
	const reported = (await product.sql.query<{ id: string }>(`select id from message where to_address = 'mara@new-kites.example' and kind = 'remark'`))
		.rows[0].id;
	await page.goto(`/desk/postroom/${reported}`);
	await awake(page);
	await page.getByRole('button', { name: /^Report it as unwanted/ }).press('Enter');
	await expect(page.getByText(/mail service reported it/)).toBeVisible();
	await page.goto('/desk/rounds');
	await awake(page);
	const row = page.getByRole('link', { name: /mail to Mara Whitlock was reported as unwanted/ });
	await row.click();
	await expect(page.getByRole('heading', { name: 'Mara Whitlock wants no more reminders' })).toBeVisible();
	await awake(page);
	await expectAccessible(page, 'somebody who wants no more reminders');
	await page.keyboard.press('a');
	await expect(row).toHaveCount(0);
	expect((await product.sql.query('select mail_problem from contact where id = $1', [mara])).rows[0].mail_problem).toBe('opted_out');
});
