import { readdir } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { beforeEach, describe, expect, test } from 'vitest';
import { questionSchema } from '$lib/core/items/questions';
import type { Actor } from '../actor';
import { takeInAttachment } from '../attachments/attachments';
import { readFacts, sayFact } from '../clients/client-facts';
import { changeClientRights } from '../clients/client-rights';
import { readItem } from '../items/read-items';
import { addQuestionnaire, changeQuestionnaire, removeQuestionnaire } from '../library/questionnaires';
import { asStaff, type Tx } from '../platform/db/database';
import type { RateLimits } from '../platform/rate-limits';
import { readAnswersOfMany, readPutAway } from '../requests/answers-of-many';
import { countRounds } from '../rounds/read-rounds';
import { loadFirm } from '../firms/firm';
import { makeClient, makeFirm, SECRET_KEY, sendPlanned } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { askForAnswerCode, confirmAddress, findOpenPage, openingOf, openPublicPicture, readReceipt, takePublicAnswer } from './answer-page';
import { bringBack, joinToClient, makeClientOf, PUT_AWAY_DAYS, readCameIn, readMatches, removePutAway, settleWithoutClient } from './came-in';
import { openPublicFile, readFilesWanted, removePublicFile, takePublicFile } from './public-files';
import { closePublicPage, openPublicPage, readPublicPage } from './pages';

useFirm();

const one = (key: string, answer: object, more: object = {}) =>
	questionSchema.parse({ key, title: `About ${key}`, help: '', required: false, answer, fact: null, ...more });
const QUESTIONS = [
	one('form', { is: 'one_of', choices: ['sole trader', 'partnership', 'company', 'co-operative', 'non-profit'] }, { fact: 'legal_form' }),
	one('staff', { is: 'yes_no' }, { required: true, fact: 'payroll' }),
	one('many', { is: 'number', unit: '' }, { required: true, under: 'staff', when: { is: 'equals', value: 'yes' } }),
	one('sits', { is: 'line' }, { condition: { kind: 'client', is: 'person' } }),
	one('served', { is: 'line' }, { condition: { kind: 'service', is: 'has', name: 'Payroll' } }),
	one('words', { is: 'words' })
];
const about = { name: 'Tell us', about: '', questions: QUESTIONS, files: false, signed: false, ends: [], year: null };
const settings = { name: 'tell-us', who: 'asked' as const, thanks: '', sites: ['https://www.firm.example'] };
const run = <T>(work: Parameters<typeof firm.run<T>>[0]) => firm.run(work);
const nobody = (more: Partial<Actor> = {}): Actor => ({
	kind: 'nobody',
	id: null,
	name: 'somebody',
	role: null,
	now: context.clock.now(),
	ip: '203.0.113.40',
	userAgent: 'test',
	...more
});
const PERSON = { 'visitor.name': 'Wren Castellan', 'visitor.email': 'wren@saltglass.example', 'visitor.business': 'Saltglass Studio' };
let questionnaire: string;
let pageId: string;
beforeEach(async () => {
	questionnaire = await run((tx) => addQuestionnaire(tx, firm.odalys(), about));
	await run((tx) => openPublicPage(tx, firm.odalys(), questionnaire, settings));
	pageId = (await run((tx) => findOpenPage(tx, nobody(), 'tell-us'))).id;
});
const NO_LIMITS = { publicAnswer: async () => undefined, answerCode: async () => undefined } as unknown as RateLimits;
const before = (seconds: number) => new Date(Date.parse(context.clock.now()) - seconds * 1000).toISOString();
const opened = (seconds = 60) => openingOf(pageId, before(seconds), SECRET_KEY);
/** one comes a second after the other */
let sent = 0;
const send = (typed: object, more: { limits?: RateLimits; actor?: Actor; name?: string } = {}) =>
	takePublicAnswer(
		{ db: context.db, limits: more.limits ?? NO_LIMITS, secretKey: SECRET_KEY },
		firm.id,
		more.actor ?? nobody({ now: before(-(++sent % 500)) }),
		{
			name: more.name ?? 'tell-us',
			typed: { version: '1', opening: opened(), ...PERSON, staff: 'no', ...typed },
			locale: 'en'
		}
	);
const waiting = async () =>
	(
		await run((tx) =>
			tx.rows<{ id: string }>('select id from public_answer where firm_id = $1 and outcome is null order by came_at, id', [tx.firmId])
		)
	).map(({ id }) => id);
const refusal = (of: Promise<unknown>) =>
	of.then(
		() => 'taken',
		(error: { code?: string; what?: { key: string }; fields?: Record<string, { key: string }> }) => ({
			code: error.code,
			what: error.what?.key,
			fields: Object.fromEntries(Object.entries(error.fields ?? {}).map(([field, what]) => [field, what.key]))
		})
	);

describe('what anybody is asked', () => {
	test('what depends on the kind of client is asked, for it is not known; what depends on a service is not', async () => {
		const { questions } = await run((tx) => findOpenPage(tx, nobody(), 'tell-us'));
		expect(questions.map(({ key }) => key)).toEqual(['form', 'staff', 'many', 'sits', 'words']);
		expect(JSON.stringify(questions)).not.toContain('Payroll');
	});
	test('a page that is closed, was never there, is another firm’s, or whose questionnaire was taken out', async () => {
		const other = await makeFirm(context);
		await expect(other.run((tx) => findOpenPage(tx, nobody(), 'tell-us'))).rejects.toMatchObject({ code: 'not_found' });
		await expect(run((tx) => findOpenPage(tx, nobody(), 'nothing'))).rejects.toMatchObject({ code: 'not_found' });
		await run((tx) => closePublicPage(tx, firm.odalys(), questionnaire));
		expect(await refusal(send({}))).toMatchObject({ code: 'link_unusable' });
		await run((tx) => openPublicPage(tx, firm.odalys(), questionnaire, settings));
		await run((tx) => removeQuestionnaire(tx, firm.odalys(), questionnaire));
		expect(await refusal(send({}))).toMatchObject({ code: 'link_unusable' });
		expect(await waiting()).toEqual([]);
	});
	test('a picture that explains a question is shown, as the page was opened, and no other file of the firm', async () => {
		const png = Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==', 'base64');
		const take = () => takeInAttachment(context, firm.id, firm.odalys(), { name: 'where.png', content: Readable.from([png]) });
		const [shown, other] = [await take(), await take()];
		const helpText = { type: 'doc' as const, content: [{ type: 'picture' as const, attrs: { id: shown.id, alt: '' } }] };
		await run((tx) => changeQuestionnaire(tx, firm.odalys(), questionnaire, 1, { ...about, questions: [{ ...QUESTIONS[0], helpText }] }));
		const open = (pictureId: string, version = 2) => run((tx) => openPublicPicture(tx, nobody(), { name: 'tell-us', version, pictureId }));
		expect(await open(shown.id)).toMatchObject({ name: 'where.png' });
		for (const [picture, version] of [
			[other.id, 2],
			[shown.id, 1],
			[other.id, Number.NaN]
		] as const)
			await expect(open(picture, version)).rejects.toMatchObject({ code: 'not_found' });
		await run((tx) => closePublicPage(tx, firm.odalys(), questionnaire));
		await expect(open(shown.id)).rejects.toMatchObject({ code: 'link_unusable' });
	});
	test('an address is one page’s; nobody who only looks opens one', async () => {
		const second = await run((tx) => addQuestionnaire(tx, firm.odalys(), { ...about, name: 'Another' }));
		await expect(run((tx) => openPublicPage(tx, firm.odalys(), second, settings))).rejects.toMatchObject({
			code: 'invalid',
			fields: { name: expect.stringContaining('Tell us') }
		});
		await expect(run((tx) => openPublicPage(tx, firm.filing, second, { ...settings, name: 'x' }))).rejects.toMatchObject({ code: 'not_allowed' });
	});
});

describe('what somebody sends', () => {
	test('counts as far as it is asked; it is nobody’s, becomes no fact, and waits in everybody’s Rounds', async () => {
		await send({ staff: 'no', many: '12', form: 'company', served: 'x', nonsense: 'y', words: '<script>alert(1)</script>' });
		const [id] = await waiting();
		const answer = await run(async (tx) => readCameIn(tx, firm.odalys(), await loadFirm(tx), id));
		expect(answer).toMatchObject({
			answers: { staff: false, form: 'company', words: '<script>alert(1)</script>' },
			name: 'Wren Castellan',
			confirmed: false
		});
		expect(Object.keys(answer.answers)).not.toContain('many');
		expect(await run(async (tx) => (await countRounds(tx, await loadFirm(tx), context.clock.now(), firm.partner.id)).public_answers)).toBe(1);
		expect(await run((tx) => readFacts(tx, firm.odalys(), client.id))).toEqual([]);
	});
	test('what is missing is said at its field, and nothing is kept', async () => {
		expect(await refusal(send({ staff: 'yes', 'visitor.email': '' }))).toMatchObject({
			code: 'invalid',
			fields: { many: 'wrong.answer.number', 'visitor.email': 'wrong.email.empty' }
		});
		expect(await refusal(send({ 'visitor.email': 'no' }))).toMatchObject({ what: 'wrong.email.form' });
		expect(await waiting()).toEqual([]);
	});
	test('a page of ours, opened by a person: too fast, too old, forged, for another page, or with the unseen field filled in', async () => {
		expect(await refusal(send({ opening: opened(2) }, { actor: nobody() }))).toMatchObject({ what: 'wrong.public.fast' });
		expect(await refusal(send({ opening: opened(31 * 86_400) }, { actor: nobody() }))).toMatchObject({ what: 'wrong.public.old' });
		for (const opening of [
			undefined,
			'x',
			opened().replace(/.$/, (sign) => (sign === 'A' ? 'B' : 'A')),
			openingOf(questionnaire, before(60), SECRET_KEY)
		])
			expect(await refusal(send({ opening }))).toMatchObject({ what: 'wrong.public.opening' });
		expect(await refusal(send({ contact_address: 'http://spam.example' }))).toMatchObject({ fields: { contact_address: 'wrong.public.unseen' } });
		expect(await waiting()).toEqual([]);
	});
	test('sent twice it is one; sent again with other words it is those; what was dealt with stays, and the new one waits', async () => {
		const opening = opened();
		await send({ opening, words: 'first' });
		await send({ opening, words: 'second' });
		const [id, more] = await waiting();
		expect(more).toBeUndefined();
		const words = async (of: string) => (await run(async (tx) => readCameIn(tx, firm.odalys(), await loadFirm(tx), of))).answers.words;
		expect(await words(id)).toBe('second');
		await run((tx) => settleWithoutClient(tx, firm.odalys(), id, 'kept'));
		await send({ opening, words: 'third' });
		expect(await words(id)).toBe('second');
		expect(await words((await waiting())[0])).toBe('third');
	});
	test('what was asked when the page was opened is what is answered, whatever it became meanwhile', async () => {
		await run((tx) =>
			changeQuestionnaire(tx, firm.odalys(), questionnaire, 1, { ...about, questions: [one('new', { is: 'line' }, { required: true })] })
		);
		await send({ version: '1', words: 'to the old one' });
		const [id] = await waiting();
		expect(await run(async (tx) => readCameIn(tx, firm.odalys(), await loadFirm(tx), id))).toMatchObject({
			version: 1,
			answers: { words: 'to the old one' }
		});
		expect(await refusal(send({ version: '2' }))).toMatchObject({ fields: { new: 'wrong.answer.empty' } });
	});
	test('a page of another firm by the same name has its own limit; an address or a name of any length is counted', async () => {
		const spent = { ...NO_LIMITS, publicAnswer: (page: string) => context.limits.publicAnswer(page, `198.51.${page.length}.1`) } as RateLimits;
		expect(await refusal(send({}, { limits: spent }))).toBe('taken');
		const { rows } = await context.owner.query(`select key from rate_limit where key like 'public_answer_page:%' and key like '%tell-us'`);
		expect(rows.map((row) => row.key)).toEqual([`public_answer_page:${firm.id} tell-us`]);
		for (let n = 0; n < 3; n++) await context.limits.answerCode(`${'x'.repeat(242)}@else.example`, `192.0.${n}.1`);
		await expect(context.limits.answerCode(`${'X'.repeat(242)}@else.example`, '192.0.9.1')).rejects.toMatchObject({ code: 'too_many' });
		expect(await refusal(send({}, { limits: context.limits, name: 'n'.repeat(3000) }))).toMatchObject({ code: 'not_found' });
	});
	test('too many from one network are turned away before anything is read; others go on', async () => {
		for (let n = 0; n < 20; n++) await context.limits.publicAnswer('tell-us', '192.0.2.5');
		expect(await refusal(send({}, { limits: context.limits, actor: nobody({ ip: '192.0.2.77' }) }))).toMatchObject({ code: 'too_many' });
		expect(await refusal(send({}, { limits: context.limits, actor: nobody({ ip: '198.51.100.200' }) }))).toBe('taken');
	});
});

describe('a copy by mail', () => {
	const mails = () => context.mailer.sent.splice(0);
	test('only after a code to the address; the mail with the code has none of the stranger’s words', async () => {
		const token = await send({ words: 'Buy this now', 'visitor.name': 'Cheap Pills' });
		await sendPlanned(context, firm);
		expect(mails()).toEqual([]);
		await run((tx) => askForAnswerCode({ limits: NO_LIMITS }, tx, nobody(), token));
		await sendPlanned(context, firm);
		const [mail, none] = mails();
		expect(none).toBeUndefined();
		expect(mail.to).toMatchObject({ name: '', address: 'wren@saltglass.example' });
		expect(`${mail.subject} ${mail.text} ${mail.html}`).not.toMatch(/Pills|Buy this|works for you/);
		const code = /(\d{4}) (\d{4})/.exec(mail.text)!.slice(1).join('');
		expect(await run((tx) => confirmAddress(tx, nobody(), token, code.replace(/\d/g, '0')))).toBe(false);
		expect(await run((tx) => confirmAddress(tx, nobody(), token, ` ${code.slice(0, 4)} ${code.slice(4)}`))).toBe(true);
		// once more changes nothing, and sends nothing
		expect(await run((tx) => confirmAddress(tx, nobody(), token, code))).toBe(true);
		await sendPlanned(context, firm);
		const copies = mails();
		expect(copies).toHaveLength(1);
		expect(copies[0].text).toContain('Buy this now');
		// where it is kept that it was sent, what they answered does not stand
		const { rows } = await context.owner.query(
			`select body_text, body_html from message where kind in ('answer_copy', 'answer_code') and firm_id = $1`,
			[firm.id]
		);
		expect(JSON.stringify(rows)).not.toMatch(new RegExp(`Buy this|${code.slice(0, 4)} ${code.slice(4)}`));
		expect(await run((tx) => readReceipt(tx, nobody(), token))).toMatchObject({ confirmed: true });
	});
	test('six tries, half an hour, two days; and three codes an hour to one address', async () => {
		const token = await send({});
		await run((tx) => askForAnswerCode({ limits: NO_LIMITS }, tx, nobody(), token));
		for (let n = 0; n < 6; n++) expect(await run((tx) => confirmAddress(tx, nobody(), token, '00000000'))).toBe(false);
		await expect(run((tx) => confirmAddress(tx, nobody(), token, '00000000'))).rejects.toMatchObject({ code: 'too_many' });
		const later = (minutes: number) => nobody({ now: new Date(Date.parse(context.clock.now()) + minutes * 60_000).toISOString() });
		await run((tx) => askForAnswerCode({ limits: NO_LIMITS }, tx, later(1), token));
		await expect(run((tx) => confirmAddress(tx, later(32), token, '00000000'))).rejects.toMatchObject({ code: 'link_unusable' });
		await expect(run((tx) => readReceipt(tx, later(2 * 1440 + 1), token))).rejects.toMatchObject({ code: 'not_found' });
		for (let n = 0; n < 3; n++) await context.limits.answerCode('flood@saltglass.example', `192.0.${n}.1`);
		await expect(context.limits.answerCode('Flood@saltglass.example', '192.0.9.1')).rejects.toMatchObject({ code: 'too_many' });
	});
	test('another address that is given afterwards has to be confirmed anew; a receipt of another firm is none', async () => {
		const opening = opened();
		const token = await send({ opening });
		await context.owner.query('update public_answer set confirmed_at = now() where firm_id = $1', [firm.id]);
		expect(await run((tx) => readReceipt(tx, nobody(), token))).toMatchObject({ confirmed: true });
		const second = await send({ opening, 'visitor.email': 'else@saltglass.example' });
		expect(await run((tx) => readReceipt(tx, nobody(), second))).toMatchObject({ confirmed: false, email: 'else@saltglass.example' });
		const other = await makeFirm(context);
		await expect(other.run((tx) => readReceipt(tx, nobody(), second))).rejects.toMatchObject({ code: 'not_found' });
	});
});

describe('files', () => {
	const WANTED = [
		QUESTIONS[1],
		one('charter', { is: 'file', accepts: 'pdf' }, { required: true }),
		one('rents', { is: 'file' }, { under: 'staff', when: { is: 'equals', value: 'yes' } }),
		one('since', { is: 'date' }, { under: 'charter' })
	];
	beforeEach(async () => {
		await run((tx) => changeQuestionnaire(tx, firm.odalys(), questionnaire, 1, { ...about, questions: WANTED }));
	});
	const answered = async (confirmed = true) => {
		const token = await send({ version: '2' });
		if (confirmed) await context.owner.query('update public_answer set confirmed_at = now() where firm_id = $1', [firm.id]);
		return token;
	};
	let reads = 0;
	const add = (receipt: string, more: { slot?: string; name?: string; content?: string; ip?: string } = {}) =>
		takePublicFile(context, firm.id, nobody({ ip: more.ip ?? '203.0.113.40' }), {
			receipt,
			slot: more.slot ?? 'charter',
			name: more.name ?? 'charter.pdf',
			content: Readable.from(
				(function* () {
					reads++;
					yield Buffer.from(more.content ?? '%PDF-1.7 charter');
				})()
			)
		});
	const wanted = (token: string) => run((tx) => readFilesWanted(tx, nobody(), token));
	const stored = async () => (await readdir(context.papersFolder, { recursive: true, withFileTypes: true })).filter((file) => file.isFile()).length;

	test('are not asked on the page itself, nor what hangs on them; the page says that they can be added afterwards', async () => {
		const page = await run((tx) => findOpenPage(tx, nobody(), 'tell-us'));
		expect([page.questions.map(({ key }) => key), page.withFiles]).toEqual([['staff'], true]);
		const token = await answered(false);
		// who has no staff is not asked for what hangs on it
		expect((await wanted(token)).questions.map(({ key }) => key)).toEqual(['charter']);
	});
	test('nothing of a file is read before the address is confirmed, nor for another firm, nor after two days', async () => {
		const token = await answered(false);
		reads = 0;
		await expect(add(token)).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(add('x'.repeat(43))).rejects.toMatchObject({ code: 'not_found' });
		await answered();
		const other = await makeFirm(context);
		await expect(
			takePublicFile(context, other.id, nobody(), { receipt: token, slot: 'charter', name: 'x.pdf', content: Readable.from(['%PDF-1.7']) })
		).rejects.toMatchObject({ code: 'not_found' });
		await context.owner.query(`update public_answer set came_at = came_at - interval '3 days' where firm_id = $1`, [firm.id]);
		await expect(add(token)).rejects.toMatchObject({ code: 'not_found' });
		expect(reads).toBe(0);
	});
	test('of the kind that is asked for, for a question that is asked, ten of them, and nothing of a refused one is kept', async () => {
		const token = await answered();
		const before = await stored();
		await expect(add(token, { content: '' })).rejects.toMatchObject({ code: 'unreadable_file' });
		await expect(add(token, { content: '<html><script>' })).rejects.toMatchObject({ code: 'unreadable_file' });
		await expect(add(token, { name: 'notes.txt', content: 'Notes.' })).rejects.toMatchObject({ what: { key: 'wrong.paper.slot' } });
		await expect(add(token, { slot: 'rents' })).rejects.toMatchObject({ code: 'not_found' });
		await expect(add(token, { slot: 'staff' })).rejects.toMatchObject({ code: 'not_found' });
		expect(await stored()).toBe(before);
		for (let n = 0; n < 10; n++) await add(token, { name: `${n}.pdf` });
		await expect(add(token)).rejects.toMatchObject({ code: 'too_many' });
		const { files } = await wanted(token);
		await removePublicFile(context, firm.id, nobody(), { receipt: token, fileId: files[0].id });
		expect(await stored()).toBe(before + 9);
		// another one's file is nobody else's to take out
		await removePublicFile(context, firm.id, nobody(), { receipt: await answered(), fileId: files[1].id });
		expect((await wanted(token)).files).toHaveLength(9);
	});
	test('the firm reads them with the answers; taken over they are papers of the client, and nothing more is added', async () => {
		const token = await answered();
		const { id } = await add(token);
		const [answerId] = await waiting();
		const came = await run(async (tx) => readCameIn(tx, firm.odalys(), await loadFirm(tx), answerId));
		expect(came).toMatchObject({ files: [{ id, name: 'charter.pdf', slot: 'charter' }], answers: { charter: [{ name: 'charter.pdf' }] } });
		expect(await run((tx) => openPublicFile(tx, firm.odalys(), { answerId, fileId: id }))).toMatchObject({ name: 'charter.pdf' });
		await expect(run((tx) => openPublicFile(tx, nobody(), { answerId, fileId: id }))).rejects.toMatchObject({ code: 'not_allowed' });
		await run((tx) => joinToClient(tx, firm.odalys(), answerId, { clientId: client.id, addPerson: true }));
		const { item_id } = (await context.owner.query('select item_id from public_answer where id = $1', [answerId])).rows[0];
		const item = await run((tx) => readItem(tx, firm.odalys(), item_id));
		expect(item).toMatchObject({ answerData: { staff: false, charter: [{ paper: id, name: 'charter.pdf' }] }, papers: [{ id, slot: 'charter' }] });
		await expect(run((tx) => openPublicFile(tx, firm.odalys(), { answerId, fileId: id }))).rejects.toMatchObject({ code: 'not_found' });
		await expect(add(token)).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await expect(removePublicFile(context, firm.id, nobody(), { receipt: token, fileId: id })).rejects.toMatchObject({ code: 'changed_meanwhile' });
		expect(await wanted(token)).toMatchObject({ questions: [], files: [], dealt: true });
	});
	test('of answers that were put away they go with them, from the disk as well', async () => {
		const before = await stored();
		await add(await answered());
		const [id] = await waiting();
		await run((tx) => settleWithoutClient(tx, firm.odalys(), id, 'put_away'));
		const days = (n: number) => new Date(Date.parse(context.clock.now()) + n * 86_400_000).toISOString();
		await removePutAway(context, firm.id, days(PUT_AWAY_DAYS - 1));
		expect(await stored()).toBe(before + 1);
		await removePutAway(context, firm.id, days(PUT_AWAY_DAYS + 1));
		expect(await stored()).toBe(before);
	});
	test('sixty an hour from one network', async () => {
		for (let n = 0; n < 60; n++) await context.limits.publicFile('198.51.100.9');
		await expect(add(await answered(), { ip: '198.51.100.77' })).rejects.toMatchObject({ code: 'too_many' });
	});
});

describe('whose it is', () => {
	test('likely clients with the reason: address, phone, a name like it; nobody without one', async () => {
		await makeClient(context, firm, { name: 'Saltglass Studios' });
		await send({ 'visitor.email': client.email });
		const [id] = await waiting();
		const found = await run(async (tx) => readMatches(tx, firm.odalys(), await readCameIn(tx, firm.odalys(), await loadFirm(tx), id)));
		expect(found.map(({ clientName, why, contactName }) => [clientName, why, contactName])).toEqual([
			['Gull & String Kites', 'has this address', 'Mara Whitlock'],
			['Saltglass Studios', 'has a similar name', null]
		]);
		await send({ 'visitor.business': 'Quite Different', 'visitor.email': 'new@else.example' });
		const [, other] = await waiting();
		expect(await run(async (tx) => readMatches(tx, firm.odalys(), await readCameIn(tx, firm.odalys(), await loadFirm(tx), other)))).toEqual([]);
	});
	test('joined: handed in under the client, to be looked at; what is known stays, what is not becomes known', async () => {
		await run((tx) => sayFact(tx, firm.odalys(), { clientId: client.id, name: 'payroll', value: 'yes' }));
		await send({ 'visitor.email': client.email, staff: 'no', form: 'company' });
		const [id] = await waiting();
		await run((tx) => joinToClient(tx, firm.odalys(), id, { clientId: client.id, addPerson: true }));
		const { item_id } = (await context.owner.query('select item_id from public_answer where id = $1', [id])).rows[0];
		expect(await run((tx) => readItem(tx, firm.odalys(), item_id))).toMatchObject({
			state: 'handed_in',
			contactId: client.contactId,
			answerData: { staff: false }
		});
		const facts = Object.fromEntries(
			(await run((tx) => readFacts(tx, firm.odalys(), client.id))).map((fact) => [fact.name, [fact.value, fact.saidBy]])
		);
		expect(facts).toMatchObject({ payroll: ['yes', 'Odalys Fenwick'], legal_form: ['company', 'Wren Castellan (on a public page)'] });
		// it stands once among the answers, as the client's
		const many = await run((tx) => readAnswersOfMany(tx, firm.odalys(), questionnaire, null));
		expect(many.all.map(({ clientId, public: came }) => [clientId, came])).toEqual([[client.id, null]]);
		await expect(run((tx) => joinToClient(tx, firm.odalys(), id, { clientId: client.id, addPerson: true }))).rejects.toMatchObject({
			code: 'changed_meanwhile'
		});
		await expect(run((tx) => bringBack(tx, firm.odalys(), id))).rejects.toMatchObject({ code: 'invalid' });
	});
	test('made a client: with them as its person, who is written to by nobody; one known by the address is that person', async () => {
		await send({ 'visitor.phone': '613 555 0182' });
		const [id] = await waiting();
		const input = { name: 'Saltglass Studio', kind: 'business' as const, responsibleId: firm.coordinator.id!, contactName: 'Wren Castellan' };
		const made = await run((tx) => makeClientOf(tx, firm.odalys(), id, input));
		const { rows } = await context.owner.query(
			'select c.name, c.email::text, c.phone, c.password_hash from client_contact cc join contact c on c.id = cc.contact_id where cc.client_id = $1',
			[made]
		);
		expect(rows).toEqual([{ name: 'Wren Castellan', email: 'wren@saltglass.example', phone: '+16135550182', password_hash: null }]);
		await sendPlanned(context, firm);
		expect(context.mailer.sent.splice(0)).toEqual([]);
		await send({ 'visitor.email': client.email });
		const second = await run(async (tx) =>
			makeClientOf(tx, firm.odalys(), (await waiting())[0], { ...input, name: 'Second shop', contactName: 'x' })
		);
		expect((await context.owner.query('select contact_id from client_contact where client_id = $1', [second])).rows).toEqual([
			{ contact_id: client.contactId }
		]);
	});
	test('a client that somebody may not see is no match, takes no answer, and keeps what was joined to itself', async () => {
		await send({ 'visitor.email': client.email });
		const [id] = await waiting();
		const imre: Actor = { ...firm.partner, role: 'bookkeeper' };
		await context.owner.query(`update staff set role = 'bookkeeper' where id = $1`, [imre.id]);
		const as = <T>(actor: Actor, work: (tx: Tx) => Promise<T>) => asStaff(context.db, actor.id!).inFirm(firm.id, work);
		const close = (rights: { id: string; level: 'see' }[]) =>
			as(firm.odalys(), (tx) => changeClientRights(tx, firm.odalys(), { clientId: client.id, restricted: true, rights }));
		const asImre = <T>(work: (tx: Tx) => Promise<T>) => as(imre, work);
		await close([]);
		expect(await asImre(async (tx) => readMatches(tx, imre, await readCameIn(tx, imre, await loadFirm(tx), id)))).toEqual([]);
		const join = () => asImre((tx) => joinToClient(tx, imre, id, { clientId: client.id, addPerson: false }));
		await expect(join()).rejects.toMatchObject({ code: 'not_found' });
		// whoever may only look at it joins nothing to it either
		await close([{ id: imre.id!, level: 'see' }]);
		await expect(join()).rejects.toMatchObject({ code: 'not_allowed' });
		await close([]);
		await as(firm.odalys(), (tx) => joinToClient(tx, firm.odalys(), id, { clientId: client.id, addPerson: true }));
		await expect(asImre(async (tx) => readCameIn(tx, imre, await loadFirm(tx), id))).rejects.toMatchObject({ code: 'not_found' });
		expect((await asImre((tx) => readAnswersOfMany(tx, imre, questionnaire, null))).all).toEqual([]);
	});
	test('kept it counts, put away it does not; both come back; whoever only looks does none of it', async () => {
		await send({ words: 'kept' });
		await send({ words: 'nonsense' });
		const [kept, away] = await waiting();
		await expect(run((tx) => settleWithoutClient(tx, firm.filing, kept, 'kept'))).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(run((tx) => joinToClient(tx, firm.filing, kept, { clientId: client.id, addPerson: true }))).rejects.toMatchObject({
			code: 'not_allowed'
		});
		await run((tx) => settleWithoutClient(tx, firm.odalys(), kept, 'kept'));
		await run((tx) => settleWithoutClient(tx, firm.odalys(), away, 'put_away'));
		const read = () => run((tx) => readAnswersOfMany(tx, firm.odalys(), questionnaire, null));
		expect((await read()).all.map((row) => [row.answers.words, row.public, row.clientName])).toEqual([['kept', 'kept', 'Saltglass Studio']]);
		expect((await run((tx) => readPutAway(tx, firm.odalys(), questionnaire))).map((row) => row.id)).toEqual([away]);
		expect(await run((tx) => readPublicPage(tx, firm.odalys(), questionnaire))).toMatchObject({ came: 1, waiting: 0 });
		await run((tx) => bringBack(tx, firm.odalys(), away));
		expect(await waiting()).toEqual([away]);
		expect((await read()).all.map((row) => row.public).sort()).toEqual(['kept', 'waiting']);
		// put away once more it is there for a while, and gone then; what is kept stays
		await run((tx) => settleWithoutClient(tx, firm.odalys(), away, 'put_away'));
		const left = async (days: number) => {
			const later = new Date(Date.parse(context.clock.now()) + days * 86_400_000).toISOString();
			await removePutAway(context, firm.id, later);
			return (await context.owner.query<{ id: string }>('select id from public_answer where firm_id = $1', [firm.id])).rows.map(({ id }) => id);
		};
		expect((await left(PUT_AWAY_DAYS - 1)).sort()).toEqual([away, kept].sort());
		expect(await left(PUT_AWAY_DAYS + 1)).toEqual([kept]);
	});
});
