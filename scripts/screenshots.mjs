// npm run screenshots: one current picture of each main view, from the demo data, into docs/screenshots.
// Works on a fresh copy of the demo scenario, so that the pictures do not depend on what was tried out.
import { mkdirSync } from 'node:fs';
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
await desk.locator('[data-row]').nth(3).click();
await desk.locator('canvas').first().waitFor();
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
await desk.goto('/desk/library');
await desk.getByText('Before the busy season').click();
await desk.locator('.ProseMirror').first().waitFor();
await shoot(desk, 'library');
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
await desk.goto(`/desk/library/questionnaires/${await id(`select id from questionnaire where name = 'Three questions about us'`)}/answers`);
await awake();
await shoot(desk, 'answers', 600);
await desk.goto('/desk/rounds');
await desk.evaluate(() => (document.documentElement.dataset.mode = 'dark'));
await desk.locator('[data-row]').nth(3).click();
await desk.locator('canvas').first().waitFor();
await shoot(desk, 'rounds-night', 1500);

await phone.goto('/portal/pennywhistle-row/sign-in');
await phone.getByLabel('E-mail address').fill('nessa@saltgrassbees.example');
await phone.getByLabel('Password').fill('kites above the harbour');
await phone.getByRole('button', { name: 'Sign in', exact: true }).click();
await phone.waitForURL('**/pennywhistle-row');
await shoot(phone, 'portal');
await phone.context().clearCookies();
// the one with a letter to sign reads French; the pictures are in English
const letter = await sql.query(
	`update contact c set locale = 'en' from item i join firm f on f.id = i.firm_id
	where i.contact_id = c.id and f.slug = 'pennywhistle-row' and i.kind = 'letter' and i.state in ('asked', 'seen') and c.password_hash is not null
	returning i.id, c.email`
);
if (letter.rows[0]) {
	await phone.goto('/portal/pennywhistle-row/sign-in');
	await phone.getByLabel('E-mail address').fill(letter.rows[0].email);
	await phone.getByLabel('Password').fill('kites above the harbour');
	await phone.getByRole('button', { name: 'Sign in', exact: true }).click();
	await phone.waitForURL('**/pennywhistle-row');
	await phone.goto(`/portal/pennywhistle-row/item/${letter.rows[0].id}`);
	await phone.getByRole('button', { name: 'Sign the letter' }).scrollIntoViewIfNeeded();
	await phone.getByText('You have reached the end').waitFor();
	await shoot(phone, 'portal-signing');
}
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
