import { execFileSync } from 'node:child_process';
import { createWriteStream } from 'node:fs';
import { mkdtemp } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { afterAll, beforeAll, describe, expect, test, vi } from 'vitest';
import { MERGE_FIELDS } from '$lib/core/letters/merge-fields';
import { aroundDue, chasePaceForm, chasePlanForm, chaseStepsInWords } from '$lib/core/chasing/chase-plan';
import { embedOf } from '$lib/core/firms/embed';
import { clientBrandSchema, furtherBrandSchema } from '$lib/core/firms/firm-forms';
import { fitWithin } from '$lib/core/firms/logo';
import type { Actor } from '../actor';
import { chasePeople } from '../chasing/chase-people';
import { resumeSession } from '../people/sessions';
import { sendRequest } from '../requests/send-request';
import {
	itemsOf,
	makeClient,
	makeFirm,
	openTestContext,
	letterLine,
	paperLine,
	requestTo,
	SECRET_KEY,
	sendPlanned,
	type TestFirm,
	type TestContext
} from '../testing/test-firm';
import {
	addHolidays,
	changeBrand,
	changeFirmDetails,
	changeFirmHours,
	changePace,
	importHolidays,
	readHolidaysFrom,
	removeHoliday
} from '../firm-settings/change-firm';
import { saveChasePlan, stampOfPlan } from '../firm-settings/chase-plans';
import type { Tx } from '../platform/db/database';
import { withBrandOf, changeClientBrand, endBrand, readBrands, writeBrand } from './brands';
import { findShortName, loadFirm } from './firm';
import { changePicture, readPicture, removePicture } from './pictures';
import { hasFirm, setUpCode, setUpFirm } from '../set-up/set-up-firm';

const VALUES = Object.fromEntries(Object.keys(MERGE_FIELDS).map((name) => [name, 'x']));
let context: TestContext;
const nobody = (): Actor => ({
	kind: 'nobody',
	id: null,
	name: 'somebody',
	role: null,
	now: context.clock.now(),
	ip: '203.0.113.5',
	userAgent: 'test'
});
const admin = (firm: TestFirm): Actor => ({ ...firm.odalys(), role: 'administrator' });
const answers = (more = {}) => ({
	code: setUpCode(SECRET_KEY),
	firmName: 'Gull & Ledger',
	country: 'CA',
	timeZone: 'America/Halifax',
	name: 'Tamsin Vale',
	email: 'tamsin@gullledger.example',
	password: 'lamplight ledger harbour',
	...more
});
const setUp = (more = {}) => setUpFirm(context, nobody(), answers(more), SECRET_KEY);

beforeAll(async () => {
	context = await openTestContext();
});
afterAll(() => context.close());

test('the first firm: only with the code, a good password, and once, whoever is fastest', async () => {
	expect(await hasFirm(context.db)).toBe(false);
	await expect(setUp({ code: 'guess' })).rejects.toMatchObject({ code: 'not_allowed' });
	await expect(setUp({ code: setUpCode('00'.repeat(32)) })).rejects.toMatchObject({ code: 'not_allowed' });
	await expect(setUp({ password: 'password1234' })).rejects.toMatchObject({ problem: 'common' });
	expect(await hasFirm(context.db)).toBe(false);
	const results = await Promise.allSettled([setUp(), setUp({ email: 'other@gullledger.example' })]);
	expect(results.map((r) => r.status).sort()).toEqual(['fulfilled', 'rejected']);
	const session = results.find((r) => r.status === 'fulfilled')!.value;
	const signedIn = await resumeSession(context.db, session.token, 'staff', context.clock.now());
	expect(signedIn).toMatchObject({ role: 'administrator', firmSlug: 'gull-and-ledger' });
	expect(await context.db.inFirm(signedIn!.firmId, loadFirm)).toMatchObject({ name: 'Gull & Ledger', country: 'CA', calendar: { holidays: [] } });
	expect((await context.owner.query('select count(*)::int n from seal_certificate')).rows[0].n).toBe(1);
	await expect(setUp({ email: 'late@gullledger.example' })).rejects.toMatchObject({ code: 'changed_meanwhile' });
});

describe('the portal’s address', () => {
	const brand = (firm: TestFirm, shortName: string) =>
		firm.run((tx) => changeBrand(tx, admin(firm), { color: '#ffd447', welcome: 'Hello', shortName, welcomeVideo: null }));
	const leadsTo = (shortName: string) => findShortName(context.db, shortName);

	test('a former one goes on leading to the firm, nobody else can take it, and the firm can go back', async () => {
		const [firm, other] = [await makeFirm(context), await makeFirm(context)];
		await brand(firm, 'new-name');
		expect(await leadsTo(firm.slug)).toEqual({ firmId: firm.id, slug: 'new-name' });
		await brand(firm, 'newer-name');
		expect(await leadsTo('new-name')).toEqual({ firmId: firm.id, slug: 'newer-name' });
		for (const taken of ['newer-name', 'new-name', firm.slug])
			await expect(brand(other, taken)).rejects.toMatchObject({ fields: { shortName: expect.any(String) } });
		await brand(firm, firm.slug);
		expect(await leadsTo('newer-name')).toEqual({ firmId: firm.id, slug: firm.slug });
		expect(await leadsTo('nowhere')).toBeNull();
	});
	test('a colour that cannot be read is kept as chosen and used in the nearest shade', async () => {
		const firm = await makeFirm(context);
		await brand(firm, firm.slug);
		const loaded = await firm.run(loadFirm);
		expect(loaded.brandColor).toBe('#ffd447');
		expect(loaded.color).not.toBe('#ffd447');
	});
});

test('other hours place every chase that is still to come anew, across zones and a clock change', async () => {
	const firm = await makeFirm(context);
	const client = await makeClient(context, firm);
	const [item] = await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('P', '2026-11-03')])));
	const on = async () => (await context.owner.query('select next_chase_on from item where id = $1', [item.id])).rows[0].next_chase_on;
	expect(await on()).toBe('2026-10-30');
	const hours = (timeZone: string, businessDays: number[]) =>
		firm.run((tx) => changeFirmHours(tx, admin(firm), { timeZone, businessDays, sendFrom: '08:00', sendTo: '12:00' }));
	await hours('Pacific/Auckland', [2, 3, 4]);
	// business days are Tuesday to Thursday: two before Tuesday 3 November is Wednesday 28 October
	expect(await on()).toBe('2026-10-28');
	context.clock.set('2026-10-27T18:59:00Z');
	expect(await chasePeople(context.db, firm.id, context.clock.now())).toBe(0);
	context.clock.set('2026-10-27T19:00:00Z');
	expect(await chasePeople(context.db, firm.id, context.clock.now())).toBe(1);
});

describe('the logo', () => {
	const png = Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAMAAAACCAIAAAASFvFNAAAAEElEQVR4nGOoko+BIAY4CwA6NAW/Ek33vwAAAABJRU5ErkJggg==', 'base64');
	const large = Buffer.from(png);
	large.writeUInt32BE(100_000, 16);
	const damaged = Buffer.concat([png.subarray(0, 45), Buffer.alloc(20, 7)]);
	const LOGO = { what: 'logo' as const, brandId: null };
	const logoOf = async (tx: Tx) => readPicture(tx, (await loadFirm(tx)).logoVersion);
	const put = (firm: TestFirm, bytes: Buffer) => firm.run((tx) => changePicture(tx, admin(firm), LOGO, bytes));

	test.each([
		['an SVG with a script', Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>'.padEnd(90))],
		['a picture too large to draw', large],
		['a damaged picture', damaged],
		['nothing', Buffer.alloc(0)]
	])('%s is refused, and the one before stays', async (_, bytes) => {
		const firm = await makeFirm(context);
		await put(firm, png);
		await expect(put(firm, bytes)).rejects.toMatchObject({ code: 'unreadable_file' });
		expect((await firm.run(logoOf))?.bytes.equals(png)).toBe(true);
	});
	test('more bytes than a logo needs are refused; only an administrator may', async () => {
		const firm = await makeFirm(context);
		await expect(put(firm, Buffer.concat([png, Buffer.alloc(300_000)]))).rejects.toMatchObject({ code: 'too_many' });
		await expect(firm.run((tx) => changePicture(tx, firm.odalys(), LOGO, png))).rejects.toMatchObject({ code: 'not_allowed' });
	});
	test('stands in messages and letters, until it is taken away', async () => {
		const firm = await makeFirm(context);
		await put(firm, png);
		const client = await makeClient(context, firm);
		const send = async () => {
			const line = letterLine('Letter', '2026-12-01', VALUES);
			const [item] = await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [line], { tellNow: true })));
			await sendPlanned(context, firm);
			const { rows } = await context.owner.query('select storage_key from letter where item_id = $1', [item.id]);
			const file = join(await mkdtemp(join(tmpdir(), 'lantern-logo-')), 'letter.pdf');
			await pipeline(context.papers.read(rows[0].storage_key), createWriteStream(file));
			// the tool prints two lines of headings, then one a picture
			return {
				html: context.mailer.sent.at(-1)!.html,
				pictures: execFileSync('pdfimages', ['-list', file], { encoding: 'utf8' }).trim().split('\n').length - 2
			};
		};
		const version = (await firm.run(loadFirm)).logoVersion;
		const withLogo = await send();
		expect(withLogo.html).toContain(`http://localhost:3000/portal/${firm.slug}/logo/${version}`);
		expect(withLogo.pictures).toBe(1);
		await firm.run((tx) => removePicture(tx, admin(firm), LOGO));
		const without = await send();
		expect(without.html).not.toContain('/logo/');
		expect(without.pictures).toBe(0);
	});
});

test('only an administrator changes the firm', async () => {
	const firm = await makeFirm(context);
	const details = {
		name: 'New',
		address: '',
		country: 'CA',
		mailFrom: 'new@firm.example',
		phone: '+19025550177',
		clientLanguage: 'fr' as const,
		currency: 'EUR'
	};
	await expect(firm.run((tx) => changeFirmDetails(tx, firm.partner, details))).rejects.toMatchObject({ code: 'not_allowed' });
	await firm.run((tx) => changeFirmDetails(tx, admin(firm), details));
	expect(await firm.run(loadFirm)).toMatchObject({
		name: 'New',
		mailFrom: 'new@firm.example',
		phone: '+19025550177',
		clientLanguage: 'fr',
		currency: 'EUR'
	});
	// without one of its own, that of its country
	await firm.run((tx) => changeFirmDetails(tx, admin(firm), { ...details, currency: null }));
	expect(await firm.run(loadFirm)).toMatchObject({ currency: 'CAD' });
});

test('a holiday moves the reminders that are still to come; taken out, they are where they were', async () => {
	context.clock.set('2026-05-04T13:30:00Z');
	const firm = await makeFirm(context);
	const client = await makeClient(context, firm);
	await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Bank statement', '2026-05-12')]));
	const next = async () => (await context.owner.query('select next_chase_on::text "on" from item where firm_id = $1', [firm.id])).rows[0].on;
	const before = await next();
	await expect(firm.run((tx) => addHolidays(tx, firm.odalys(), [{ day: before, name: 'Regatta' }]))).rejects.toMatchObject({ code: 'not_allowed' });
	await firm.run((tx) => addHolidays(tx, admin(firm), [{ day: before, name: 'Regatta' }]));
	expect(await next()).not.toBe(before);
	await firm.run((tx) => addHolidays(tx, admin(firm), [{ day: before, name: 'Boat race' }]));
	expect(await firm.run((tx) => readHolidaysFrom(tx, before))).toEqual([{ day: before, name: 'Boat race' }]);
	await firm.run((tx) => removeHoliday(tx, admin(firm), before));
	expect(await next()).toBe(before);
});

describe('further brands', () => {
	const harbour = furtherBrandSchema.parse({ name: 'Harbour Books', color: '#ffd447', welcome: 'Ahoy.', welcomeVideo: '' });
	const seen = (firm: TestFirm, about: { clientId?: string; contactId?: string }) =>
		firm.run(async (tx) => withBrandOf(tx, await loadFirm(tx), about));
	async function branded() {
		const firm = await makeFirm(context);
		const client = await makeClient(context, firm);
		const brandId = await firm.run((tx) => writeBrand(tx, admin(firm), null, harbour));
		const choose = (id: string | null, more: Record<string, string> = {}, to = client.id) =>
			firm.run((tx) => changeClientBrand(tx, firm.odalys(), to, clientBrandSchema.parse({ brandId: id ?? '', ...more })));
		return { firm, client, brandId, choose };
	}

	test('is seen by its clients, in messages and on the portal, with a shade that can be read', async () => {
		const { firm, client, brandId, choose } = await branded();
		expect((await seen(firm, { clientId: client.id })).name).toBe('Pennywhistle Row Bookkeeping');
		await choose(brandId);
		const firmSeen = await seen(firm, { clientId: client.id });
		expect(firmSeen).toMatchObject({ name: 'Harbour Books', welcome: 'Ahoy.', brandColor: '#ffd447', slug: firm.slug });
		expect(firmSeen.color).not.toBe('#ffd447');
		expect((await seen(firm, { contactId: client.contactId })).name).toBe('Harbour Books');
		expect((await seen(firm, {})).name).toBe('Pennywhistle Row Bookkeeping');
		await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Paper', '2026-12-01')]));
		await sendPlanned(context, firm);
		const mail = context.mailer.sent.at(-1)!;
		expect(mail.from.name).toBe('Harbour Books');
		expect(mail.html).toContain(firmSeen.color);
		expect(mail.text).not.toContain('Pennywhistle Row Bookkeeping');
	});

	test('who has clients of several brands sees the firm’s own; an ended brand is gone', async () => {
		const { firm, client, brandId, choose } = await branded();
		await choose(brandId);
		const second = await makeClient(context, firm, { name: 'Second', email: client.email, contactId: client.contactId });
		expect((await seen(firm, { contactId: client.contactId })).name).toBe('Pennywhistle Row Bookkeeping');
		await choose(brandId, {}, second.id);
		expect((await seen(firm, { contactId: client.contactId })).name).toBe('Harbour Books');
		expect((await firm.run(readBrands))[0].clients).toBe(2);
		await firm.run((tx) => endBrand(tx, admin(firm), brandId));
		await firm.run((tx) => endBrand(tx, admin(firm), brandId));
		expect((await seen(firm, { contactId: client.contactId })).name).toBe('Pennywhistle Row Bookkeeping');
		await expect(choose(brandId)).rejects.toMatchObject({ code: 'invalid' });
	});

	test('a welcome of one’s own takes the place of the brand’s, unless one has several businesses', async () => {
		const { firm, client, choose } = await branded();
		await choose(null, { welcome: 'Hello, Mara.', welcomeVideo: 'https://vimeo.com/12345' });
		expect(await seen(firm, { contactId: client.contactId })).toMatchObject({
			name: 'Pennywhistle Row Bookkeeping',
			welcome: 'Hello, Mara.',
			welcomeVideo: 'https://vimeo.com/12345'
		});
		await makeClient(context, firm, { name: 'Second', email: client.email, contactId: client.contactId });
		expect((await seen(firm, { contactId: client.contactId })).welcome).toBe('');
	});

	test('only an administrator makes one, names are taken once, another firm’s is none', async () => {
		const { firm, brandId } = await branded();
		const other = await branded();
		await expect(firm.run((tx) => writeBrand(tx, firm.odalys(), null, harbour))).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(firm.run((tx) => writeBrand(tx, admin(firm), null, { ...harbour, name: 'harbour books' }))).rejects.toMatchObject({
			code: 'invalid'
		});
		await expect(other.choose(brandId)).rejects.toMatchObject({ code: 'invalid' });
		await expect(other.firm.run((tx) => writeBrand(tx, admin(other.firm), brandId, { ...harbour, name: 'x' }))).rejects.toMatchObject({
			code: 'not_found'
		});
		await expect(other.firm.run((tx) => changePicture(tx, admin(other.firm), { what: 'logo', brandId }, Buffer.from('x')))).rejects.toMatchObject({
			code: 'unreadable_file'
		});
		await expect(other.firm.run((tx) => removePicture(tx, admin(other.firm), { what: 'logo', brandId }))).rejects.toMatchObject({
			code: 'not_found'
		});
	});

	test.each([
		['https://www.youtube.com/watch?v=abc_DEF-123&t=4', 'https://www.youtube-nocookie.com/embed/abc_DEF-123'],
		['https://youtu.be/abc', 'https://www.youtube-nocookie.com/embed/abc'],
		['https://vimeo.com/76979871', 'https://player.vimeo.com/video/76979871'],
		['http://youtu.be/abc', null],
		['https://youtu.be/abc"onload=x', null],
		['https://youtube.com.evil.example/watch?v=abc', null],
		['https://video.example/a.mp4', null],
		['javascript:alert(1)', null],
		['not an address', null]
	])('%s is embedded as %s', (address, embedded) => expect(embedOf(address)).toBe(embedded));
	test('a video’s address is a whole one', () => {
		const read = (welcomeVideo: string) => furtherBrandSchema.safeParse({ name: 'x', color: '#123456', welcomeVideo }).success;
		expect([read(''), read('https://video.example/a'), read('javascript:alert(1)'), read('http://x.example'), read('vimeo.com/1')]).toEqual([
			true,
			true,
			false,
			false,
			false
		]);
		expect(fitWithin({ width: 4000, height: 1000 }, { width: 960, height: 640 })).toEqual({ width: 960, height: 240 });
		expect(fitWithin({ width: 10, height: 10 }, { width: 960, height: 640 })).toEqual({ width: 10, height: 10 });
	});
});

describe('chase plans', () => {
	test('are changed together; what is still to come is placed anew, what has gone out counts', async () => {
		context.clock.set('2026-10-19T13:00:00Z');
		const firm = await makeFirm(context);
		const client = await makeClient(context, firm);
		const newcomer = await makeClient(context, firm, { name: 'New', access: false });
		const [item] = await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Paper', '2026-10-28')])));
		await sendRequest(context, firm.id, firm.odalys(), { ...requestTo(newcomer, [paperLine('Paper', '2026-12-28')]), withInvitation: true });
		const days = async () => [
			(await itemsOf(context, (await context.owner.query('select request_id from item where id = $1', [item.id])).rows[0].request_id))[0]
				.next_chase_on,
			(await context.owner.query('select next_chase_on from invitation where contact_id = $1', [newcomer.contactId])).rows[0].next_chase_on
		];
		expect(await days()).toEqual(['2026-10-26', '2026-10-22']);
		const change = (steps: number[], invitationSteps: number[], actor = admin(firm)) =>
			firm.run(async (tx) => {
				await changePace(tx, actor, chasePaceForm.parse({ invitationSteps }));
				await saveChasePlan(
					tx,
					actor,
					{ key: 'usual', seen: stampOfPlan((await loadFirm(tx)).chasePlan) },
					{ name: 'Brisk', steps: steps.map(aroundDue) }
				);
			});
		await change([-1, 2, 5], [1]);
		expect(await days()).toEqual(['2026-10-27', '2026-10-20']);
		await change([2], []);
		expect(await days()).toEqual(['2026-10-30', null]);
		await expect(change([1], [1], firm.odalys())).rejects.toMatchObject({ code: 'not_allowed' });
	});
	test.each([
		[[], false],
		[[-31], false],
		[['x'], false],
		[[1.5], false],
		[[2, 1], false],
		[['-2', '1'], true]
	])('%j is a plan: %s', (days, good) => {
		const steps = (days as number[]).map(aroundDue);
		expect(chasePlanForm.safeParse({ name: 'x', steps }).success).toBe(good);
	});
	test.each([
		[[], true],
		[['3'], true],
		[[0], false]
	])('%j is when invitations are reminded of: %s', (invitationSteps, good) =>
		expect(chasePaceForm.safeParse({ invitationSteps }).success).toBe(good)
	);
	test.each([
		[[-2, 1, 3, 7], '2 business days before it is due, then 1, 3 and 7 after', 'after 1, 3 and 7 business days'],
		[[1], '1 business day after it was due', 'after 1 business day'],
		[[-5, -1, 0], '5 and 1 business days before it is due, then on the day it is due', '']
	])('%j in words', (steps, around, after) => expect(chaseStepsInWords(steps)).toEqual({ around, after }));
});

describe('a calendar that others made', () => {
	const nextYear = () => Number(context.clock.now().slice(0, 4)) + 1;
	const calendar = (rule: string) => {
		const text = `BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nSUMMARY:Regatta\r\nDTSTART;VALUE=DATE:${nextYear()}0810\r\n${rule}END:VEVENT\r\nEND:VCALENDAR`;
		return { size: text.length, text: vi.fn(async () => text) };
	};
	test('is read for whoever may change the firm; of others nothing is read', async () => {
		const firm = await makeFirm(context);
		const file = calendar('');
		await expect(importHolidays(context, firm.id, firm.odalys(), file)).rejects.toMatchObject({ code: 'not_allowed' });
		expect(file.text).not.toHaveBeenCalled();
		await importHolidays(context, firm.id, admin(firm), file);
		expect(await firm.run((tx) => readHolidaysFrom(tx, context.clock.now().slice(0, 10)))).toEqual([{ day: `${nextYear()}-08-10`, name: 'Regatta' }]);
	});
	test('is given up when a rule keeps it busy, and everything else goes on meanwhile', async () => {
		const firm = await makeFirm(context);
		let turns = 0;
		const counted = setInterval(() => turns++, 10);
		await expect(importHolidays(context, firm.id, admin(firm), calendar('RRULE:FREQ=SECONDLY;BYMONTH=2;BYMONTHDAY=30\r\n'))).rejects.toMatchObject({
			code: 'invalid'
		});
		clearInterval(counted);
		// the five seconds it had were spent elsewhere: here it would have been none
		expect(turns).toBeGreaterThan(10);
		expect(await firm.run((tx) => readHolidaysFrom(tx, '2026-01-01'))).toEqual([]);
		const large = { size: 2_000_000, text: vi.fn(async () => '') };
		await expect(importHolidays(context, firm.id, admin(firm), large)).rejects.toThrow('larger than 1 MB');
		expect(large.text).not.toHaveBeenCalled();
	});
});
