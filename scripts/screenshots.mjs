// npm run screenshots: one current picture of each main view, from the demo data, into docs/screenshots.
// Works on a fresh copy of the demo scenario, so that the pictures do not depend on what was tried out.
import { mkdirSync } from 'node:fs';
import { PDFDocument, StandardFonts } from '@cantoo/pdf-lib';
import { join } from 'node:path';
import { HOME } from './database.mjs';
import { startDemoCopy } from './demo-copy.mjs';
import { needBuild, needModules, needPackages, TEST_PACKAGES } from './setup.mjs';

needPackages(TEST_PACKAGES);
needModules();
needBuild();
const copy = await startDemoCopy('screenshots', 27432);
const { sql, browser, origin } = copy;
const target = join(HOME, 'docs/screenshots');
mkdirSync(target, { recursive: true });
const desk = await browser.newPage({ viewport: { width: 1280, height: 800 }, baseURL: origin });
const phone = await browser.newPage({ viewport: { width: 390, height: 844 }, baseURL: origin });
const shoot = async (page, name, settle = 700) => {
	await page.waitForTimeout(settle);
	await page.screenshot({ path: join(target, `${name}.png`) });
};
const id = async (query) => Object.values((await sql.query(query)).rows[0])[0];

await desk.goto('/desk/sign-in');
await desk.getByLabel('E-mail address').fill('odalys@pennywhistle.example');
await desk.getByLabel('Password').fill('lamplight ledger harbour');
await desk.getByRole('button', { name: 'Sign in', exact: true }).click();
await desk.waitForURL('**/desk/rounds');
await desk.locator('[data-row]').filter({ hasText: 'The maker says Wednesday' }).click();
await desk.getByRole('heading', { name: 'Kai Sorensen wrote to you' }).waitFor();
await shoot(desk, 'rounds', 1500);
await desk.goto('/desk/clients');
await shoot(desk, 'clients');
await desk.goto(`/desk/clients/${await id(`select id from client where name = 'Gull & String Kites'`)}`);
await shoot(desk, 'client-record');
const awake = () => desk.waitForFunction(() => document.documentElement.dataset.live === 'yes');
// a ready-made list, made to fit a client
await desk.goto(`/desk/clients/${await id(`select id from client where name = 'Gull & String Kites'`)}/ask?ready=taking-on-company`);
await awake();
await shoot(desk, 'asking');
await desk.goto(`/desk/clients/${await id(`select id from client where name = 'Gull & String Kites'`)}/papers`);
await awake();
await desk.getByRole('checkbox', { name: 'Choose Accounts 2025.pdf' }).check();
await shoot(desk, 'papers');
await desk.goto(`/desk/clients/${await id(`select id from client where name = 'Brine & Barrow Oysters'`)}/statements`);
await awake();
await desk.getByRole('link', { name: /does not join/ }).press('Enter');
await desk.locator('canvas[data-drawn]').first().waitFor();
await shoot(desk, 'statements');
await desk.goto('/desk/clients/asked?show=late');
await awake();
for (const row of [1, 3, 4])
	await desk
		.getByRole('checkbox', { name: /^Choose (?!all)/ })
		.nth(row)
		.check();
await shoot(desk, 'asked');
await desk.goto('about:blank');
// the lines of a bank's file, some of them asked about
const file = await sql.query(`select id, client_id from transaction_file where name like 'harbour-union%'`);
await desk.goto(`/desk/clients/${file.rows[0].client_id}/transactions/${file.rows[0].id}?asked=1`);
await awake();
for (const row of [0, 2])
	await desk
		.getByRole('checkbox', { name: /^Choose (?!all)/ })
		.nth(row)
		.check();
await shoot(desk, 'transactions');
await desk.goto('/desk/almanac');
await shoot(desk, 'almanac');
await desk.goto('/desk/postroom');
await desk.locator('[data-row]').filter({ hasText: 'reminder' }).first().click();
await shoot(desk, 'postroom');
// a chase plan as an administrator changes it, with what that would change
const office = await (await browser.newContext({ viewport: { width: 1280, height: 800 }, baseURL: origin })).newPage();
await office.goto('/desk/sign-in');
await office.getByLabel('E-mail address').fill('tamsin@pennywhistle.example');
await office.getByLabel('Password').fill('lamplight ledger harbour');
await office.getByRole('button', { name: 'Sign in', exact: true }).click();
await office.waitForURL('**/desk/rounds');
await office.goto('/desk/library/plans/usual');
await office.waitForFunction(() => document.documentElement.dataset.live === 'yes');
await office.getByLabel('What it does, step 3').selectOption('by text, who gets texts');
await office.getByLabel('What it does, step 4').selectOption('a call, by who looks after them');
await office.getByText(/calls for us/).waitFor();
await shoot(office, 'plan');
await office.context().close();
await desk.goto('/desk/clients/import');
await desk.locator('input[type=file]').setInputFiles({
	name: 'Neighbours.csv',
	mimeType: 'text/csv',
	buffer: Buffer.from(
		[
			'Client;First name;Last name;E-mail;Phone;Tax number',
			'Puffin Ice House;Ines;Moor;ines@puffinice.example;902 555 0170;R-402-117',
			'Tidewrack Ceramics;Joss;Amberley;joss@tidewrack.example;902 555 0171;R-402-233',
			'Tidewrack Ceramics;Lark;Amberley;;;',
			'Gull and String Kites;Mara;Whitlock;mara@gullstring.example;;R-204-881',
			'Ferry Cafe;Juno;Thorne;;902 555 0181;',
			'Cobble Lane Vets;Una;Frost;una(at)cobble.example;902 555 0173;R-402-508',
			'Lantern Quay Choir;Silas;Wren;silas@quaychoir.example;555;'
		].join('\r\n')
	)
});
await desk.waitForURL(/import\/[0-9a-f]/);
await shoot(desk, 'import');
// what the firm wants to know of its clients, and questions written like a document
await desk.goto('/desk/library/facts');
await shoot(desk, 'facts');
await desk.goto(`/desk/library/questionnaires/${await id(`select id from questionnaire where name = 'Getting to know you and your business'`)}`);
await awake();
await desk.getByRole('complementary', { name: 'Trying it' }).getByText('Yes').first().click();
await shoot(desk, 'questionnaire');
// a PDF that is given places, and sent
const terms = await PDFDocument.create();
const font = await terms.embedFont(StandardFonts.TimesRoman);
const sheet = terms.addPage([612, 792]);
const write = (text, x, y, size = 12) => sheet.drawText(text, { x, y, size, font });
write('Terms of the year end', 72, 716, 20);
write('1. We prepare the final accounts and the return of the year for a fee of $1,900.', 72, 670);
write('2. Either side may end this agreement with thirty days of notice in writing.', 72, 640);
write('3. We keep what you give us for as long as the law says, and no longer.', 72, 610);
write('For the client', 72, 550, 13);
write('Signature: ______________________________', 72, 505);
write('Date: ______________', 400, 505);
write('Company: ______________________________', 72, 465);
write('For Pennywhistle Row', 72, 400, 13);
write('Signature: ______________________________', 72, 355);
write('Date: ______________', 400, 355);
await desk.goto(`/desk/clients/${await id(`select id from client where name = 'Gull & String Kites'`)}/ask`);
await awake();
await desk.getByText('From scratch').click();
await awake();
await desk.getByRole('button', { name: 'a letter to sign', exact: true }).click();
await desk.getByRole('button', { name: 'leave out' }).first().click();
await desk.getByLabel('a PDF of yours').check();
await desk.getByLabel('Add the PDF that is signed').setInputFiles({
	name: 'Terms of the year end.pdf',
	mimeType: 'application/pdf',
	buffer: Buffer.from(await terms.save())
});
await desk.getByRole('button', { name: /Take over/ }).click();
await desk.getByRole('button', { name: /Places on the pages/ }).click();
await desk.locator('canvas[data-drawn]').first().waitFor();
await desk.locator('.placing [data-place]').nth(2).focus();
await shoot(desk, 'placing');
await desk.getByRole('button', { name: 'Done' }).click();
await desk.getByLabel('Title, also the subject').fill('Terms of the year end');
await desk.getByRole('button', { name: /^Send to/ }).click();
await desk.waitForURL(/clients\/[0-9a-f-]{36}$/);
await desk.goto('/desk/rounds');
await desk.evaluate(() => (document.documentElement.dataset.mode = 'dark'));
await desk.locator('[data-row]').filter({ hasText: 'insurance renewal.pdf' }).click();
await desk.locator('canvas').first().waitFor();
await shoot(desk, 'rounds-night', 1500);

await phone.goto('/portal/pennywhistle-row/sign-in');
await phone.getByLabel('E-mail address').fill('nessa@saltgrassbees.example');
await phone.getByLabel('Password').fill('kites above the harbour');
await phone.getByRole('button', { name: 'Sign in', exact: true }).click();
await phone.waitForURL('**/pennywhistle-row');
await shoot(phone, 'portal');
await phone.context().clearCookies();
// the PDF, where its places are
await phone.goto('/portal/pennywhistle-row/sign-in');
await phone.getByLabel('E-mail address').fill('mara@gullstring.example');
await phone.getByLabel('Password').fill('kites above the harbour');
await phone.getByRole('button', { name: 'Sign in', exact: true }).click();
await phone.waitForURL('**/pennywhistle-row');
await phone.goto(
	`/portal/pennywhistle-row/item/${await id(`select id from item where title = 'Terms of the year end' and state = 'asked' order by state_at desc limit 1`)}`
);
await phone.locator('canvas[data-drawn]').first().waitFor();
await phone.getByRole('button', { name: 'Show me the next one' }).click();
await shoot(phone, 'portal-signing');
await phone.context().clearCookies();
// questions about payments, two of them answered
const lines = await sql.query(
	`update contact c set locale = 'en' from item i where i.contact_id = c.id and i.kind = 'transactions' returning i.id, c.email`
);
await phone.goto('/portal/pennywhistle-row/sign-in');
await phone.getByLabel('E-mail address').fill(lines.rows[0].email);
await phone.getByLabel('Password').fill('kites above the harbour');
await phone.getByRole('button', { name: 'Sign in', exact: true }).click();
await phone.waitForURL('**/pennywhistle-row');
await phone.goto(`/portal/pennywhistle-row/item/${lines.rows[0].id}`);
await shoot(phone, 'portal-lines');
await copy.stop();
