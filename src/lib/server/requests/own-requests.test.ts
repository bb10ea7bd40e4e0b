import { Readable } from 'node:stream';
import { beforeEach, expect, test } from 'vitest';
import { clientFormSchema, READY_MADE_FORMS } from '$lib/core/requests/client-forms';
import type { Actor } from '../actor';
import { moveClient, writeEngagement } from '../clients/client-record';
import { readPeopleDue } from '../chasing/chase-people';
import { changeAreas, areasOfContact } from '../firms/portal-areas';
import { loadFirm } from '../firms/firm';
import { addService } from '../firms/services';
import { copyReadyForm, readForms, removeForm, writeForm } from '../library/client-forms';
import { takeInPaper } from '../papers/papers';
import { readRounds } from '../rounds/read-rounds';
import { itemsOf, makeClient, makeFirm, paperLine, requestTo } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { answerQuestionnaire } from '../item-kinds/kinds/questionnaire';
import { keepTyped } from '../items/client-item';
import { acceptItem, sendItemBack } from './judge-item';
import { raiseRequest, readOfferedForms, takeBackRequest } from './own-requests';
import { readItem, readOwnItem } from '../items/read-items';
import { sendRequest } from './send-request';

useFirm();
let administrator: Actor;
let formId: string;
beforeEach(async () => {
	administrator = { ...firm.partner, role: 'administrator' };
	formId = await firm.run((tx) => copyReadyForm(tx, administrator, 'letter-from-us'));
});

const begin = (who = client, form = formId) => who.run((tx) => raiseRequest(tx, who.mara(), { clientId: who.id, formId: form }));
const item = (id: string) => firm.run((tx) => readItem(tx, firm.odalys(), id));
const offered = (who = client) =>
	who.run(async (tx) => (await readOfferedForms(tx, who.mara())).flatMap((one) => one.forms.map((form) => form.name)));
const ANSWERS = { who: 'Tideline Savings', what: 'That we exist', by: '2026-06-01', language: '' };

test('begun with a form, kept as it is typed, with files, handed in: it stands in Rounds, and is judged like anything else', async () => {
	const id = await begin();
	expect(await item(id)).toMatchObject({ state: 'started', raised: true, title: 'A letter from you', dueOn: null, nextChaseOn: null });
	await client.run((tx) => keepTyped(tx, client.mara(), { itemId: id, device: 'phone', since: null, fields: { 'answer.who': 'Tideline' } }));
	await takeInPaper(context, firm.id, client.mara(), {
		itemId: id,
		name: 'their-letter.pdf',
		content: Readable.from([Buffer.from('%PDF-1.7\n%âãÏÓ\n')])
	});
	await expect(client.run((tx) => answerQuestionnaire(tx, client.mara(), { itemId: id, typed: { who: 'x' } }))).rejects.toMatchObject({
		code: 'invalid'
	});
	await client.run((tx) => answerQuestionnaire(tx, client.mara(), { itemId: id, typed: ANSWERS }));
	const kept = await item(id);
	expect(kept).toMatchObject({
		state: 'handed_in',
		answerData: { who: 'Tideline Savings', by: '2026-06-01' },
		papers: [{ name: 'their-letter.pdf' }]
	});
	const rounds = await firm.run(async (tx) => readRounds(tx, firm.odalys(), await loadFirm(tx), { due: (d) => d }));
	expect(rounds.rows.map((row) => row.section)).toContain('handed_in');
	await firm.run((tx) => sendItemBack(tx, firm.odalys(), { itemId: id, version: kept.version, reason: 'To whom exactly?' }));
	await client.run((tx) => answerQuestionnaire(tx, client.mara(), { itemId: id, typed: { ...ANSWERS, who: 'Tideline Savings, Mr Okoro' } }));
	await firm.run(async (tx) => acceptItem(tx, firm.odalys(), { itemId: id, version: (await item(id)).version }));
	expect((await client.run((tx) => readOwnItem(tx, client.mara(), id))).state).toBe('accepted');
	// nobody is reminded of what they began themselves
	expect(await firm.run((tx) => readPeopleDue(tx, '2027-01-01'))).toEqual([]);
});

test('taken back before it is sent; what the firm asks for is not', async () => {
	const id = await begin();
	await client.run((tx) => takeBackRequest(tx, client.mara(), id));
	expect((await item(id)).state).toBe('waived');
	const sent = await begin();
	await client.run((tx) => answerQuestionnaire(tx, client.mara(), { itemId: sent, typed: ANSWERS }));
	await expect(client.run((tx) => takeBackRequest(tx, client.mara(), sent))).rejects.toMatchObject({ code: 'changed_meanwhile' });
	const asked = await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Lease', '2026-05-20')]));
	const theirs = (await itemsOf(context, asked))[0].id as string;
	await expect(client.run((tx) => takeBackRequest(tx, client.mara(), theirs))).rejects.toMatchObject({ code: 'invalid' });
});

test('which forms are found: by service, by area, by client; none of another firm, none that was taken out', async () => {
	expect(await offered()).toEqual(['A letter from you']);
	const payroll = await firm.run((tx) => addService(tx, administrator, 'Payroll'));
	const employee = await firm.run((tx) =>
		writeForm(tx, administrator, clientFormSchema.parse({ ...READY_MADE_FORMS[0], services: [payroll] }), null)
	);
	expect(await offered()).toEqual(['A letter from you']);
	await expect(begin(client, employee)).rejects.toMatchObject({ code: 'not_found' });
	await firm.run((tx) =>
		writeEngagement(tx, firm.odalys(), { clientId: client.id, engagementId: null, name: 'Payroll', beganOn: '2026-05-01', services: [payroll] })
	);
	expect(await offered()).toEqual(['A letter from you', 'Somebody new works for us']);
	await begin(client, employee);
	expect(await client.run((tx) => areasOfContact(tx, client.mara()))).toEqual(['forms']);
	await firm.run((tx) => changeAreas(tx, administrator, { off: ['forms'], services: {} }));
	expect(await offered()).toEqual([]);
	await expect(begin()).rejects.toMatchObject({ code: 'not_found' });
	await firm.run((tx) => changeAreas(tx, administrator, { off: [], services: {} }));
	await firm.run((tx) => removeForm(tx, administrator, formId));
	await expect(begin()).rejects.toMatchObject({ code: 'not_found' });
	const other = await makeFirm(context);
	const stranger = await makeClient(context, other);
	await expect(begin(stranger, employee)).rejects.toMatchObject({ code: 'not_found' });
	await expect(stranger.run((tx) => raiseRequest(tx, stranger.mara(), { clientId: client.id, formId: employee }))).rejects.toMatchObject({
		code: 'not_found'
	});
	await firm.run((tx) => moveClient(tx, firm.odalys(), { clientId: client.id, move: 'lock', reason: 'x' }));
	expect(await offered()).toEqual([]);
	expect(await client.run((tx) => areasOfContact(tx, client.mara()))).not.toContain('forms');
});

test('the Library: names are told apart, what was begun stays as it was, who may', async () => {
	const id = await begin();
	const second = await firm.run((tx) => copyReadyForm(tx, administrator, 'letter-from-us'));
	expect((await firm.run((tx) => readForms(tx, administrator))).map((form) => [form.name, form.used])).toEqual([
		['A letter from you', 1],
		['A letter from you (2)', 0]
	]);
	const form = clientFormSchema.parse({ ...READY_MADE_FORMS[1], questions: READY_MADE_FORMS[1].questions.slice(0, 1) });
	await expect(firm.run((tx) => writeForm(tx, administrator, form, second))).rejects.toMatchObject({
		code: 'invalid',
		fields: { name: expect.any(String) }
	});
	await firm.run((tx) => writeForm(tx, administrator, form, formId));
	expect(((await item(id)).spec as { questions: unknown[] }).questions).toHaveLength(4);
	await expect(firm.run((tx) => writeForm(tx, firm.filing, form, formId))).rejects.toMatchObject({ code: 'not_allowed' });
	await expect(client.run((tx) => tx.rows(`update client_form set name = 'x'`))).rejects.toThrow('permission denied');
	await expect(firm.run((tx) => writeForm(tx, administrator, { ...form, name: 'Other', services: [client.id] }, null))).rejects.toMatchObject({
		code: 'not_found'
	});
});

test('more than a person begins is refused', async () => {
	for (let i = 0; i < 20; i++) await begin();
	await expect(begin()).rejects.toMatchObject({ code: 'too_many' });
});
