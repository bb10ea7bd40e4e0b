import { expect, test } from 'vitest';
import { questionSchema } from '$lib/core/items/questions';
import type { RequestLine } from '$lib/core/requests/request-list';
import { addContact } from '../clients/contacts';
import { answerQuestionnaire } from '../item-kinds/kinds/questionnaire';
import type { Actor } from '../actor';
import { sendRequest } from '../requests/send-request';
import { itemsOf, makeClient, requestTo, sendPlanned } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { keepTyped } from './client-item';
import { passedDone, passOn, readPassing, tellPassed } from './passing-on';

useFirm();

const QUESTIONS = ['form', 'staff', 'often'].map((key, i) =>
	questionSchema.parse({ key, title: `About ${key}`, required: true, answer: { is: 'line' }, ...(i < 2 ? { part: ['You', 'Staff'][i] } : {}) })
);
async function ask(): Promise<string> {
	const line = {
		...{ key: 'q', kind: 'questionnaire', title: 'Before we begin', heading: '', why: '', required: true, acceptsItself: false, attachments: [] },
		...{ account: null, dueOn: '2026-05-20', spec: { questions: QUESTIONS, files: false, signed: false, ends: [] } }
	} as unknown as RequestLine;
	return (await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [line]))))[0].id;
}
/** Another one of the client, who can sign in unless told otherwise. */
async function another(name: string, access = true): Promise<Actor> {
	const person = {
		name,
		email: `${name.toLowerCase()}-${client.id.slice(0, 8)}@client.example`,
		phone: null,
		role: 'partner',
		channels: 'email'
	} as const;
	const id = await firm.run((tx) => addContact(tx, firm.odalys(), { clientId: client.id, knownId: null, ...person, role: 'owner' }));
	if (access) await context.owner.query(`update contact set password_hash = 'x' where id = $1`, [id]);
	return { ...client.mara(), id, name };
}
const as = <T>(actor: Actor, work: Parameters<typeof client.run<T>>[0]) => context.db.inFirm(firm.id, work, actor.id!);
const pass = (itemId: string, to: string, more: object = {}) =>
	client.run((tx) => passOn(tx, client.mara(), { itemId, question: 'staff', words: '', to, ...more }));
const passingFor = (actor: Actor, itemId: string) => as(actor, (tx) => readPassing(tx, actor, itemId));
/** Does what the worker would, and answers whom was written what since. */
async function told(done: boolean, times = 1) {
	const { rows } = await context.owner.query<{ id: string }>('select id from answer_passed where firm_id = $1', [firm.id]);
	const before = context.mailer.sent.length;
	for (let i = 0; i < times; i++) for (const { id } of rows) await firm.run((tx) => tellPassed(tx, context.clock.now(), { id, done }));
	await sendPlanned(context, firm);
	return context.mailer.sent.slice(before);
}

test('an answer is passed on: the other one gets one mail, answers, says so, and whoever asked gets one back', async () => {
	const [id, juno] = [await ask(), await another('Juno')];
	await sendPlanned(context, firm);
	expect((await passingFor(client.mara(), id)).people).toEqual([{ id: juno.id, name: 'Juno' }]);
	await pass(id, juno.id!, { words: 'You know the hours.' });
	// pressed twice it is one thing
	await pass(id, juno.id!);
	const [mail, ...more] = await told(false, 2);
	expect(more).toEqual([]);
	expect(mail.to).toMatchObject({ name: 'Juno' });
	expect(mail.subject).toBe('Mara Whitlock asks you for an answer: Before we begin');
	for (const words of ['About staff', 'You know the hours.', `/item/${id}`]) expect(mail.text).toContain(words);
	expect(mail.text).not.toContain('About form');
	// the firm signs it, nobody in particular and no product
	expect(mail.text).toMatch(/\nPennywhistle Row Bookkeeping\s/);
	expect(mail.text).not.toContain('Humble Lantern');
	const { passed } = await passingFor(juno, id);
	expect(passed).toMatchObject([{ keys: ['staff'], toReader: true, byReader: false, byName: 'Mara Whitlock', doneAt: null }]);
	await as(juno, (tx) => keepTyped(tx, juno, { itemId: id, device: 'phone', since: null, fields: { 'answer.staff': 'four of us' } }));
	await as(juno, (tx) => passedDone(tx, juno, { itemId: id, id: passed[0].id }));
	await as(juno, (tx) => passedDone(tx, juno, { itemId: id, id: passed[0].id }));
	const back = await told(true, 2);
	expect(back.map(({ to, subject }) => [to, subject])).toEqual([
		[expect.objectContaining({ address: client.email }), 'Juno has answered: Before we begin']
	]);
	// what the other one wrote stands in the same answers
	const { rows } = await context.owner.query('select typed from item where id = $1', [id]);
	expect(rows[0].typed).toMatchObject({ 'answer.staff': { value: 'four of us' } });
});

test('with a whole part, and not more often than is of use', async () => {
	const [id, juno] = [await ask(), await another('Juno')];
	await pass(id, juno.id!, { question: 'often', part: 'yes' });
	expect((await passingFor(juno, id)).passed).toMatchObject([{ keys: ['staff', 'often'] }]);
	// one of these is asked for already
	await pass(id, juno.id!, { question: 'staff' });
	expect((await passingFor(juno, id)).passed).toHaveLength(1);
	for (let i = 0; i < 7; i++) await pass(id, (await another(`P${i}`)).id!);
	await expect(pass(id, (await another('Last')).id!)).rejects.toMatchObject({ code: 'too_many' });
});

test('nobody is asked who is of another client, cannot sign in, or may not see it; and nobody says for another that it is done', async () => {
	const [id, juno, barred] = [await ask(), await another('Juno'), await another('Barred', false)];
	const elsewhere = await makeClient(context, firm, { name: 'Elsewhere' });
	for (const to of [barred.id!, elsewhere.contactId, client.contactId]) await expect(pass(id, to)).rejects.toMatchObject({ code: 'not_found' });
	await expect(elsewhere.run((tx) => passOn(tx, elsewhere.mara(), { itemId: id, question: 'staff', words: '', to: juno.id! }))).rejects.toMatchObject(
		{
			code: 'not_found'
		}
	);
	await expect(pass(id, juno.id!, { question: 'gone' })).rejects.toMatchObject({ code: 'not_found' });
	await pass(id, juno.id!);
	const [{ id: passedId }] = (await passingFor(juno, id)).passed;
	await expect(client.run((tx) => passedDone(tx, client.mara(), { itemId: id, id: passedId }))).rejects.toMatchObject({ code: 'not_found' });
	// what each of them is asked for themselves is passed on to nobody
	await context.owner.query('update item set own = true where id = $1', [id]);
	expect(await passingFor(client.mara(), id)).toMatchObject({ people: [] });
	await expect(pass(id, juno.id!)).rejects.toMatchObject({ code: 'not_found' });
	expect(await elsewhere.run((tx) => tx.rows('select 1 from answer_passed'))).toEqual([]);
});

test('nobody is written to once it is handed in, and nothing is passed on then', async () => {
	const [id, juno] = [await ask(), await another('Juno')];
	await sendPlanned(context, firm);
	await pass(id, juno.id!);
	await client.run((tx) => answerQuestionnaire(tx, client.mara(), { itemId: id, typed: { form: 'a', staff: 'b', often: 'c' } }));
	expect(await told(false)).toEqual([]);
	await expect(pass(id, (await another('Other')).id!)).rejects.toMatchObject({ code: 'changed_meanwhile' });
});
