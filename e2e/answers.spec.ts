import { createTransport, type SendMailOptions } from 'nodemailer';
import { receivedMail } from '../src/lib/server/platform/mail/standin';
import { awake, expect, expectAccessible, mailTo, phone, signInAtDesk, signInAtPortal, test, typeIn, type Product } from './product';

test.use({ file: 'answers' });

const MARA = 'mara@gullstring.example';
const INES = 'ines@lanternstreet.example';
/** The address to which the newest mail of a kind to somebody is answered. */
async function answerAddress(product: Product, to: string, kind: string): Promise<string> {
	await mailTo(product, to, kind);
	const { rows } = await product.sql.query(
		`select message_id from message where to_address = $1 and kind = $2 and state = 'sent' order by planned_at desc, sent_at desc limit 1`,
		[to, kind]
	);
	return (await receivedMail(product.env.MAIL_STANDIN_FOLDER, rows[0].message_id))!.replyTo!.value[0].address!;
}
async function send(product: Product, mail: SendMailOptions): Promise<void> {
	const smtp = createTransport({ host: '127.0.0.1', port: Number(product.env.PAPERS_SMTP_PORT), ignoreTLS: true });
	await smtp.sendMail(mail);
	smtp.close();
}
const ofMara = async (product: Product) =>
	(
		await product.sql.query<{ client: string; contact: string }>(
			`select cc.client_id client, c.id contact from contact c join client_contact cc on cc.contact_id = c.id join client k on k.id = cc.client_id
			where c.email = $1 and k.name = 'Gull & String Kites'`,
			[MARA]
		)
	).rows[0];

test('the firm writes to a person, who answers by mail, is answered, and goes on in the portal', async ({ page, product, browser }) => {
	test.setTimeout(240_000);
	const { client } = await ofMara(product);
	await signInAtDesk(page);
	await page.goto(`/desk/clients/${client}`);
	await awake(page);
	await page.getByRole('link', { name: 'write to Mara' }).focus();
	await page.keyboard.press('Enter');
	await expect(page.getByRole('heading', { name: 'Mara Whitlock and we' })).toBeVisible();
	const field = page.getByLabel('To Mara, by e-mail and on their page');
	await typeIn(field, 'Is the shop open on Friday?');
	// a reload in the middle costs nothing
	await page.reload();
	await awake(page);
	await expect(field).toHaveValue('Is the shop open on Friday?');
	await field.press('End');
	await page.keyboard.type(' We would come by.', { delay: 10 });
	await expectAccessible(page, 'a talk at the desk');
	await page.getByRole('button', { name: 'Send to Mara' }).dblclick();
	await expect(page.getByRole('listitem').filter({ hasText: 'Is the shop open on Friday? We would come by.' })).toHaveCount(1);
	await expect(field).toHaveValue('');
	const mail = await mailTo(product, MARA, 'remark');
	expect(mail).toContain('We would come by.');
	expect(mail).toContain('You can simply answer this mail: Pennywhistle Row Bookkeeping reads it.');

	// she answers by mail, and the row is there without anybody reading the page anew
	await page.goto('/desk/rounds');
	await awake(page);
	const to = await answerAddress(product, MARA, 'remark');
	await send(product, {
		from: `Mara Whitlock <${MARA}>`,
		to,
		subject: 'Re: a question',
		text: 'Yes, until six.\n\nSent from my phone\n\n> On 4 May 2026, at 08:40, Pennywhistle Row <office@pennywhistle.example> wrote:\n> Is the shop open on Friday?'
	});
	const row = page.getByRole('link', { name: /Yes, until six/ });
	await expect(row).toBeVisible();
	await row.click();
	const leaf = page.getByRole('complementary');
	await expect(leaf.getByRole('heading', { name: 'Mara Whitlock wrote to you' })).toBeVisible();
	await expect(leaf.getByText('Sent from my phone')).toHaveCount(0);
	await leaf.getByRole('button', { name: 'show what stood below' }).press('Enter');
	await expect(leaf.getByText('Sent from my phone')).toBeVisible();
	await expectAccessible(page, 'words in Rounds');

	// until somebody has answered nobody reminds her, and the record says so
	await page.goto(`/desk/clients/${client}`);
	await awake(page);
	await expect(page.getByText('No reminder before Thu 7 May to Mara Whitlock, who wrote to us')).toBeVisible();
	await page.goBack();
	await awake(page);
	await page.keyboard.press('q');
	await expect(leaf.getByLabel('To Mara, by e-mail and on their page')).toBeFocused();
	await page.keyboard.type('Then we come at five.', { delay: 10 });
	await leaf.getByRole('button', { name: 'Send to Mara' }).click();
	await expect(row).toHaveCount(0);
	await expect(page.getByRole('alert').filter({ hasText: /./ })).toHaveCount(0);
	await page.goto(`/desk/clients/${client}`);
	await awake(page);
	await expect(page.getByText('No reminder before')).toHaveCount(0);

	// on her page it is new, and what she types there outlives a reload
	const mobile = await phone(browser, product.origin);
	await signInAtPortal(mobile, MARA);
	await mobile.getByRole('link', { name: '2 messages from Pennywhistle Row Bookkeeping' }).click();
	await expect(mobile.getByRole('heading', { name: 'You and Pennywhistle Row Bookkeeping' })).toBeVisible();
	await expect(mobile.getByRole('listitem')).toHaveText([/Is the shop open/, /^You.*Yes, until six\./, /Then we come at five\./]);
	const words = mobile.getByLabel('Write to Pennywhistle Row Bookkeeping');
	await mobile.waitForLoadState('networkidle');
	await typeIn(words, 'Good, see you');
	await mobile.reload();
	await mobile.waitForLoadState('networkidle');
	await expect(words).toHaveValue('Good, see you');
	await words.press('End');
	await mobile.keyboard.type(' on Friday.', { delay: 10 });
	await expectAccessible(mobile, 'a talk in the portal');
	await mobile.getByRole('button', { name: 'Send it' }).press('Enter');
	await expect(mobile.getByRole('status').filter({ hasText: 'Sent.' })).toBeVisible();
	await expect(words).toHaveValue('');
	await page.goto('/desk/rounds');
	await awake(page);
	await page.getByRole('link', { name: /Good, see you on Friday/ }).click();
	await leaf.getByRole('button', { name: 'Needs no answer' }).waitFor();
	await page.keyboard.press('n');
	await expect(page.getByRole('link', { name: /Good, see you on Friday/ })).toHaveCount(0);

	// away: the days are said in words, and it can be taken back
	await mobile.reload();
	await mobile.waitForLoadState('networkidle');
	await mobile.getByLabel('I am back on').fill('2026-05-19');
	await mobile.getByRole('button', { name: 'Do not remind me until then' }).click();
	await expect(mobile.getByText('Until Tuesday 19 May nobody reminds you.')).toBeVisible();
	await page.goto(`/desk/clients/${client}`);
	await awake(page);
	await expect(page.getByText('No reminder before Tue 19 May to Mara Whitlock, who is away')).toBeVisible();
	await mobile.getByRole('button', { name: 'I am back: remind me again' }).click();
	await expect(mobile.getByLabel('I am back on')).toBeVisible();
	await mobile.context().close();
});

test('who is not known waits apart, and a program that says somebody is away proposes a pause', async ({ page, product }) => {
	test.setTimeout(180_000);
	const { rows } = await product.sql.query<{ id: string; client: string }>(
		`select m.id, m.client_id client from message m where m.to_address = $1 and m.kind in ('request', 'chase') and m.state = 'sent' order by m.planned_at desc limit 1`,
		[INES]
	);
	const [{ client }] = rows;
	const { replyTo } = await import('../src/lib/server/messages/links');
	const to = replyTo(rows[0].id, product.env.PAPERS_MAIL_DOMAIN, product.env.SECRET_KEY);
	await send(product, {
		from: 'Ines <ines.private@elsewhere.example>',
		to,
		subject: 'Re: still open',
		text: 'I send it <b>tomorrow</b>.',
		attachments: [{ filename: 'lease.pdf', content: '%PDF-1.7 lease' }]
	});
	await send(product, {
		from: INES,
		to,
		subject: 'Automatic reply: still open',
		text: 'I am out of the office until Friday 15 May 2026.',
		headers: { 'Auto-Submitted': 'auto-replied' }
	});
	await signInAtDesk(page);
	const leaf = page.getByRole('complementary');
	await page.getByRole('link', { name: /from ines\.private@elsewhere\.example: “I send it/ }).click();
	await expect(leaf.getByRole('heading', { name: 'An answer that may not be from Ines Marlowe' })).toBeVisible();
	await expect(leaf.getByText('I send it <b>tomorrow</b>.')).toBeVisible();
	await expect(leaf.getByText('nobody of Lantern Street Players has this address', { exact: false })).toBeVisible();
	await expectAccessible(page, 'an answer that waits');
	await page.keyboard.press('.');
	await expect(leaf.getByRole('button', { name: 'It is from Ines: let it in' })).toBeFocused();
	await page.keyboard.press('Enter');
	// it has its place now: among what she wrote, or on the one thing that the mail was about
	await expect(page.getByRole('link', { name: /from ines\.private@elsewhere\.example: “I send it/ })).toHaveCount(0);
	await page.goto('/desk/rounds');
	await awake(page);
	await expect(page.getByRole('link', { name: /I send it <b>tomorrow<\/b>/ })).toBeVisible();

	await page.getByRole('link', { name: /Lantern Street Players away, it seems until Tue 19 May/ }).click();
	await expect(leaf.getByRole('heading', { name: 'Ines Marlowe is away' })).toBeVisible();
	const day = leaf.getByLabel('Reminders to Ines go again from');
	await expect(day).toHaveValue('2026-05-19');
	await day.fill('2026-05-22');
	await expectAccessible(page, 'an away note');
	await leaf.getByRole('button', { name: 'Pause until then' }).click();
	await expect(page.getByRole('link', { name: /Lantern Street Players away, it seems/ })).toHaveCount(0);
	await page.goto(`/desk/clients/${client}`);
	await awake(page);
	await expect(page.getByText('No reminder before Fri 22 May to Ines Marlowe, who is away', { exact: false })).toBeVisible();
	await page.goto('/desk/almanac');
	const heldRow = page.getByRole('region', { name: 'Held back' }).getByRole('listitem').filter({ hasText: 'Ines Marlowe' });
	await expect(heldRow).toContainText('goes on Fri 22 May, held since Thu 7 May, as they are away');

	// somebody of the firm may let reminders go on, and pause them by hand, with a reason
	await page.goto(`/desk/clients/${client}`);
	await awake(page);
	for (const _ of ['away', 'replied']) {
		const again = page.getByRole('button', { name: 'Remind Ines Marlowe again from now on' }).first();
		if (await again.isVisible()) await again.click();
		await expect(page.getByText('No reminder before')).toHaveCount(0);
	}
	const opener = page.getByRole('button', { name: 'Pause reminders …' });
	await opener.press('Enter');
	await page.getByLabel('Reminders go again from').fill('2026-05-04');
	await typeIn(page.getByLabel('Why, for us alone'), 'the shop moves');
	await page.getByRole('button', { name: 'Pause', exact: true }).click();
	// what is wrong is said by the browser or by us; nothing was paused, and what was typed is there
	await expect(page.getByLabel('Why, for us alone')).toHaveValue('the shop moves');
	await page.getByLabel('Reminders go again from').fill('2026-05-20');
	await page.getByLabel('Why, for us alone').press('Enter');
	await expect(page.getByText('No reminder before Wed 20 May to everybody, paused by Odalys', { exact: false })).toBeVisible();
	await expect(opener).toBeFocused();
	await expectAccessible(page, 'a record with a pause');
});
