import { Readable } from 'node:stream';
import { describe, expect, test } from 'vitest';
import { questionSchema } from '$lib/core/items/questions';
import { questionnaireFile } from '$lib/core/questionnaires/questionnaire-file';
import { filesBeside } from '$lib/core/requests/files-beside';
import type { RequestLine } from '$lib/core/requests/request-list';
import { answerReader } from '$lib/words/answers';
import { openAttachment, takeInAttachment } from '../attachments/attachments';
import { readFacts, sayFact } from '../clients/client-facts';
import { readAlwaysKnown, readKnownForTrying } from '../clients/clients-known';
import { loadFacts } from '../facts/firm-facts';
import { acceptAnswers, askBackAnswers, correctAnswer } from '../item-kinds/kinds/answer-review';
import { answerQuestionnaire } from '../item-kinds/kinds/questionnaire';
import { questionsForClient } from '../item-kinds/kinds/questions-for-client';
import { keepTyped } from '../items/client-item';
import { readItem, readItemsOfClient, readOwnItem } from '../items/read-items';
import {
	addQuestionnaire,
	changeQuestionnaire,
	copyForNextYear,
	copyReadyQuestionnaire,
	importQuestionnaire,
	listThatAsks,
	readQuestionnaire,
	readQuestionnaires,
	readQuestionnaireVersions,
	removeQuestionnaire,
	restoreQuestionnaire
} from '../library/questionnaires';
import { readList } from '../library/request-lists';
import { removePaper, takeInPaper } from '../papers/papers';
import { itemsOf, makeClient, requestTo, sendPlanned, type TestClient } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { answersAsCsv, answersAsJson, readAnswersOfMany } from './answers-of-many';
import { fillInByPhone } from './fill-in';
import { acceptItem, sendItemBack } from './judge-item';
import { filledSheet, ownFilledSheet } from '../items/print-questionnaire';
import { moveNotBegun, readNotBegun, readOutWithClients } from './questionnaires-out';
import { sendRequest } from './send-request';

useFirm();

const one = (key: string, answer: object, more: object = {}) =>
	questionSchema.parse({ key, title: `About ${key}`, help: '', required: true, answer, fact: null, ...more });
const QUESTIONS = [
	one(
		'form',
		{ is: 'one_of', choices: ['sole trader', 'partnership', 'company', 'co-operative', 'non-profit'] },
		{ fact: 'legal_form', part: 'You' }
	),
	one('staff', { is: 'yes_no' }, { fact: 'payroll', part: 'Staff' }),
	one('many', { is: 'number', unit: '' }, { under: 'staff', when: { is: 'equals', value: 'yes' }, check: { least: 1 } }),
	one('else', { is: 'words' }, { required: false })
];
const about = { name: 'Getting to know you', about: '', questions: QUESTIONS, files: false, signed: false, ends: [], year: null };
const desk = <T>(work: Parameters<typeof firm.run<T>>[0]) => firm.run(work);
const add = (more: Partial<typeof about> = {}) => desk((tx) => addQuestionnaire(tx, firm.odalys(), { ...about, ...more }));
const line = (id: string, more: object = {}) =>
	({
		key: 'q',
		kind: 'questionnaire',
		title: 'About you',
		heading: '',
		why: '',
		required: true,
		acceptsItself: false,
		attachments: [],
		account: null,
		dueOn: '2026-05-20',
		spec: { questions: [], files: false, signed: false, ends: [], from: { id, name: 'as it was called', version: 1, before: null } },
		...more
	}) as unknown as RequestLine;
async function ask(id: string, of: TestClient = client, key = 'ask') {
	const request = await sendRequest(context, firm.id, firm.odalys(), requestTo(of, [line(id, { key })]));
	return (await itemsOf(context, request))[0].id;
}
const read = (id: string) => desk((tx) => readItem(tx, firm.odalys(), id));
const handIn = (itemId: string, typed: object, of: TestClient = client) =>
	of.run((tx) => answerQuestionnaire(tx, of.mara(), { itemId, typed: typed as Record<string, unknown> }));
const ALL = { form: 'company', staff: 'yes', many: '3', else: 'We fly kites.' };
const questionsOf = async (itemId: string) => {
	const item = await read(itemId);
	return item.kind === 'questionnaire' ? item.spec.questions.map(({ key }) => key) : [];
};

describe('of the Library', () => {
	test('sending takes a copy of what it is then; changing it keeps the version before and touches nothing that is out', async () => {
		const id = await add();
		const first = await ask(id);
		await desk((tx) => changeQuestionnaire(tx, firm.odalys(), id, 1, { ...about, questions: QUESTIONS.slice(0, 2) }));
		const second = await ask(id, client, 'second');
		expect([await questionsOf(first), await questionsOf(second)]).toEqual([
			['form', 'staff', 'many', 'else'],
			['form', 'staff']
		]);
		expect(await desk((tx) => readQuestionnaireVersions(tx, id))).toMatchObject([{ version: 1, questions: 4 }]);
		expect(await desk((tx) => readOutWithClients(tx, firm.odalys(), id))).toEqual([
			{ version: 2, notBegun: 1, begun: 0, handedIn: 0 },
			{ version: 1, notBegun: 1, begun: 0, handedIn: 0 }
		]);
		expect(await desk((tx) => readQuestionnaires(tx, firm.odalys()))).toMatchObject([{ questions: 2, version: 2, open: 2 }]);
		await desk((tx) => restoreQuestionnaire(tx, firm.odalys(), id, 1, 2));
		expect((await desk((tx) => readQuestionnaire(tx, firm.odalys(), id))).questions).toHaveLength(4);
	});
	test('of two who change it the later one is told, and loses nothing of theirs', async () => {
		const id = await add();
		await desk((tx) => changeQuestionnaire(tx, firm.odalys(), id, 1, { ...about, name: 'Anew' }));
		await expect(desk((tx) => changeQuestionnaire(tx, firm.odalys(), id, 1, about))).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});
	test('who has not begun can be moved to the newest version; who has typed a letter goes on with theirs', async () => {
		const id = await add();
		const [idle, typing] = [await ask(id), await ask(id, client, 'typing')];
		await client.run((tx) => keepTyped(tx, client.mara(), { itemId: typing, device: 'phone', since: null, fields: { 'answer.else': 'W' } }));
		expect(await desk((tx) => readNotBegun(tx, firm.odalys(), id))).toEqual([]);
		await desk((tx) => changeQuestionnaire(tx, firm.odalys(), id, 1, { ...about, questions: QUESTIONS.slice(0, 1) }));
		const notBegun = await desk((tx) => readNotBegun(tx, firm.odalys(), id));
		expect(notBegun.map(({ itemId, version }) => [itemId, version])).toEqual([[idle, 1]]);
		await expect(desk((tx) => moveNotBegun(tx, firm.odalys(), id, { itemIds: [idle], version: 1 }))).rejects.toMatchObject({
			code: 'changed_meanwhile'
		});
		// asked for both, as if the other one had begun meanwhile
		expect(await desk((tx) => moveNotBegun(tx, firm.odalys(), id, { itemIds: [idle, typing], version: 2 }))).toBe(1);
		expect([await questionsOf(idle), await questionsOf(typing)]).toEqual([['form'], ['form', 'staff', 'many', 'else']]);
		expect(await desk((tx) => moveNotBegun(tx, firm.odalys(), id, { itemIds: [idle, typing], version: 2 }))).toBe(0);
	});
	test('pictures in explanations come with what is asked, for whoever is asked and nobody else; a newer version has its own', async () => {
		const png = Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==', 'base64');
		const take = () => takeInAttachment(context, firm.id, firm.odalys(), { name: 'seal.png', content: Readable.from([png]) });
		const [first, second, beside] = [await take(), await take(), await take()];
		const explained = (picture: { id: string }) => [
			{
				...QUESTIONS[0],
				help: 'The seal',
				helpText: { type: 'doc' as const, content: [{ type: 'picture' as const, attrs: { id: picture.id, alt: 'The seal' } }] }
			},
			...QUESTIONS.slice(1)
		];
		const id = await add({ questions: explained(first) });
		const request = await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [line(id, { attachments: [beside.id] })]));
		const [item] = await itemsOf(context, request);
		const open = (picture: { id: string }, of: TestClient = client) => of.run((tx) => openAttachment(tx, of.mara(), picture.id));
		expect(await open(first)).toMatchObject({ name: 'seal.png', contentType: 'image/png' });
		await expect(open(second)).rejects.toMatchObject({ code: 'not_found' });
		const stranger = await makeClient(context, firm, { name: 'Somebody else' });
		await expect(open(first, stranger)).rejects.toMatchObject({ code: 'not_found' });
		await desk((tx) => changeQuestionnaire(tx, firm.odalys(), id, 1, { ...about, questions: explained(second) }));
		await desk((tx) => moveNotBegun(tx, firm.odalys(), id, { itemIds: [item.id], version: 2 }));
		const moved = await read(item.id);
		expect(moved.attachments.map((file) => file.id)).toEqual([second.id, beside.id]);
		expect(filesBeside(moved).map((file) => file.id)).toEqual([beside.id]);
		await expect(open(first)).rejects.toMatchObject({ code: 'not_found' });
	});
	test('one that is gone cannot be sent, and one that a list asks does not go', async () => {
		const id = await add();
		const list = await desk((tx) => listThatAsks(tx, firm.odalys(), id));
		expect(await desk((tx) => listThatAsks(tx, firm.odalys(), id))).toBe(list);
		expect((await desk((tx) => readList(tx, firm.odalys(), list))).lines).toMatchObject([{ kind: 'questionnaire', spec: { from: { id } } }]);
		await expect(desk((tx) => removeQuestionnaire(tx, firm.odalys(), id))).rejects.toThrow(/asked by a list: “Getting to know you”/);
		const other = await add({ name: 'Another' });
		await desk((tx) => removeQuestionnaire(tx, firm.odalys(), other));
		await expect(ask(other)).rejects.toThrow('“as it was called” is not in the Library any more');
	});
	test('who only looks changes nothing', async () => {
		const id = await add();
		const bram = { ...firm.odalys(), role: 'filing' as const };
		for (const work of [
			() => desk((tx) => changeQuestionnaire(tx, bram, id, 1, about)),
			() => desk((tx) => copyReadyQuestionnaire(tx, bram, 'company')),
			() => desk((tx) => removeQuestionnaire(tx, bram, id)),
			() => desk((tx) => importQuestionnaire(tx, bram, '{}')),
			() => desk((tx) => moveNotBegun(tx, bram, id, { itemIds: [], version: 1 }))
		])
			await expect(work()).rejects.toMatchObject({ code: 'not_allowed' });
	});
	test('goes out as a file and comes in again under a name that is free', async () => {
		const id = await add();
		const file = questionnaireFile(await desk((tx) => readQuestionnaire(tx, firm.odalys(), id)), await desk((tx) => loadFacts(tx)));
		const brought = await desk((tx) => importQuestionnaire(tx, firm.odalys(), file));
		expect(brought.leftOut).toEqual([]);
		expect(await desk((tx) => readQuestionnaire(tx, firm.odalys(), brought.id))).toMatchObject({
			name: 'Getting to know you (2)',
			questions: QUESTIONS
		});
	});
	test.each(['company', 'sole-trader', 'household', 'payroll-start', 'clean-up', 'feedback', 'enquiry'])(
		'the ready-made %s is copied and sent',
		async (ready) => {
			const id = await desk((tx) => copyReadyQuestionnaire(tx, firm.odalys(), ready));
			expect((await questionsOf(await ask(id))).length).toBeGreaterThan(2);
		}
	);
});

describe('the copy for the next year', () => {
	test('proposes what the same client answered the year before; the same once more is no correction, and other clients see none of it', async () => {
		const id = await add({ name: 'Your year 2025', year: 2025 as never });
		await handIn(await ask(id), ALL);
		const next = await desk((tx) => copyForNextYear(tx, firm.odalys(), id));
		expect(await desk((tx) => readQuestionnaire(tx, firm.odalys(), next))).toMatchObject({ name: 'Your year 2026', year: 2026, beforeId: id });
		await expect(desk((tx) => copyForNextYear(tx, firm.odalys(), id))).rejects.toThrow('“Your year 2026”');
		const known = async (of: TestClient) => {
			const item = await of.run(async (tx) => readOwnItem(tx, of.mara(), await ask(next, of, `next ${of.id}`)));
			if (item.kind !== 'questionnaire') throw new Error('of another kind');
			const asked = { clientId: of.id, questions: item.spec.questions, beforeId: item.spec.from?.before ?? null };
			return (await of.run((tx) => questionsForClient(tx, of.mara(), asked, 'en'))).known;
		};
		expect(await known(client)).toMatchObject({
			many: { answer: 3, saidBy: null },
			else: { answer: 'We fly kites.', saidBy: null },
			// what the firm knows as a fact is said by whoever said it
			form: { answer: 'company', saidBy: client.mara().name }
		});
		expect(await known(await makeClient(context, firm, { name: 'Brine & Barrow' }))).toEqual({});
	});
});

describe('single answers', () => {
	const handed = async () => {
		const id = await ask(await add());
		await handIn(id, ALL);
		return { id, version: (await read(id)).version };
	};
	test('asked back, they alone are open; the client is written to once, and the rest stays as it was handed in', async () => {
		const { id, version } = await handed();
		await sendPlanned(context, firm);
		const before = context.mailer.sent.length;
		await desk((tx) => askBackAnswers(tx, firm.odalys(), { itemId: id, version, words: { many: 'Also count yourself.' } }));
		await sendPlanned(context, firm);
		expect(context.mailer.sent.slice(before).map(({ text }) => text)).toEqual([expect.stringContaining('About many: Also count yourself.')]);
		expect(await read(id)).toMatchObject({ state: 'sent_back', review: { askedBack: { many: 'Also count yourself.' } } });
		// what was left empty, and follows from nothing that was asked back, does not come up again
		const own = await client.run((tx) => readOwnItem(tx, client.mara(), id));
		expect(own.review.askedBack).toEqual({ many: 'Also count yourself.' });
		// what is not open is not taken, and not missed
		await handIn(id, { many: '4', form: 'partnership', else: '' });
		const item = await read(id);
		expect(item).toMatchObject({ state: 'handed_in', answerData: { form: 'company', staff: true, many: 4, else: 'We fly kites.' } });
		expect(item.review).toMatchObject({ seen: { many: 3 } });
		expect(item.review.askedBack).toBeUndefined();
		expect((await desk((tx) => readFacts(tx, firm.odalys(), client.id))).find(({ name }) => name === 'legal_form')?.value).toBe('company');
	});
	test('what follows from an answer that was asked back is asked too', async () => {
		const id = await ask(await add());
		await handIn(id, { form: 'company', staff: 'no' });
		await desk(async (tx) =>
			askBackAnswers(tx, firm.odalys(), { itemId: id, version: (await readItem(tx, firm.odalys(), id)).version, words: { staff: 'Really?' } })
		);
		await expect(handIn(id, { staff: 'yes' })).rejects.toMatchObject({ fields: { many: { key: 'wrong.answer.number' } } });
		await expect(handIn(id, { staff: 'yes', many: '0' })).rejects.toMatchObject({ fields: { many: { key: 'wrong.check.amount.least' } } });
		await handIn(id, { staff: 'yes', many: '2' });
		expect((await read(id)).answerData).toMatchObject({ form: 'company', staff: true, many: 2 });
	});
	test('sent back as a whole, everything is open again', async () => {
		const { id, version } = await handed();
		await desk((tx) => askBackAnswers(tx, firm.odalys(), { itemId: id, version, words: { many: 'x' } }));
		await handIn(id, { many: '4' });
		await desk(async (tx) =>
			sendItemBack(tx, firm.odalys(), { itemId: id, version: (await readItem(tx, firm.odalys(), id)).version, reason: 'All of it.' })
		);
		expect((await read(id)).review.askedBack).toBeUndefined();
		await handIn(id, { ...ALL, form: 'partnership' });
		expect((await read(id)).answerData).toMatchObject({ form: 'partnership' });
	});
	test('as PDF for the client: their answers in their language, without what the firm says of them; nothing before it is handed in, and nobody else’s', async () => {
		const { id, version } = await handed();
		await desk((tx) => correctAnswer(tx, firm.odalys(), { itemId: id, version, key: 'form', typed: 'partnership' }));
		const own = (of: TestClient, itemId: string) =>
			of.run((tx) => ownFilledSheet(tx, of.mara(), itemId, { reader: answerReader('fr'), locale: 'fr' }));
		const sheet = await own(client, id);
		expect(sheet.lead).toMatch(/^Gull & String Kites, état au /);
		expect(sheet.pageWords).toBe('Page {page} sur {count}');
		expect(JSON.stringify(sheet)).toContain('partnership');
		expect(JSON.stringify(sheet)).not.toMatch(/corrected|Odalys/);
		expect(JSON.stringify(await desk((tx) => filledSheet(tx, firm.odalys(), id, { explanations: false, reader: answerReader('en') })))).toContain(
			'corrected by Odalys'
		);
		const other = await makeClient(context, firm, { name: 'Elsewhere' });
		await expect(own(other, id)).rejects.toMatchObject({ code: 'not_found' });
		await expect(own(client, await ask(await add({ name: 'Another' }), client, 'second'))).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});
	test('corrected by the firm, what the client said stays beside it and the fact follows; what they say anew takes its place', async () => {
		const { id, version } = await handed();
		const correct = (key: string, typed: unknown, at = version) =>
			desk((tx) => correctAnswer(tx, firm.odalys(), { itemId: id, version: at, key, typed }));
		await expect(correct('many', 'three')).rejects.toMatchObject({ fields: { many: { key: 'wrong.answer.number' } } });
		await correct('form', 'partnership');
		await correct('form', 'non-profit', version + 1);
		const item = await read(id);
		expect(item).toMatchObject({ answerData: { form: 'non-profit' }, review: { corrected: { form: { was: 'company', by: 'Odalys Fenwick' } } } });
		expect((await desk((tx) => readFacts(tx, firm.odalys(), client.id))).find(({ name }) => name === 'legal_form')).toMatchObject({
			value: 'non_profit',
			saidBy: 'Odalys Fenwick'
		});
		await expect(correct('form', 'company')).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await desk((tx) => sendItemBack(tx, firm.odalys(), { itemId: id, version: item.version, reason: 'Once more.' }));
		await handIn(id, ALL);
		expect((await read(id)).review.corrected).toBeUndefined();
	});
	test('accepted by part; the last part accepts the whole, and what is answered differently is to be looked at again', async () => {
		const { id, version } = await handed();
		await desk((tx) => acceptAnswers(tx, firm.odalys(), { itemId: id, version, keys: ['form'] }));
		expect(await read(id)).toMatchObject({ state: 'handed_in', review: { accepted: ['form'] } });
		await desk((tx) => askBackAnswers(tx, firm.odalys(), { itemId: id, version: version + 1, words: { form: 'Sure?' } }));
		await handIn(id, { form: 'partnership' });
		const item = await read(id);
		expect(item.review.accepted).toEqual([]);
		await desk((tx) => acceptAnswers(tx, firm.odalys(), { itemId: id, version: item.version, keys: ['form'] }));
		await desk((tx) => acceptAnswers(tx, firm.odalys(), { itemId: id, version: item.version + 1, keys: ['staff', 'many', 'else'] }));
		expect((await read(id)).state).toBe('accepted');
	});
	test('who does not know says so, and it is no gap; a later answer takes its place', async () => {
		const id = await ask(await add());
		await expect(handIn(id, { form: 'company' })).rejects.toMatchObject({ fields: { staff: {} } });
		await handIn(id, { form: 'company', 'staff.unknown': 'yes', 'form.unknown': 'yes' });
		expect(await read(id)).toMatchObject({ answerData: { form: 'company' }, review: { unknown: ['staff'] } });
		await desk(async (tx) =>
			correctAnswer(tx, firm.odalys(), { itemId: id, version: (await readItem(tx, firm.odalys(), id)).version, key: 'staff', typed: 'no' })
		);
		expect((await read(id)).review.unknown).toEqual([]);
	});
	test('what becomes a fact that somebody may not see, or a secret, they read in no answer either', async () => {
		const { id, version } = await handed();
		await context.owner.query(`update fact_definition set seen_by = 'leaders' where firm_id = $1 and name = 'legal_form'`, [firm.id]);
		await context.owner.query(`update fact_definition set secret = true where firm_id = $1 and name = 'payroll'`, [firm.id]);
		const imre = { ...firm.odalys(), role: 'bookkeeper' as const };
		for (const item of [await desk((tx) => readItem(tx, imre, id)), ...(await desk((tx) => readItemsOfClient(tx, imre, client.id)))])
			expect(item).toMatchObject({ withheld: ['form', 'staff'], answerData: { many: 3, else: 'We fly kites.' } });
		await expect(desk((tx) => correctAnswer(tx, imre, { itemId: id, version, key: 'form', typed: 'company' }))).rejects.toMatchObject({
			code: 'not_found'
		});
		expect((await desk((tx) => readItem(tx, firm.odalys(), id))).withheld).toEqual(['staff']);
	});
	test('who may not see what a question becomes cannot write it down by phone, and is told so', async () => {
		const id = await ask(await add());
		await context.owner.query(`update fact_definition set seen_by = 'leaders' where firm_id = $1 and name = 'legal_form'`, [firm.id]);
		const fill = (role: 'bookkeeper' | 'coordinator', typed: object) =>
			desk(async (tx) => {
				const { version } = await readItem(tx, firm.odalys(), id);
				await fillInByPhone(tx, { ...firm.odalys(), role }, { itemId: id, version, typed: typed as Record<string, unknown> });
			});
		await expect(fill('bookkeeper', { staff: 'no' })).rejects.toThrow('your role does not see');
		await fill('coordinator', { form: 'company', staff: 'no' });
		expect((await read(id)).state).toBe('handed_in');
	});
	test('nothing of it without the right, on other items, or before it is handed in', async () => {
		const { id, version } = await handed();
		const bram = { ...firm.odalys(), role: 'filing' as const };
		const acts = (actor: ReturnType<typeof firm.odalys>, itemId: string, at: number) => [
			() => desk((tx) => askBackAnswers(tx, actor, { itemId, version: at, words: { form: 'x' } })),
			() => desk((tx) => correctAnswer(tx, actor, { itemId, version: at, key: 'form', typed: 'company' })),
			() => desk((tx) => acceptAnswers(tx, actor, { itemId, version: at, keys: ['form'] }))
		];
		for (const act of acts(bram, id, version)) await expect(act()).rejects.toMatchObject({ code: 'not_allowed' });
		const open = await ask((await desk((tx) => readQuestionnaires(tx, firm.odalys())))[0].id, client, 'open');
		for (const act of acts(firm.odalys(), open, 1)) await expect(act()).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await expect(desk((tx) => askBackAnswers(tx, firm.odalys(), { itemId: id, version, words: { gone: 'x' } }))).rejects.toMatchObject({
			code: 'not_found'
		});
	});
});

describe('questions that want a file', () => {
	const WITH_FILES = [
		one('papers', { is: 'file', accepts: 'any' }),
		one('card', { is: 'file', accepts: 'picture' }, { required: false }),
		one('more', { is: 'words' }, { under: 'card', required: false })
	];
	const asked = async () => ask(await add({ questions: WITH_FILES }));
	const put = (itemId: string, slot: string | null, name = 'Articles.txt', words = 'Articles of the company') =>
		takeInPaper(context, firm.id, client.mara(), { itemId, slot, name, content: Readable.from([Buffer.from(words)]) });
	const remove = (itemId: string, paperId: string) => client.run((tx) => removePaper(tx, client.mara(), { itemId, paperId }));
	const askBack = async (id: string, key: string) =>
		desk(async (tx) =>
			askBackAnswers(tx, firm.odalys(), { itemId: id, version: (await readItem(tx, firm.odalys(), id)).version, words: { [key]: 'Once more.' } })
		);

	test('are answered by what was added there, not by what a form says of it', async () => {
		const id = await asked();
		await expect(handIn(id, { papers: 'Articles.txt' })).rejects.toMatchObject({ fields: { papers: { key: 'wrong.answer.file' } } });
		const { id: paper } = await put(id, 'papers');
		await handIn(id, { card: 'forged.png', more: 'nothing hangs on what is not there' });
		expect((await read(id)).answerData).toEqual({ papers: [{ paper, name: 'Articles.txt' }] });
		const sheet = await desk((tx) => filledSheet(tx, firm.odalys(), id, { explanations: false, reader: answerReader('en') }));
		expect(JSON.stringify(sheet)).toContain('Articles.txt');
	});
	test('take nothing of another kind, and nothing for a question that wants none', async () => {
		const id = await asked();
		await expect(put(id, 'card')).rejects.toMatchObject({ code: 'unreadable_file', message: 'wrong.paper.slot' });
		await expect(put(id, 'more')).rejects.toMatchObject({ code: 'not_found' });
		await expect(put(id, null)).rejects.toMatchObject({ code: 'changed_meanwhile' });
		expect((await read(id)).papers).toEqual([]);
	});
	test('who has none says so; one taken out again is no answer', async () => {
		const id = await asked();
		const { id: paper } = await put(id, 'papers');
		await remove(id, paper);
		await expect(handIn(id, {})).rejects.toMatchObject({ fields: { papers: {} } });
		await handIn(id, { 'papers.unknown': 'yes' });
		expect(await read(id)).toMatchObject({ answerData: {}, review: { unknown: ['papers'] } });
	});
	test('asked back, that one alone is open; another file of the same name is another answer, and to be looked at again', async () => {
		const id = await asked();
		const { id: first } = await put(id, 'papers');
		await handIn(id, {});
		await desk(async (tx) =>
			acceptAnswers(tx, firm.odalys(), { itemId: id, version: (await readItem(tx, firm.odalys(), id)).version, keys: ['papers'] })
		);
		await askBack(id, 'card');
		await expect(remove(id, first)).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await expect(put(id, 'papers', 'More.txt')).rejects.toMatchObject({ code: 'changed_meanwhile' });
		expect((await read(id)).papers).toHaveLength(1);
		await handIn(id, {});
		await askBack(id, 'papers');
		await remove(id, first);
		const { id: second } = await put(id, 'papers', 'Articles.txt', 'Another text');
		await handIn(id, {});
		expect(await read(id)).toMatchObject({
			answerData: { papers: [{ paper: second, name: 'Articles.txt' }] },
			review: { seen: { papers: [{ paper: first, name: 'Articles.txt' }] }, accepted: [] }
		});
	});
	test('are left open by phone, and not corrected', async () => {
		const id = await asked();
		await desk(async (tx) => fillInByPhone(tx, firm.odalys(), { itemId: id, version: (await readItem(tx, firm.odalys(), id)).version, typed: {} }));
		const { state, version } = await read(id);
		expect(state).toBe('handed_in');
		await expect(desk((tx) => correctAnswer(tx, firm.odalys(), { itemId: id, version, key: 'papers', typed: 'x' }))).rejects.toThrow('ask it back');
	});
});

describe('answers of many', () => {
	test('by client, without those of clients that are closed to whoever asks; as CSV that runs nothing, and as JSON', async () => {
		const questionnaire = await add();
		const brine = await makeClient(context, firm, { name: 'Brine & Barrow' });
		const [first, second] = [await ask(questionnaire), await ask(questionnaire, brine)];
		await ask(questionnaire, client, 'not answered');
		await handIn(first, { ...ALL, else: '=1+1' });
		await handIn(second, { form: 'partnership', staff: 'no' }, brine);
		await desk(async (tx) => acceptItem(tx, firm.odalys(), { itemId: second, version: (await readItem(tx, firm.odalys(), second)).version }));
		const { all, total } = await desk((tx) => readAnswersOfMany(tx, firm.odalys(), questionnaire, 1));
		expect([all.map(({ clientName }) => clientName), total]).toEqual([['Brine & Barrow'], 2]);
		const csv = await desk((tx) => answersAsCsv(tx, firm.odalys(), questionnaire, answerReader('en')));
		expect(csv.text).toContain("'=1+1");
		expect(csv.text.split('\r\n').filter(Boolean)).toHaveLength(3);
		const json = JSON.parse((await desk((tx) => answersAsJson(tx, firm.odalys(), questionnaire))).text) as { answers: { answers: object }[] };
		expect(json.answers[0].answers).toEqual({ form: 'partnership', staff: false });
		await context.owner.query(`update fact_definition set seen_by = 'leaders' where firm_id = $1 and name = 'legal_form'`, [firm.id]);
		const imre = { ...firm.odalys(), role: 'bookkeeper' as const };
		const seen = await desk((tx) => readAnswersOfMany(tx, imre, questionnaire, null));
		expect(seen.questions.map(({ key }) => key)).toEqual(['staff', 'many', 'else']);
		expect(JSON.stringify(seen.all)).not.toContain('partnership');
	});
});

describe('what is known, for writing and trying', () => {
	test('a fact of every client is told; of one client only what this person may see', async () => {
		const others = [];
		for (const name of ['A', 'B', 'C', 'D']) others.push(await makeClient(context, firm, { name }));
		for (const of of [client, ...others]) await desk((tx) => sayFact(tx, firm.odalys(), { clientId: of.id, name: 'payroll', value: 'no' }));
		await desk((tx) => sayFact(tx, firm.odalys(), { clientId: client.id, name: 'legal_form', value: 'company' }));
		expect(await desk((tx) => readAlwaysKnown(tx))).toEqual(['payroll']);
		await context.owner.query(`update fact_definition set seen_by = 'leaders' where firm_id = $1 and name = 'legal_form'`, [firm.id]);
		const known = (role: 'coordinator' | 'bookkeeper') =>
			desk((tx) => readKnownForTrying(tx, { ...firm.odalys(), role }, client.id, '2026-05-04')).then((tried) =>
				Object.keys(tried!.known.facts).sort()
			);
		expect([await known('coordinator'), await known('bookkeeper')]).toEqual([['legal_form', 'payroll'], ['payroll']]);
	});
});
