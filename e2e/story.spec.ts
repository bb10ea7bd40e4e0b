import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { CONTACT_PASSWORD, expect, mailTo, PDF_FILE, phone, PNG_FILE, signInAtDesk, signInAtPortal, STAFF_PASSWORD, test, typeIn } from './product';

test.use({ file: 'story' });

test.describe.configure({ mode: 'serial' });
const EMAIL = 'vesper@quillandcask.example';
const PASSWORD = 'barrels under a low moon';

test('a new client: added, invited, asked, everything handed in, the letter signed by both', async ({ page, browser, product }) => {
	test.setTimeout(180_000);
	await signInAtDesk(page);

	// added
	await page.keyboard.press('n');
	await typeIn(page.getByLabel('Name of the client'), 'Quill & Cask');
	await typeIn(page.getByLabel('Name', { exact: true }), 'Vesper Lind');
	await typeIn(page.getByLabel('E-mail address'), EMAIL);
	await page.getByRole('button', { name: 'Add the client' }).click();
	await expect(page.getByRole('heading', { name: 'Quill & Cask' })).toBeVisible();

	// invited, with words of one's own
	await page.getByRole('button', { name: 'Invite …' }).click();
	await expect(page.getByLabel('Words', { exact: true })).toContainText('private page for Quill & Cask');
	await typeIn(page.getByLabel('Subject'), 'Welcome aboard');
	await page.getByRole('button', { name: 'Send the invitation' }).click();
	await expect(page.getByText(/Invited Mon 4 May .* not opened yet, lapses Mon 18 May/)).toBeVisible();
	const invitation = await mailTo(product, EMAIL, 'invitation');
	const link = /http:\S+\/join\/[\w-]+/.exec(invitation)![0];

	// taken up on a phone; the desk hears of it by itself
	const mobile = await phone(browser, product.origin);
	await mobile.goto(link);
	await expect(mobile.getByRole('heading', { name: 'Welcome, Vesper.' })).toBeVisible();
	await typeIn(mobile.getByLabel('New password'), 'password1234');
	await mobile.getByRole('button', { name: 'Save and go to my page' }).click();
	await expect(mobile.getByRole('alert')).toContainText('among the first that anybody would try');
	await typeIn(mobile.getByLabel('New password'), PASSWORD);
	await expect(mobile.getByText(/Very good/)).toBeVisible();
	await mobile.getByRole('button', { name: 'Save and go to my page' }).click();
	await expect(mobile.getByText('Nothing is asked of you yet.')).toBeVisible();
	await expect(page.getByText(/Accepted the invitation/)).toBeVisible();
	const again = await phone(browser, product.origin);
	await again.goto(link);
	await expect(again.getByRole('heading', { name: 'This invitation has been used.' })).toBeVisible();
	await again.context().close();

	// asked: a ready-made list, tailored, an unfilled field named, previewed, sent
	await page.getByRole('link', { name: 'Ask for something' }).click();
	await page.getByText('Taking on a client').click();
	for (const title of ['Card statements', 'Last year’s', 'Does anyone work', 'Your sales tax', 'Registration'])
		await page
			.getByRole('listitem')
			.filter({ hasText: title })
			.getByRole('button', { name: /^Leave out/ })
			.click();
	// invited today: whatever else goes to her today is said to be a second message
	await expect(page.getByText('Vesper Lind was told of something today already.')).toBeVisible();
	await page.getByLabel('Tell them today anyway').check();
	await page.getByRole('button', { name: 'Send to Vesper' }).click();
	await expect(page.locator('.notice-wrong')).toContainText('Start date, Services, Monthly fee');
	await typeIn(page.getByLabel(/Start date/), '1 June 2026');
	await typeIn(page.getByLabel(/Services/), 'the monthly books');
	await typeIn(page.getByLabel(/Monthly fee/), '$310');
	await page.getByRole('button', { name: 'See it as Vesper' }).click();
	const preview = page.getByRole('dialog', { name: /As Vesper/ });
	await preview.getByRole('button', { name: 'Read and sign' }).click();
	await expect(preview.getByText('The fee is $310 a month')).toBeVisible();
	await page.keyboard.press('Escape');
	// invited today: whatever else goes to her today is said to be a second message
	await expect(page.getByText('Vesper Lind was told of something today already.')).toBeVisible();
	await page.getByLabel('Tell them today anyway').check();
	await page.getByRole('button', { name: 'Send to Vesper' }).click();
	await expect(page.getByRole('heading', { name: 'People' })).toBeVisible();
	await expect(
		page.getByText(/Reminder Thu 7 May 09:00, by e-mail to Vesper Lind, because it is 2 business days before the due date, Mon 11 May/).first()
	).toBeVisible();
	expect(await mailTo(product, EMAIL, 'request')).toContain('Bank statements of the last three months (by Thu 14 May)');

	// the letter: read to its end, consent, drawn
	await mobile.reload();
	await expect(mobile.getByText('3 things left.')).toBeVisible();
	await mobile.getByRole('link', { name: 'Read and sign' }).click();
	await expect(mobile.getByRole('button', { name: 'Sign the letter' })).toBeDisabled();
	await mobile.getByRole('button', { name: 'Draw my signature' }).scrollIntoViewIfNeeded();
	await expect(mobile.getByText('You have reached the end of the letter.')).toBeVisible();
	await mobile.getByRole('button', { name: 'Sign the letter' }).click();
	await expect(mobile.getByRole('alert')).toContainText('Please tick that you agree');
	await mobile.getByRole('checkbox').check();
	await mobile.getByRole('button', { name: 'Draw my signature' }).click();
	const canvas = mobile.locator('canvas');
	await canvas.scrollIntoViewIfNeeded();
	const box = (await canvas.boundingBox())!;
	await mobile.mouse.move(box.x + 40, box.y + 90);
	await mobile.mouse.down();
	for (let i = 0; i < 12; i++) await mobile.mouse.move(box.x + 40 + i * 18, box.y + 70 + 35 * Math.sin(i));
	await mobile.mouse.up();
	await mobile.getByRole('button', { name: 'Sign the letter' }).click();
	await expect(mobile.getByText(/You signed this letter on Monday 4 May/)).toBeVisible();

	// the question, kept as typed, then sent
	await mobile.getByRole('link', { name: /Back to the list/ }).click();
	await mobile.getByRole('link', { name: 'Answer', exact: true }).click();
	await typeIn(mobile.getByLabel('Your answer'), 'Cider and <b>ink</b>');
	await expect
		.poll(
			async () => (await product.sql.query(`select 1 from item where state = 'started' and typed #>> '{answer.answer,value}' like 'Cider%'`)).rowCount
		)
		.toBe(1);
	await mobile.reload();
	await expect(mobile.getByLabel('Your answer')).toHaveValue('Cider and <b>ink</b>');
	await mobile.getByRole('button', { name: 'Send the answer' }).click();

	// papers: several at once, one refused, one taken out, handed in
	await mobile.getByRole('link', { name: 'Add the paper' }).click();
	await mobile
		.locator('input[type=file]:not([capture])')
		.setInputFiles([PDF_FILE, PNG_FILE, { name: 'page.html', mimeType: 'text/html', buffer: Buffer.from('<html><script>alert(1)</script>') }]);
	await expect(mobile.getByRole('alert')).toContainText('page.html is not a kind of file we can take');
	await expect(mobile.getByText(/^arrived/)).toHaveCount(2);
	await mobile.getByRole('button', { name: 'Cancel page.html' }).click();
	await mobile.getByRole('button', { name: 'Remove page two.png' }).click();
	await expect(mobile.getByText(/^arrived/)).toHaveCount(1);
	await mobile.getByRole('button', { name: 'Hand in this file' }).click();
	await expect(mobile.getByRole('heading', { name: 'That is everything for now. Thank you!' })).toBeVisible();

	// the desk: everything is in Rounds without a reload; sent back, put right, accepted
	await page.getByRole('link', { name: /^Rounds/ }).click();
	await page.getByRole('link', { name: /Quill & Cask Bank statements/ }).click();
	await expect(page.getByRole('img', { name: 'Page 1 of 1' })).toBeVisible();
	await page.keyboard.press('b');
	await typeIn(page.getByLabel(/What still needs fixing/), 'Only March is here. January and February, please.');
	await page.getByRole('button', { name: 'Send it back to Vesper' }).click();
	await expect(page.getByRole('link', { name: /Quill & Cask Bank statements/ })).toHaveCount(0);
	expect(await mailTo(product, EMAIL, 'sent_back')).toContain('January and February, please.');
	await mobile.reload();
	await expect(mobile.getByText('Odalys Fenwick wrote: “Only March is here. January and February, please.”')).toBeVisible();
	await mobile.getByRole('link', { name: 'Add the paper' }).click();
	await mobile
		.locator('input[type=file]:not([capture])')
		.setInputFiles({ ...PDF_FILE, name: 'january.pdf', buffer: Buffer.concat([PDF_FILE.buffer, Buffer.from('\n% January')]) });
	await mobile.getByRole('button', { name: 'Hand in these 2 files' }).click();
	await page.getByRole('link', { name: /Quill & Cask Bank statements.*2 files/ }).click();
	await page.getByRole('button', { name: /Accept and open next/ }).click();
	await expect(page.getByRole('link', { name: /Quill & Cask Bank statements/ })).toHaveCount(0);
	await page.getByRole('link', { name: /Quill & Cask What does your business do/ }).click();
	await expect(page.getByText('Cider and <b>ink</b>')).toBeVisible();
	await page.keyboard.press('a');
	await expect(page.getByText('Cider and <b>ink</b>')).toBeHidden();
	await expect(page.getByRole('link', { name: /Quill & Cask What does/ })).toHaveCount(0);

	// countersigned; the sealed letter is what the tools say it is
	await page.getByRole('link', { name: /Quill & Cask Engagement letter/ }).click();
	await expect(page.getByRole('complementary').getByRole('heading', { name: 'Engagement letter', exact: true })).toBeVisible();
	// signing for the firm is an act of its own: no key of a run of accepting does it, and the letter is shown first
	await page.keyboard.press('a');
	await expect(page.getByRole('dialog')).toHaveCount(0);
	await page.getByRole('button', { name: 'Read and countersign …' }).click();
	await expect(page.getByRole('region', { name: 'The letter' })).toBeFocused();
	await page.getByRole('button', { name: /^Sign “.*” as Odalys Fenwick$/ }).click();
	await expect(page.getByRole('link', { name: /Quill & Cask/ })).toHaveCount(0);
	await mobile.goto('/portal/pennywhistle-row');
	await mobile.getByRole('link', { name: /Engagement letter/ }).click();
	await expect(mobile.getByRole('article', { name: 'Engagement letter' })).toBeVisible();
	// the worker seals it
	const signed = mobile.getByRole('link', { name: 'Download the signed letter (PDF)' });
	await expect(async () => {
		await mobile.reload();
		await expect(signed).toBeVisible({ timeout: 1000 });
	}).toPass();
	const [download] = await Promise.all([mobile.waitForEvent('download'), signed.click()]);
	const file = join(product.folder, 'signed.pdf');
	await download.saveAs(file);
	const tool = (command: string, ...args: string[]) => spawnSync(command, args, { encoding: 'utf8', env: { ...process.env, ...product.env } });
	expect(tool('pdfsig', file).stdout).toMatch(/Signature is Valid[\s\S]*Total document signed|Total document signed[\s\S]*Signature is Valid/);
	const verified = tool(process.execPath, 'build/node/verify.js', file);
	expect(verified.stdout).toMatch(/VALID: “Engagement letter” for Quill & Cask/);
	expect(verified.stdout).toContain('signed by Vesper Lind');
	expect(verified.status).toBe(0);
	const refused = tool(process.execPath, 'build/node/verify.js', 'package.json');
	expect(refused.status).toBe(1);
	expect(await mailTo(product, EMAIL, 'signed_copy')).toContain('signed by all');

	// history, complete
	await page.goto('/desk/clients?search=Quill');
	await page.getByRole('link', { name: 'Quill & Cask' }).click();
	await page.getByRole('button', { name: 'show: history' }).click();
	await page.getByRole('link', { name: 'The whole history' }).click();
	for (const sentence of [
		'added the client',
		'invited Vesper Lind',
		'accepted the invitation',
		'was shown the whole letter',
		'signed “Engagement letter”',
		'sent “Bank statements',
		'countersigned “Engagement letter',
		'sealed “Engagement letter'
	])
		await expect(page.getByText(sentence).first()).toBeVisible();
	await mobile.context().close();
});

test('time moves forward at the desk, and the chases that were forecast go out', async ({ page, product }) => {
	await signInAtDesk(page);
	await page.goto('/desk/almanac');
	const today = page.getByRole('region', { name: 'Monday 4 May' });
	// what is new is told as that, not as a reminder
	const reminders = today.getByRole('listitem').filter({ hasNotText: /appears by itself|told in the same message|new thing/ });
	// who is reminded that morning hears of what appears in the same message, and the line says so
	await expect(today.getByRole('listitem').filter({ hasText: 'told in the same message' }).filter({ hasText: 'Tobias Quay' })).toHaveCount(1);
	expect(await reminders.filter({ hasText: 'Tobias Quay' }).count()).toBe(1);
	const promised = await Promise.all((await reminders.all()).map((line) => line.locator('b').first().innerText()));
	expect(promised.length).toBeGreaterThan(3);
	await page.getByRole('button', { name: /Mon 4 May/ }).click();
	await page.getByRole('button', { name: 'One hour' }).click();
	await expect(page.getByRole('dialog', { name: /Move the demo/ })).toBeHidden({ timeout: 40_000 });
	await expect(page.getByRole('button', { name: /Mon 4 May 09:/ })).toBeVisible();
	await page.goto('/desk/postroom?state=sent');
	// a promised reminder goes as one, also where something new is told along with it
	const told = page.getByRole('region', { name: 'Monday 4 May' }).getByRole('link', { name: /reminder/ });
	for (const name of promised) await expect(told.filter({ hasText: name })).toHaveCount(1);
	const { rows } = await product.sql.query(
		`select count(*)::int n, count(distinct contact_id)::int people from message where kind = 'chase' and planned_at >= '2026-05-04'`
	);
	expect(rows[0].n).toBe(rows[0].people);

	await page.getByRole('button', { name: /Mon 4 May 09:/ }).click();
	await page.getByRole('button', { name: 'One week' }).click();
	await expect(page.getByRole('dialog', { name: /Move the demo/ })).toBeHidden({ timeout: 60_000 });
	const week = await product.sql.query(
		`select contact_id, (planned_at at time zone 'America/Halifax')::date as day, channel, count(*) from message where kind = 'chase' group by 1, 2, 3 having count(*) > 1`
	);
	expect(week.rows).toEqual([]);
	await page.goto('/desk/rounds');
	await expect(page.getByRole('region', { name: /Nobody is reminded any more/ })).toBeVisible();
});

test('a known address is offered, not doubled', async ({ page }) => {
	await signInAtDesk(page);
	await page.goto('/desk/clients/new');
	await typeIn(page.getByLabel('Name of the client'), 'Whitlock Lettings');
	await typeIn(page.getByLabel('E-mail address'), 'MARA@gullstring.example');
	await typeIn(page.getByLabel('Name', { exact: true }), 'M. W.');
	await expect(page.getByText('Mara Whitlock has this address and belongs to Gull & String Kites.')).toBeVisible();
	await page.getByRole('button', { name: 'Add the client' }).click();
	await expect(page.getByRole('alert')).toContainText('whom you know already');
	await page.getByRole('button', { name: 'Use Mara Whitlock' }).click();
	await page.getByRole('button', { name: 'Add the client' }).click();
	await expect(page.getByText('also Gull & String Kites')).toBeVisible();
});

test('somebody who was never invited gets request and invitation in one message', async ({ page, product, browser }) => {
	await signInAtDesk(page);
	await page.goto('/desk/clients/new');
	await typeIn(page.getByLabel('Name of the client'), 'Salt & Slate');
	await typeIn(page.getByLabel('Name', { exact: true }), 'Ida Noor');
	await typeIn(page.getByLabel('E-mail address'), 'ida@saltslate.example');
	await page.getByRole('button', { name: 'Add the client' }).click();
	await page.getByRole('link', { name: 'Ask for something' }).click();
	await page.getByText('From scratch').click();
	await typeIn(page.getByLabel('What do you ask for?'), 'Your lease');
	await typeIn(page.getByLabel(/Title, also the subject/), 'One thing to begin with');
	await expect(page.getByText('Ida Noor has no access yet.')).toBeVisible();
	await page.getByRole('button', { name: 'Send to Ida' }).click();
	await expect(page.getByText(/invited 11 May, not joined yet/)).toBeVisible();
	const mail = await mailTo(product, 'ida@saltslate.example', 'request');
	expect(mail).toContain('Your lease');
	const mobile = await phone(browser, product.origin);
	await mobile.goto(/http:\S+\/join\/[\w-]+/.exec(mail)![0]);
	await typeIn(mobile.getByLabel('New password'), 'slate and salt and sea');
	await mobile.getByRole('button', { name: 'Save and go to my page' }).click();
	await mobile.getByRole('link', { name: 'Add the paper' }).click();
	await expect(mobile.getByText('Take a photo')).toBeVisible();
	await mobile.getByText('This does not apply to me').click();
	await typeIn(mobile.getByLabel('Why does it not apply?'), 'We own the place.');
	await mobile.getByRole('button', { name: 'Tell Pennywhistle Row' }).click();
	await page.goto('/desk/rounds');
	await page.getByRole('link', { name: /Salt & Slate.*We own the place/ }).click();
	await page.getByRole('button', { name: /Agree and waive it/ }).click();
	await expect(page.getByRole('link', { name: /Salt & Slate/ })).toHaveCount(0);
	await mobile.context().close();
});

test('a forgotten password on both sides; the same answer for a stranger', async ({ page, product }) => {
	const ask = async (path: string, email: string) => {
		await page.goto(path);
		await typeIn(page.getByLabel('E-mail address'), email);
		await page.getByRole('button', { name: 'Send the link' }).click();
		return page.getByRole('status').innerText();
	};
	const known = await ask('/portal/pennywhistle-row/forgotten', 'kai@nowhere.example');
	expect(await ask('/portal/pennywhistle-row/forgotten', 'philippa@wrenclocks.example')).toBe(known);
	const link = /http:\S+\/reset\/[\w-]+/.exec(await mailTo(product, 'philippa@wrenclocks.example', 'password_reset'))![0];
	await page.goto(link);
	await typeIn(page.getByLabel('New password'), 'eleven clocks at noon');
	await page.getByRole('button', { name: 'Save and go to my page' }).click();
	await expect(page.getByRole('heading', { name: /Philippa/ })).toBeVisible();
	await page.goto(link);
	await expect(page.getByRole('heading', { name: 'This link has been used or is too old.' })).toBeVisible();
	await page.context().clearCookies();
	await page.goto('/portal/pennywhistle-row/sign-in');
	await typeIn(page.getByLabel('E-mail address'), 'philippa@wrenclocks.example');
	await typeIn(page.getByLabel('Password'), CONTACT_PASSWORD);
	await page.getByRole('button', { name: 'Sign in', exact: true }).click();
	await expect(page.getByRole('alert')).toContainText('is not right');
	await signInAtPortal(page, 'philippa@wrenclocks.example', 'eleven clocks at noon');

	expect(await ask('/desk/forgotten', 'solveig@pennywhistle.example')).toBe(known);
	const mail = await mailTo(product, 'solveig@pennywhistle.example', 'password_reset');
	await page.goto(/http:\S+\/desk\/reset\/[\w-]+/.exec(mail)![0]);
	await typeIn(page.getByLabel('New password'), `${STAFF_PASSWORD} two`);
	await page.getByRole('button', { name: 'Save and go to my page' }).click();
	await expect(page.getByRole('heading', { name: /Solveig/ })).toBeVisible();
});
