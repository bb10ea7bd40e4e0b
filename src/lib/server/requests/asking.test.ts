import { describe, expect, test } from 'vitest';
import { ITEM_KIND_NAMES } from '$lib/core/items/item-kinds';
import type { RequestLine } from '$lib/core/requests/request-list';
import { readFacts, sayFact } from '../clients/client-facts';
import { writeEngagement } from '../clients/client-record';
import { addService } from '../firms/services';
import { questionsForClient } from '../item-kinds/kinds/questions-for-client';
import { loadFirm } from '../firms/firm';
import { readRounds } from '../rounds/read-rounds';
import {
	itemsOf,
	letterLine,
	makeClient,
	makeFirm,
	paperLine,
	requestTo,
	SECRET_KEY,
	sendPlanned,
	type TestClient,
	type TestFirm
} from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { answerItem } from '../item-kinds/kinds/question';
import { answerQuestionnaire } from '../item-kinds/kinds/questionnaire';
import { approveItem } from '../item-kinds/kinds/approve';
import { askForTime, keepTyped, sayAlreadySent } from '../items/client-item';
import { bookItem } from '../item-kinds/kinds/book';
import { confirmItem } from '../item-kinds/kinds/confirmed';
import { giveAccess } from '../item-kinds/kinds/access';
import { fillInByPhone } from './fill-in';
import { changeItemPerson, putUpNewVersion } from './judge-item';
import { readItem, readOwnItem } from '../items/read-items';
import { markRemarksSeen, readRemarks, writeOwnRemark, writeRemark } from '../items/remarks';
import { endSecret, removeExpiredSecrets, showSecret } from '../items/secrets';
import { sendRequest } from './send-request';

useFirm();

const bare = { heading: '', why: 'Because.', required: true, acceptsItself: false, attachments: [], account: null, dueOn: '2026-05-20' };
const line = (kind: RequestLine['kind'], spec: object, more: object = {}) =>
	({ ...bare, key: kind, kind, title: `A ${kind}`, spec, ...more }) as unknown as RequestLine;
async function ask(asked: RequestLine, more: Parameters<typeof requestTo>[2] = {}) {
	const id = await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [asked], more));
	return (await itemsOf(context, id))[0];
}
const state = async (id: string) => (await firm.run((tx) => readItem(tx, firm.odalys(), id))).state;
const facts = async () =>
	Object.fromEntries((await firm.run((tx) => readFacts(tx, firm.odalys(), client.id))).map((fact) => [fact.name, [fact.value, fact.saidBy]]));
const sections = async () =>
	(await firm.run(async (tx) => readRounds(tx, firm.odalys(), await loadFirm(tx), { due: (d) => d }))).rows.map((row) => row.section);
const question = (answer: object, fact: string | null = null, more: object = {}) => line('question', { answer, fact }, more);

describe('a questionnaire with follow-ups', () => {
	const one = (key: string, answer: object, more: object = {}) => ({ key, title: key, help: '', required: true, answer, fact: null, ...more });
	const QUESTIONS = [
		one('form', { is: 'one_of', choices: ['sole trader', 'partnership', 'company', 'co-operative', 'non-profit'] }, { fact: 'legal_form' }),
		one('staff', { is: 'yes_no' }, { fact: 'payroll' }),
		one('many', { is: 'number', unit: '' }, { under: 'staff', when: { is: 'equals', value: 'yes' }, fact: 'employees' }),
		one('tax', { is: 'words' }, { condition: { kind: 'fact', fact: 'sales_tax', is: 'equals', value: 'yes' } })
	];
	const handIn = (itemId: string, typed: object) =>
		client.run((tx) => answerQuestionnaire(tx, client.mara(), { itemId, typed: typed as Record<string, unknown> }));

	test('what does not apply is neither needed nor kept, though it was typed; what applies is', async () => {
		await firm.run((tx) => sayFact(tx, firm.odalys(), { clientId: client.id, name: 'sales_tax', value: 'no' }));
		const item = await ask(line('questionnaire', { questions: QUESTIONS }));
		await expect(handIn(item.id, { form: 'company', staff: 'yes' })).rejects.toMatchObject({ fields: { many: { key: 'wrong.answer.number' } } });
		await handIn(item.id, { form: 'company', staff: 'no', many: '7', tax: 'quarterly', gone: 'x' });
		expect((await firm.run((tx) => readItem(tx, firm.odalys(), item.id))).answerData).toEqual({ form: 'company', staff: false });
		expect(await facts()).toMatchObject({ legal_form: ['company', client.mara().name], payroll: ['no', client.mara().name] });
		expect(await facts()).not.toHaveProperty('employees');
	});
	test('what is known comes filled in, with who said it; answered the same it is confirmed, otherwise the record follows', async () => {
		await firm.run((tx) => sayFact(tx, firm.odalys(), { clientId: client.id, name: 'legal_form', value: 'company' }));
		await firm.run((tx) => sayFact(tx, firm.odalys(), { clientId: client.id, name: 'payroll', value: 'no' }));
		const item = await ask(line('questionnaire', { questions: QUESTIONS }));
		const asked = await client.run((tx) =>
			questionsForClient(tx, client.mara(), { clientId: client.id, questions: QUESTIONS as never, beforeId: null }, 'en')
		);
		// conditions about the client stay at the firm
		expect(JSON.stringify(asked.questions)).not.toContain('condition');
		expect(asked.known).toMatchObject({ form: { answer: 'company', saidBy: 'Odalys Fenwick' }, staff: { answer: false } });
		context.clock.set('2026-05-05T13:30:00Z');
		await handIn(item.id, { form: 'company', staff: 'yes', many: '3', tax: 'x' });
		const known = await firm.run((tx) => readFacts(tx, firm.odalys(), client.id));
		expect(known.find(({ name }) => name === 'legal_form')).toMatchObject({
			saidBy: 'Odalys Fenwick',
			confirmedBy: client.mara().name,
			answers: null
		});
		expect(known.find(({ name }) => name === 'payroll')).toMatchObject({
			value: 'yes',
			saidBy: client.mara().name,
			answers: 'A questionnaire',
			earlier: [{ value: 'no' }]
		});
	});
	test('sent by itself, how a follow-up hangs on its question is spelled as the answer is kept; what cannot be is refused before it goes', async () => {
		const follow = (when: object) => [one('sales', { is: 'money', currency: 'CAD' }), one('why', { is: 'words' }, { under: 'sales', when })];
		const item = await ask(line('questionnaire', { questions: follow({ is: 'greater', value: '250,000' }) }));
		await handIn(item.id, { sales: '249,999' });
		const second = await ask(line('questionnaire', { questions: follow({ is: 'greater', value: '250,000' }) }, { key: 'second' }));
		await expect(handIn(second.id, { sales: '250,001' })).rejects.toMatchObject({ fields: { why: { key: 'wrong.answer.empty' } } });
		await expect(ask(line('questionnaire', { questions: follow({ is: 'greater', value: 'a lot' }) }))).rejects.toMatchObject({ code: 'invalid' });
	});
	test('of what clients may not see, nothing comes filled in', async () => {
		await firm.run((tx) => sayFact(tx, firm.odalys(), { clientId: client.id, name: 'legal_form', value: 'company' }));
		await context.owner.query(`update fact_definition set client_may = 'nothing' where firm_id = $1 and name = 'legal_form'`, [firm.id]);
		const asked = await client.run((tx) =>
			questionsForClient(tx, client.mara(), { clientId: client.id, questions: QUESTIONS as never, beforeId: null }, 'en')
		);
		expect(asked.known).not.toHaveProperty('form');
	});
	test('a question hangs on what the firm does for the client, of which the client reads nothing else', async () => {
		const questions = [
			one('pay', { is: 'words' }, { condition: { kind: 'service', name: 'Payroll', is: 'has' } }),
			one('other', { is: 'words' }, { required: false })
		];
		const keys = async () =>
			(
				await client.run((tx) => questionsForClient(tx, client.mara(), { clientId: client.id, questions: questions as never, beforeId: null }, 'en'))
			).questions.map(({ key }) => key);
		expect(await keys()).toEqual(['other']);
		const payroll = await firm.run((tx) => addService(tx, { ...firm.odalys(), role: 'administrator' }, 'Payroll'));
		await firm.run((tx) =>
			writeEngagement(tx, firm.odalys(), { clientId: client.id, engagementId: null, name: 'Pay', beganOn: '2026-05-01', services: [payroll] })
		);
		expect(await keys()).toEqual(['pay', 'other']);
		await expect(client.run((tx) => tx.rows('select name from service'))).rejects.toThrow('permission denied');
		const other = await makeClient(context, firm, { name: 'Brine & Barrow' });
		expect(await other.run((tx) => tx.rows('select * from services_of_clients($1)', [[client.id]]))).toEqual([]);
	});
});

describe('a question', () => {
	test.each([
		[{ is: 'words' }, ' paid\u202eecin\n👩‍🌾 ', 'paidecin\n👩‍🌾', 'paidecin\n👩‍🌾'],
		[{ is: 'number', unit: 'km' }, '4 300,5', '4,300.5 km', 4300.5],
		[{ is: 'money', currency: 'CAD' }, '$1,234.50', '1,234.50 CAD', 123450],
		[{ is: 'date' }, '2026-02-28', '28 February 2026', '2026-02-28'],
		[{ is: 'yes_no' }, 'no', 'No', false],
		[{ is: 'one_of', choices: ['cash', 'card'] }, 'card', 'card', 'card'],
		[{ is: 'several_of', choices: ['a', 'b', 'c'] }, ['c', 'a'], 'a, c', ['a', 'c']],
		[{ is: 'email' }, ' wren@b.example ', 'wren@b.example', 'wren@b.example'],
		[{ is: 'phone' }, '902 555 0134', '+1 902 555 0134', '+19025550134'],
		[{ is: 'day_of_year' }, '03-31', '31 March', '03-31'],
		[{ is: 'web' }, 'gull.example', 'https://gull.example', 'https://gull.example'],
		[{ is: 'tax_number', check: 'CA.bn' }, '123026635', '12302 6635', '12302 6635'],
		[
			{
				is: 'table',
				columns: [
					{ key: 'name', label: 'Name', is: { kind: 'words', max: 200 } },
					{ key: 'share', label: 'Share', is: { kind: 'number', unit: '%', whole: false } }
				]
			},
			'[{"name":"Wren","share":"60,5"},{"name":"Otis"}]',
			'Wren, 60.5 %\nOtis',
			[{ name: 'Wren', share: '60.5' }, { name: 'Otis' }]
		]
	])('%j takes %j', async (answer, typed, words, kept) => {
		const item = await ask(question(answer));
		await client.run((tx) => answerItem(tx, client.mara(), { itemId: item.id, answer: typed }));
		expect(await firm.run((tx) => readItem(tx, firm.odalys(), item.id))).toMatchObject({ state: 'handed_in', answer: words, answerData: kept });
	});
	test.each([
		[{ is: 'number', unit: '' }, 'a lot'],
		[{ is: 'money', currency: 'CAD' }, '1.2.3'],
		[{ is: 'date' }, '2026-02-30'],
		[{ is: 'yes_no' }, 'maybe'],
		[{ is: 'one_of', choices: ['cash', 'card'] }, 'barter'],
		[{ is: 'several_of', choices: ['a', 'b'] }, ['a', 'x']],
		[{ is: 'words' }, ' \u200b  '],
		[{ is: 'email' }, 'wren@'],
		[{ is: 'web' }, 'javascript:alert(1)'],
		[{ is: 'tax_number', check: 'CA.bn' }, '123456789'],
		[{ is: 'table', columns: [{ key: 'name', label: 'Name', is: { kind: 'words', max: 200 } }] }, '[]']
	])('%j refuses %j, and nothing moves', async (answer, typed) => {
		const item = await ask(question(answer));
		await expect(client.run((tx) => answerItem(tx, client.mara(), { itemId: item.id, answer: typed }))).rejects.toMatchObject({
			issues: [{ message: expect.stringMatching(/^wrong\./) }]
		});
		expect(await state(item.id)).toBe('asked');
	});
	test('about a fact: the answer becomes it, said by the client, and is accepted by itself where that was set', async () => {
		const payroll = await ask(question({ is: 'yes_no' }, 'payroll', { acceptsItself: true }));
		await client.run((tx) => answerItem(tx, client.mara(), { itemId: payroll.id, answer: 'yes' }));
		expect(await state(payroll.id)).toBe('accepted');
		const form = await ask(question({ is: 'one_of', choices: ['sole trader', 'company'] }, 'legal_form'));
		await client.run((tx) => answerItem(tx, client.mara(), { itemId: form.id, answer: 'sole trader' }));
		expect(await facts()).toMatchObject({ payroll: ['yes', 'Mara Whitlock'], legal_form: ['sole_trader', 'Mara Whitlock'] });
		expect(await state(form.id)).toBe('handed_in');
	});
});

describe('several questions', () => {
	const ONE = { key: 'hours', title: 'Hours?', help: '', required: true, answer: { is: 'number', unit: '' }, fact: null };
	const TWO = { key: 'staff', title: 'Anybody?', help: '', required: true, answer: { is: 'yes_no' }, fact: 'payroll' };
	const THREE = { key: 'else', title: 'Anything else?', help: '', required: false, answer: { is: 'words' }, fact: null };
	test('are kept as written, handed in whole, each with its own message; facts follow', async () => {
		const item = await ask(line('questionnaire', { questions: [ONE, TWO, THREE] }));
		const typed = {
			device: 'phone',
			since: null,
			fields: { 'answer.hours': 'forty', 'answer.staff': 'yes', 'answer.stranger': 'x', 'talk.words': 'Each' }
		};
		await client.run((tx) => keepTyped(tx, client.mara(), { itemId: item.id, ...typed }));
		const begun = await client.run((tx) => readOwnItem(tx, client.mara(), item.id));
		// also what cannot be read as an answer yet; nothing that is not asked
		expect(begun).toMatchObject({ state: 'started', typed: { 'answer.hours': { value: 'forty' }, 'answer.staff': { value: 'yes' } } });
		expect(Object.keys(begun.typed)).toHaveLength(3);
		expect(JSON.stringify(await firm.run((tx) => readItem(tx, firm.odalys(), item.id)))).not.toContain('forty');
		await expect(
			client.run((tx) => answerQuestionnaire(tx, client.mara(), { itemId: item.id, typed: { hours: 'forty', else: 'x' } }))
		).rejects.toMatchObject({
			code: 'invalid',
			fields: { hours: { key: 'wrong.answer.number' }, staff: { key: 'wrong.answer.choose' } }
		});
		await client.run((tx) => answerQuestionnaire(tx, client.mara(), { itemId: item.id, typed: { hours: '40', staff: 'no', stranger: 'x' } }));
		expect(await firm.run((tx) => readItem(tx, firm.odalys(), item.id))).toMatchObject({
			state: 'handed_in',
			answerData: { hours: 40, staff: false }
		});
		// it has gone with the answer; a question that is being written goes on
		expect(Object.keys((await client.run((tx) => readOwnItem(tx, client.mara(), item.id))).typed)).toEqual(['talk.words']);
		expect(await client.run((tx) => keepTyped(tx, client.mara(), { itemId: item.id, ...typed }))).toBeNull();
		expect(await facts()).toMatchObject({ payroll: ['no', 'Mara Whitlock'] });
	});
});

describe('to read, to do, to approve, to book', () => {
	test('confirmed once; another kind is refused', async () => {
		const item = await ask(line('read', { link: 'https://rules.example/page' }, { acceptsItself: true }));
		await client.run((tx) => confirmItem(tx, client.mara(), item.id));
		expect(await state(item.id)).toBe('accepted');
		await expect(client.run((tx) => confirmItem(tx, client.mara(), item.id))).rejects.toMatchObject({ code: 'changed_meanwhile' });
		const other = await ask(question({ is: 'words' }));
		await expect(client.run((tx) => confirmItem(tx, client.mara(), other.id))).rejects.toMatchObject({ code: 'invalid' });
	});
	test('without a file, words or times there is nothing to send', async () => {
		await expect(ask(line('approve', {}))).rejects.toThrow('no file that could be approved');
		await expect(ask(line('read', { link: '' }, { why: null }))).rejects.toThrow('nothing to read yet');
		await expect(ask(line('book', { link: '', times: [], minutes: 30, where: '' }))).rejects.toThrow('offers no time yet');
		await expect(ask(line('read', { link: '' }, { attachments: ['00000000-0000-4000-8000-000000000000'] }))).rejects.toMatchObject({
			code: 'not_found'
		});
	});
	test('a change that is wanted is said how, and a person looks even where it would be accepted by itself', async () => {
		const id = await attach(firm);
		const item = await ask(line('approve', {}, { attachments: [id], acceptsItself: true }));
		const decide = (agrees: boolean, words: string | null) => client.run((tx) => approveItem(tx, client.mara(), { itemId: item.id, agrees, words }));
		await expect(decide(false, null)).rejects.toMatchObject({ code: 'invalid' });
		await client.run((tx) =>
			writeOwnRemark(tx, client.mara(), { itemId: item.id, words: 'This sum is wrong.', pinned: { attachmentId: id, page: 2, x: 0.25, y: 0.5 } })
		);
		await decide(false, null);
		expect(await state(item.id)).toBe('handed_in');
		const agreed = await ask(line('approve', {}, { attachments: [id], acceptsItself: true }));
		await client.run((tx) => approveItem(tx, client.mara(), { itemId: agreed.id, agrees: true, words: null }));
		expect(await state(agreed.id)).toBe('accepted');
	});
	test('a new version takes the place of the one before, which can still be read; who has answered is asked again', async () => {
		const [one, two, three] = [await attach(firm), await attach(firm), await attach(firm)];
		const item = await ask(line('approve', {}, { attachments: [one], acceptsItself: true }));
		const now = () => firm.run((tx) => readItem(tx, firm.odalys(), item.id));
		const put = async (replaces: string, attachmentId: string, who = firm.odalys()) =>
			firm.run(async (tx) =>
				putUpNewVersion(tx, who, { itemId: item.id, version: (await now()).version, replaces, attachmentId, reason: 'The sum is right now.' })
			);
		const pin = (attachmentId: string) =>
			client.run((tx) =>
				writeOwnRemark(tx, client.mara(), { itemId: item.id, words: 'This sum is wrong.', pinned: { attachmentId, page: 2, x: 0.25, y: 0.5 } })
			);
		const decide = (agrees: boolean, words: string | null) => client.run((tx) => approveItem(tx, client.mara(), { itemId: item.id, agrees, words }));
		await pin(one);
		expect(await sections()).toEqual(['talk']);
		await decide(false, null);
		// the remark stands with the verdict, not a second time by itself
		expect(await sections()).toEqual(['handed_in']);
		await put(one, two);
		expect(await sections()).toEqual([]);
		expect(await now()).toMatchObject({
			state: 'sent_back',
			reason: 'The sum is right now.',
			spec: { earlier: [one] },
			attachments: [{ id: two }, { id: one }]
		});
		await sendPlanned(context, firm);
		expect(context.mailer.sent.map((mail) => mail.text)).toContainEqual(expect.stringContaining('There is a new version of “A approve”:'));
		// what was pinned to the version before says nothing about this one
		await expect(decide(false, null)).rejects.toMatchObject({ code: 'invalid' });
		// the firm pins too, and nobody is written to for that
		const sent = context.mailer.sent.length;
		await firm.run((tx) =>
			writeRemark(tx, firm.odalys(), { itemId: item.id, words: 'Here.', pinned: { attachmentId: two, page: 1, x: 0.5, y: 0.5 } })
		);
		await sendPlanned(context, firm);
		expect(context.mailer.sent).toHaveLength(sent);
		// not answered yet: they are told, and asked nothing twice
		await put(two, three);
		expect(await now()).toMatchObject({ state: 'sent_back', attachments: [{ id: three }, { id: two }, { id: one }] });
		expect((await client.run((tx) => readRemarks(tx, client.mara(), item.id))).map((remark) => [remark.side, remark.words])).toEqual([
			['client', 'This sum is wrong.'],
			['firm', 'Here.'],
			['firm', 'The sum is right now.']
		]);
		await expect(put(two, three)).rejects.toMatchObject({ code: 'invalid' });
		await expect(put(three, three)).rejects.toMatchObject({ code: 'invalid' });
		await expect(put(three, '00000000-0000-4000-8000-000000000000')).rejects.toMatchObject({ code: 'not_found' });
		await expect(put(three, await attach(firm), { ...firm.odalys(), role: 'filing' })).rejects.toMatchObject({ code: 'not_allowed' });
		const other = await makeFirm(context);
		await expect(put(three, await attach(other))).rejects.toMatchObject({ code: 'not_found' });
		await decide(true, null);
		expect((await now()).state).toBe('accepted');
		await expect(put(three, await attach(firm))).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});
	test('a time is had by whoever comes first; one that is over, or was not offered, is nobody’s', async () => {
		const times = ['2026-05-06T13:00:00Z', '2026-05-07T13:00:00Z'];
		const spec = { link: '', times, minutes: 30, where: 'here' };
		const mine = await ask(line('book', spec));
		const other = await makeClient(context, firm, { name: 'Ferry Café' });
		const theirs = (await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(other, [line('book', spec)]))))[0];
		await other.run((tx) => bookItem(tx, other.mara(), { itemId: theirs.id, time: times[0] }));
		const book = (time: string | null) => client.run((tx) => bookItem(tx, client.mara(), { itemId: mine.id, time }));
		await expect(book(times[0])).rejects.toMatchObject({ what: { key: 'wrong.book.taken' } });
		await expect(book('2026-05-08T13:00:00Z')).rejects.toMatchObject({ what: { key: 'wrong.book.choose' } });
		await expect(book(null)).rejects.toMatchObject({ what: { key: 'wrong.book.choose' } });
		context.clock.set('2026-05-07T13:00:00Z');
		await expect(book(times[1])).rejects.toMatchObject({ what: { key: 'wrong.book.past' } });
		context.clock.set('2026-05-06T13:30:00Z');
		await book(times[1]);
		expect(await firm.run((tx) => readItem(tx, firm.odalys(), mine.id))).toMatchObject({ state: 'handed_in', answer: 'Thu 7 May 10:00' });
	});
});

describe('access', () => {
	test('a secret is kept apart and encrypted, shown with a record, gone in time', async () => {
		const item = await ask(line('access', { system: 'the bank', invite: '', secret: true }));
		await client.run((tx) => giveAccess(tx, client.mara(), SECRET_KEY, { itemId: item.id, secret: 'kite-4471' }));
		const { rows } = await context.owner
			.query(`select encrypted, (select count(*)::int from item where answer like '%kite%' or answer_data::text like '%kite%')
			+ (select count(*)::int from event where details::text like '%kite%') elsewhere from item_secret`);
		expect(rows[0].elsewhere).toBe(0);
		expect(rows[0].encrypted.toString('latin1')).not.toContain('kite');
		const show = (who = firm.odalys()) => firm.run((tx) => showSecret(tx, who, SECRET_KEY, item.id));
		expect(await show()).toBe('kite-4471');
		await expect(show({ ...firm.odalys(), role: 'filing' })).rejects.toMatchObject({ code: 'not_allowed' });
		const shown = await context.owner.query(`select actor_name from event where verb = 'secret_shown' and item_id = $1`, [item.id]);
		expect(shown.rows).toEqual([{ actor_name: 'Odalys Fenwick' }]);
		context.clock.set('2026-05-18T13:29:00Z');
		expect(await firm.run((tx) => removeExpiredSecrets(tx, context.clock.now()))).toBe(0);
		context.clock.set('2026-05-18T13:30:00Z');
		await expect(show()).rejects.toMatchObject({ code: 'link_unusable' });
		expect(await firm.run((tx) => removeExpiredSecrets(tx, context.clock.now()))).toBe(1);
		await firm.run((tx) => endSecret(tx, firm.odalys(), item.id));
	});
	test('is not taken where none was asked for; another client reads none', async () => {
		const item = await ask(line('access', { system: 'the till', invite: 'us@firm.example', secret: false }));
		await expect(client.run((tx) => giveAccess(tx, client.mara(), SECRET_KEY, { itemId: item.id, secret: 'x' }))).rejects.toMatchObject({
			code: 'invalid'
		});
		await client.run((tx) => giveAccess(tx, client.mara(), SECRET_KEY, { itemId: item.id, secret: null }));
		const other = await makeClient(context, firm, { name: 'Other' });
		expect(await other.run((tx) => tx.rows('select 1 from item_secret'))).toEqual([]);
		expect(await other.run((tx) => tx.rows('select 1 from remark'))).toEqual([]);
	});
});

describe('what else a client may say', () => {
	test('sent already: a person looks; asking for time moves the date and the reminders, within bounds', async () => {
		const sent = await ask({ ...paperLine('Lease', '2026-05-20'), acceptsItself: true });
		await client.run((tx) => sayAlreadySent(tx, client.mara(), { itemId: sent.id, reason: 'by post on Friday' }));
		expect(await firm.run((tx) => readItem(tx, firm.odalys(), sent.id))).toMatchObject({
			state: 'handed_in',
			answer: 'sent already: by post on Friday'
		});
		const later = await ask(paperLine('Stock', '2026-05-06'));
		const until = (day: string) => client.run((tx) => askForTime(tx, client.mara(), { itemId: later.id, until: day }));
		for (const day of ['2026-05-04', '2026-07-04', '2025-01-01']) await expect(until(day)).rejects.toMatchObject({ code: 'invalid' });
		await until('2026-06-01');
		expect(await firm.run((tx) => readItem(tx, firm.odalys(), later.id))).toMatchObject({
			dueOn: '2026-06-01',
			askedTimeUntil: '2026-06-01',
			nextChaseOn: '2026-05-28',
			state: 'asked'
		});
	});
	test('asking for time before it is due makes nobody late sooner: the date stays, and nothing reminds until then', async () => {
		const item = await ask(paperLine('Lease', '2026-05-20'));
		const shown = () => firm.run((tx) => readItem(tx, firm.odalys(), item.id));
		expect((await shown()).nextChaseOn).toBe('2026-05-18');
		await client.run((tx) => askForTime(tx, client.mara(), { itemId: item.id, until: '2026-05-12' }));
		expect(await shown()).toMatchObject({ dueOn: '2026-05-20', askedTimeUntil: '2026-05-12', nextChaseOn: '2026-05-18' });
		await client.run((tx) => askForTime(tx, client.mara(), { itemId: item.id, until: '2026-05-19' }));
		const { nextChaseOn, dueOn } = await shown();
		expect(dueOn).toBe('2026-05-20');
		expect(nextChaseOn! >= '2026-05-19').toBe(true);
	});
	test('a question reaches Rounds; the answer goes by mail and stays on the item; each side sees what is new', async () => {
		const item = await ask(paperLine('Lease', '2026-05-20'));
		await sendPlanned(context, firm);
		await client.run((tx) => writeOwnRemark(tx, client.mara(), { itemId: item.id, words: 'All pages?', pinned: null }));
		expect(await sections()).toContain('talk');
		await firm.run((tx) => writeRemark(tx, firm.odalys(), { itemId: item.id, words: 'Only the first.', pinned: null }));
		expect(await sections()).not.toContain('talk');
		await sendPlanned(context, firm);
		expect(context.mailer.sent.at(-1)).toMatchObject({ subject: 'About “Lease”', text: expect.stringContaining('Only the first.') });
		expect((await firm.run((tx) => readRemarks(tx, firm.odalys(), item.id))).map((remark) => [remark.side, remark.words])).toEqual([
			['client', 'All pages?'],
			['firm', 'Only the first.']
		]);
		expect(await client.run((tx) => readOwnItem(tx, client.mara(), item.id))).toMatchObject({ unseenByClient: 1 });
		await client.run((tx) => writeOwnRemark(tx, client.mara(), { itemId: item.id, words: 'Thanks!', pinned: null }));
		await firm.run((tx) => markRemarksSeen(tx, firm.odalys(), item.id));
		expect(await sections()).not.toContain('talk');
	});
	test('somebody else’s item does not exist, whatever is tried on it', async () => {
		const item = await ask(question({ is: 'words' }));
		const other = await makeClient(context, firm, { name: 'Other' });
		const tries = [
			() => other.run((tx) => answerItem(tx, other.mara(), { itemId: item.id, answer: 'x' })),
			() => other.run((tx) => writeOwnRemark(tx, other.mara(), { itemId: item.id, words: 'x', pinned: null })),
			() => other.run((tx) => askForTime(tx, other.mara(), { itemId: item.id, until: '2026-05-20' })),
			() => other.run((tx) => giveAccess(tx, other.mara(), SECRET_KEY, { itemId: item.id, secret: 'x' }))
		];
		for (const attempt of tries) await expect(attempt()).rejects.toMatchObject({ code: 'not_found' });
	});
});

test('by phone: written down by the firm, recorded as such, like the client’s own', async () => {
	const item = await ask(question({ is: 'yes_no' }, 'payroll'));
	const fill = (version: number, answer: string, who = firm.odalys()) =>
		firm.run((tx) => fillInByPhone(tx, who, { itemId: item.id, version, typed: { answer } }));
	await expect(fill(item.version, 'yes', { ...firm.odalys(), role: 'filing' })).rejects.toMatchObject({ code: 'not_allowed' });
	await fill(item.version, 'yes');
	expect(await firm.run((tx) => readItem(tx, firm.odalys(), item.id))).toMatchObject({ state: 'handed_in', answer: 'Yes', answerData: true });
	expect(await facts()).toMatchObject({ payroll: ['yes', 'Odalys Fenwick'] });
	await expect(fill(item.version, 'no')).rejects.toMatchObject({ code: 'changed_meanwhile' });
	const { rows } = await context.owner.query(`select details from event where verb = 'item_filled_in' and item_id = $1`, [item.id]);
	expect(rows[0].details).toMatchObject({ contact: 'Mara Whitlock' });
	const paper = await ask(paperLine('Lease', '2026-05-20'));
	await expect(firm.run((tx) => fillInByPhone(tx, firm.odalys(), { itemId: paper.id, version: paper.version, typed: {} }))).rejects.toMatchObject({
		code: 'invalid'
	});
});

describe('by phone, each kind in its own way', () => {
	const fill = (item: { id: string; version: number }, typed: Record<string, string>) =>
		firm.run((tx) => fillInByPhone(tx, firm.odalys(), { itemId: item.id, version: item.version, typed }));
	test.each([
		['read', { link: '' }, 'read'],
		['do', {}, 'done']
	] as const)('%s is confirmed', async (kind, spec, answer) => {
		const item = await ask(line(kind, spec));
		await fill(item, {});
		expect(await firm.run((tx) => readItem(tx, firm.odalys(), item.id))).toMatchObject({ state: 'handed_in', answer });
	});
	test('several questions: each that is open is named, and what was answered becomes a fact', async () => {
		const questions = [
			{ key: 'staff', title: 'Anybody paid?', help: '', required: true, answer: { is: 'yes_no' }, fact: 'payroll' },
			{ key: 'many', title: 'How many?', help: '', required: true, answer: { is: 'number', unit: '' }, fact: 'employees' },
			{ key: 'else', title: 'Anything else?', help: '', required: false, answer: { is: 'words' }, fact: null }
		];
		const item = await ask(line('questionnaire', { questions }));
		await expect(fill(item, { staff: 'yes', many: 'a few' })).rejects.toMatchObject({ code: 'invalid', fields: { many: expect.anything() } });
		expect(await facts()).toEqual({});
		await fill(item, { staff: 'yes', many: '3' });
		expect(await firm.run((tx) => readItem(tx, firm.odalys(), item.id))).toMatchObject({ state: 'handed_in', answerData: { staff: true, many: 3 } });
		expect(await facts()).toMatchObject({ payroll: ['yes', 'Odalys Fenwick'], employees: ['3', 'Odalys Fenwick'] });
	});
});

describe('to several people', () => {
	async function second() {
		const { rows } = await context.owner.query(
			`with made as (insert into contact (id, firm_id, name, email, locale, created_at, password_hash) values (gen_random_uuid(), $1, 'Abel Thorne', 'abel@thorne.example', 'en', now(), 'x') returning id)
			insert into client_contact (firm_id, client_id, contact_id, rank, role) select $1, $2, id, 2, '' from made returning contact_id`,
			[firm.id, client.id]
		);
		return rows[0].contact_id as string;
	}
	test('an item is asked of somebody else, of the same client only', async () => {
		const abel = await second();
		const item = await ask(paperLine('Lease', '2026-05-20'));
		const change = (contactId: string, version: number) =>
			firm.run((tx) => changeItemPerson(tx, firm.odalys(), { itemId: item.id, version, contactId }));
		await expect(change('00000000-0000-4000-8000-000000000000', item.version)).rejects.toMatchObject({ code: 'not_found' });
		await change(abel, item.version);
		await expect(change(abel, item.version)).rejects.toMatchObject({ code: 'changed_meanwhile' });
		expect(await firm.run((tx) => readItem(tx, firm.odalys(), item.id))).toMatchObject({ contactName: 'Abel Thorne', nextChaseOn: '2026-05-18' });
	});
	test('any one of them: one item, both are told; each: one item a person; quietly: nobody is told', async () => {
		const abel = await second();
		const send = (more: object) =>
			sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Lease', '2026-05-20')], { others: [abel], tellNow: true, ...more }));
		const count = async (id: string) =>
			(
				await context.owner.query(
					`select (select count(*)::int from item where request_id = $1) items, (select count(*)::int from message where request_id = $1) messages`,
					[id]
				)
			).rows[0];
		expect(await count(await send({}))).toEqual({ items: 1, messages: 2 });
		expect(await count(await send({ each: true }))).toEqual({ items: 2, messages: 2 });
		expect(await count(await send({ quiet: true }))).toEqual({ items: 1, messages: 0 });
		// line by line, whatever holds for the request
		const mixed = await sendRequest(
			context,
			firm.id,
			firm.odalys(),
			requestTo(client, [{ ...paperLine('Passport', '2026-05-20'), each: true }, paperLine('Lease', '2026-05-20')], { others: [abel], tellNow: true })
		);
		const { rows } = await context.owner.query(
			`select i.title, c.name from item i join contact c on c.id = i.contact_id where i.request_id = $1 order by 1, 2`,
			[mixed]
		);
		expect(rows).toEqual([
			{ title: 'Lease', name: 'Mara Whitlock' },
			{ title: 'Passport', name: 'Abel Thorne' },
			{ title: 'Passport', name: 'Mara Whitlock' }
		]);
		await sendPlanned(context, firm);
		const told = (name: string) => context.mailer.sent.find((mail) => mail.to.name === name && mail.text.includes('Passport'))!.text;
		expect(told('Abel Thorne').match(/- (Passport|Lease)/g)).toEqual(['- Passport', '- Lease']);
		expect(told('Mara Whitlock').match(/- (Passport|Lease)/g)).toEqual(['- Passport', '- Lease']);
		await expect(send({ lines: [{ ...letterLine('Letter', '2026-05-20', {}), each: true }] })).rejects.toThrow('A letter is signed by one person');
		await expect(send({ others: ['00000000-0000-4000-8000-000000000000'] })).rejects.toMatchObject({ code: 'not_found' });
	});
});

async function attach(at: TestFirm): Promise<string> {
	const { rows } = await context.owner.query(
		`insert into attachment (id, firm_id, name, bytes, sha256, content_type, storage_key, added_by_id, added_at) values (gen_random_uuid(), $1, 'accounts.pdf', 10, '\\x00', 'application/pdf', 'none', $2, now()) returning id`,
		[at.id, at.coordinator.id]
	);
	return rows[0].id;
}

test('a file beside an item is seen by its client and by nobody else’s', async () => {
	const id = await attach(firm);
	await ask(line('read', { link: '' }, { attachments: [id] }));
	const other = await makeClient(context, firm, { name: 'Other' });
	const seen = (who: TestClient) => who.run((tx) => tx.rows('select id from attachment'));
	expect(await seen(client)).toEqual([{ id }]);
	expect(await seen(other)).toEqual([]);
});

test('the database knows the same kinds of items as the application', async () => {
	const { rows } = await context.owner.query('select name from item_kind');
	expect(rows.map((row) => row.name).toSorted()).toEqual(ITEM_KIND_NAMES.toSorted());
});
