import { awake, expect, expectAccessible, signInAtDesk, test, typeIn } from './product';

test.use({ file: 'planned' });

test('a reminder in the Almanac is read, given other words, left out, put back, sent now, and moved', async ({ page, product }) => {
	test.setTimeout(180_000);
	await signInAtDesk(page);
	await page.goto('/desk/almanac');
	await awake(page);
	await page.getByRole('link', { name: 'Ruben Pell' }).first().focus();
	await page.keyboard.press('Enter');
	await expect(page.getByRole('heading', { name: 'Reminder to Ruben Pell' })).toBeVisible();
	const mail = page.frameLocator('iframe[title="The message as it will be"]');
	await expect(mail.getByText(/Ruben/).first()).toBeVisible();
	await expectAccessible(page, 'a planned message');

	// other words for this once, typed key by key, and kept while they are not sent
	await page.getByRole('button', { name: 'Other words for this once …' }).press('Enter');
	await typeIn(page.getByLabel('About'), 'Two things, Ruben');
	await typeIn(page.getByLabel('Words above the list of what is open'), 'The bank asks for them.');
	await page.reload();
	await awake(page);
	await page.getByRole('button', { name: 'Other words for this once …' }).click();
	await expect(page.getByLabel('Words above the list of what is open')).toHaveValue('The bank asks for them.');
	await page.getByLabel('Words above the list of what is open').press('End');
	await page.keyboard.type(' Thank you!', { delay: 10 });
	await page.getByRole('button', { name: 'Use these words for this once' }).press('Enter');
	await expect(page.getByText('It has words of its own for this once, from Odalys Fenwick.')).toBeVisible();
	await expect(mail.getByText('The bank asks for them. Thank you!')).toBeVisible();

	// left out, and let go after all
	await page.getByRole('button', { name: 'Leave it out' }).press('Enter');
	await expect(page.getByText('It is left out by Odalys Fenwick.')).toBeVisible();
	await expectAccessible(page, 'a planned message that is left out');
	await page.goto('/desk/almanac');
	const row = page.getByRole('region', { name: 'Monday 4 May' }).getByRole('listitem').filter({ hasText: 'Ruben Pell' });
	await expect(row).toContainText('left out');
	await row.getByRole('link', { name: 'Ruben Pell' }).click();
	await awake(page);
	await page.getByRole('button', { name: 'Let it go after all' }).press('Enter');
	await expect(page.getByText('It has words of its own for this once')).toBeVisible();
	await page.getByRole('link', { name: 'Back to the Almanac' }).click();
	await expect(row).toContainText('own words');

	// moved: nobody reminds him before, and the Almanac says so
	await page.getByRole('region', { name: 'Tuesday 5 May' }).getByRole('link', { name: 'Cosmo Reyes' }).click();
	await awake(page);
	await page.getByLabel('Or move it to a later day').fill('2026-05-12');
	await page.getByRole('button', { name: 'Move it' }).click();
	await page.waitForURL('**/almanac');
	await expect(page.getByRole('region', { name: 'Held back' }).getByRole('listitem').filter({ hasText: 'Cosmo Reyes' })).toContainText(
		'goes on Tue 12 May, held since Tue 5 May'
	);

	// sent now: pressed twice it goes once, as soon as sending hours allow
	await row.getByRole('link', { name: 'Ruben Pell' }).click();
	await awake(page);
	await page.getByRole('button', { name: 'Send it now' }).dblclick();
	await page.waitForURL('**/almanac');
	await expect(row).toHaveCount(0);
	const { rows } = await product.sql.query(
		`select state, to_address, content ->> 'body' body from message m join contact c on c.id = m.contact_id where c.name = 'Ruben Pell' and m.kind = 'chase' and m.planned_at > '2026-05-04T00:00:00Z'`
	);
	expect(rows).toMatchObject([{ state: 'planned', body: 'The bank asks for them. Thank you!' }]);
});

test('one thing is reminded of later, by keyboard; the Almanac and the record say so, and it is let go on', async ({ page, product }) => {
	await signInAtDesk(page);
	const { rows } = await product.sql.query<{ id: string; client_id: string; title: string; request: string }>(
		`select i.id, i.client_id, i.title, r.title request from item i join client c on c.id = i.client_id join request r on r.id = i.request_id
		where c.name = 'Gull & String Kites' and i.next_chase_on is not null order by i.next_chase_on, i.id limit 1`
	);
	const { id, client_id, title, request } = rows[0];
	await page.goto(`/desk/clients/${client_id}/item/${id}`);
	await awake(page);
	await page.keyboard.press('p');
	const until = page.getByLabel('Not before');
	await expect(until).toBeFocused();
	await page.keyboard.type('06152026');
	await expect(until).toHaveValue('2026-06-15');
	await page.keyboard.press('Tab');
	const why = page.getByLabel('Why, for us alone');
	await why.focus();
	await page.keyboard.type('She is at the trade fair until then', { delay: 20 });
	await expectAccessible(page, 'remind later');
	// what was typed outlives a reload
	await page.reload();
	await awake(page);
	await page.keyboard.press('p');
	await expect(why).toHaveValue('She is at the trade fair until then');
	await expect(until).toHaveValue('2026-06-15');
	await page.getByRole('button', { name: 'Remind later', exact: true }).dblclick();
	await expect(page.getByText(/It is paused until Mon 15 Jun by Odalys Fenwick: “She is at the trade fair until then”/)).toBeVisible();
	await expect(page.getByText(/, held since .* as reminders are paused/)).toBeVisible();

	// its whole request, too
	await page.keyboard.press('p');
	await page.getByRole('combobox', { name: /^What/ }).selectOption('request');
	// or sooner, once they are heard from
	await page.getByLabel('Or sooner').focus();
	await page.keyboard.press('ArrowDown');
	await why.focus();
	await page.keyboard.type('The fair', { delay: 20 });
	await page.keyboard.press('Enter');
	await expect(
		page.getByText(/All of this request is paused until Mon 11 May, or sooner once they are heard from, by Odalys Fenwick: “The fair”/)
	).toBeVisible();
	await page.goto(`/desk/clients/${client_id}`);
	await awake(page);
	await expect(page.getByText(`of “${title}”`)).toBeVisible();
	await expect(page.getByText(`of all in “${request}”`)).toBeVisible();
	await expect(page.getByText('No reminder before Mon 11 May, or sooner once they are heard from,')).toBeVisible();
	await page.getByRole('button', { name: `Remind of all in “${request}” again from now on` }).press('Enter');
	await expect(page.getByText(`of all in “${request}”`)).toHaveCount(0);
	await page.goto(`/desk/clients/${client_id}/item/${id}`);
	await awake(page);
	await page.getByRole('button', { name: 'remind again now' }).press('Enter');
	await expect(page.getByText(/It is paused until/)).toHaveCount(0);
});
