import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { expect, test } from 'vitest';
import { questionSchema } from '$lib/core/items/questions';
import type { RequestLine } from '$lib/core/requests/request-list';
import { addContact } from '../clients/contacts';
import { clientsWithArea, readSignedLetters } from '../firms/portal-areas';
import { correctAnswer } from '../item-kinds/kinds/answer-review';
import { answerQuestionnaire } from '../item-kinds/kinds/questionnaire';
import { goOnWith } from '../items/client-item';
import { readItem, readOwnItem } from '../items/read-items';
import { takeInPaper } from '../papers/papers';
import { checkSeal } from '../platform/pdf/seal';
import { fillInByPhone } from '../requests/fill-in';
import { sendRequest } from '../requests/send-request';
import { itemsOf, makeClient, requestTo, SECRET_KEY, type TestClient } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { openSignedAnswers, sealAnswers } from './sign-answers';

useFirm();

const QUESTIONS = [
	questionSchema.parse({ key: 'form', title: 'Which legal form?', required: true, answer: { is: 'line' } }),
	questionSchema.parse({ key: 'staff', title: 'Does anyone work for you?', required: true, answer: { is: 'yes_no' } }),
	questionSchema.parse({ key: 'lease', title: 'Your lease', required: false, answer: { is: 'file', accepts: 'any' } }),
	questionSchema.parse({ key: 'else', title: 'Anything else?', required: false, answer: { is: 'words' } })
];
async function ask(of: TestClient = client): Promise<string> {
	const line = {
		...{ key: 'q', kind: 'questionnaire', title: 'Before we begin', heading: '', why: '', required: true, acceptsItself: false, attachments: [] },
		...{ account: null, dueOn: '2026-05-20', spec: { questions: QUESTIONS, files: false, signed: true, ends: [] } }
	} as unknown as RequestLine;
	return (await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(of, [line]))))[0].id;
}
const ANSWERS = { form: 'company', staff: 'no', else: 'We fly kites above the harbour.' };
const SIGNED = { 'sign.consent': 'yes', 'sign.signature': JSON.stringify({ method: 'typed', name: 'Mara Whitlock' }) };
const handIn = (itemId: string, typed: object, actor = client.mara()) =>
	client.run((tx) => answerQuestionnaire(tx, actor, { itemId, typed: typed as Record<string, unknown> }));
const rowsOf = async (itemId: string) =>
	(
		await context.owner.query<{ id: string; sealed_key: string | null; sealed_sha256: Buffer | null; answers: object; ip: string }>(
			'select id, sealed_key, sealed_sha256, answers, ip from signed_answers where item_id = $1 order by signed_at',
			[itemId]
		)
	).rows;
const seal = (id: string) => sealAnswers({ ...context, secretKey: SECRET_KEY }, firm.id, id, context.clock.now());
const textOf = (file: string) => spawnSync('pdftotext', ['-layout', file, '-'], { encoding: 'utf8' }).stdout;

test('answers are signed as they are handed in: not without agreeing, not without a name, not with nonsense', async () => {
	const id = await ask();
	await expect(handIn(id, ANSWERS)).rejects.toMatchObject({ fields: { 'sign.consent': { key: 'letter.consentMissing' } } });
	await expect(handIn(id, { ...ANSWERS, 'sign.consent': 'yes' })).rejects.toThrow();
	await expect(handIn(id, { ...ANSWERS, 'sign.consent': 'yes', 'sign.signature': '{"method":' })).rejects.toMatchObject({ code: 'invalid' });
	await expect(handIn(id, { ...ANSWERS, 'sign.consent': 'yes', 'sign.signature': '{"method":"typed","name":"マラ"}' })).rejects.toMatchObject({
		message: 'wrong.letter.glyphs'
	});
	// what lacks an answer is not signed
	await expect(handIn(id, { ...SIGNED, form: 'company' })).rejects.toMatchObject({ fields: { staff: {} } });
	expect([(await firm.run((tx) => readItem(tx, firm.odalys(), id))).state, await rowsOf(id)]).toEqual(['asked', []]);
	// where no scripts run the name is the signature
	await handIn(id, { ...ANSWERS, 'sign.consent': 'yes', 'sign.name': 'Mara Whitlock' });
	expect(await firm.run((tx) => readItem(tx, firm.odalys(), id))).toMatchObject({
		state: 'handed_in',
		signed: { name: 'Mara Whitlock', sealed: false }
	});
});

test('only whoever is asked signs; by phone nobody does', async () => {
	const id = await ask();
	const person = { name: 'Juno Whitlock', email: 'juno@gullstring.example', phone: null, role: 'owner', channels: 'email' } as const;
	const other = await firm.run((tx) => addContact(tx, firm.odalys(), { clientId: client.id, knownId: null, ...person }));
	const juno = { ...client.mara(), id: other, name: 'Juno Whitlock' };
	await expect(
		context.db.inFirm(firm.id, (tx) => answerQuestionnaire(tx, juno, { itemId: id, typed: { ...ANSWERS, ...SIGNED } }), other)
	).rejects.toMatchObject({ code: 'not_allowed' });
	const { version } = await firm.run((tx) => readItem(tx, firm.odalys(), id));
	await expect(firm.run((tx) => fillInByPhone(tx, firm.odalys(), { itemId: id, version, typed: ANSWERS }))).rejects.toThrow('signed by the client');
	expect(await rowsOf(id)).toEqual([]);
});

test('the sealed file holds every answer, the signature and who signed when; pdfsig and qpdf agree, and it is made once', async () => {
	const id = await ask();
	const content = 'The lease of the workshop';
	await takeInPaper(context, firm.id, client.mara(), {
		itemId: id,
		slot: 'lease',
		name: 'lease.txt',
		content: Readable.from([Buffer.from(content)])
	});
	await handIn(id, { ...ANSWERS, ...SIGNED });
	const [{ id: signedId, ip }] = await rowsOf(id);
	await expect(firm.run((tx) => openSignedAnswers(tx, firm.odalys(), id))).rejects.toMatchObject({ code: 'not_found' });
	await Promise.all([seal(signedId), seal(signedId)]);
	await seal(signedId);
	const [row] = await rowsOf(id);
	const { storageKey, name } = await client.run((tx) => openSignedAnswers(tx, client.mara(), id));
	expect([storageKey, name]).toEqual([row.sealed_key, 'Before we begin (signed).pdf']);
	const bytes = await buffer(context.papers.read(storageKey));
	const file = join(mkdtempSync(join(tmpdir(), 'lantern-answers-')), 'signed.pdf');
	writeFileSync(file, bytes);
	const text = textOf(file);
	for (const words of ['Which legal form?', 'company', 'We fly kites above the harbour.', 'These answers are complete and true', 'Mara Whitlock', ip])
		expect(text).toContain(words);
	// which file it was is told by its hash
	expect(text.replaceAll(/\s+/g, '')).toContain(`lease.txt,SHA-256${createHash('sha256').update(content).digest('hex')}`);
	expect(text).toMatch(/agreed and signed the answers, signature typed/);
	expect(spawnSync('pdfsig', [file], { encoding: 'utf8' }).stdout).toMatch(
		/Signature is Valid[\s\S]*Total document signed|Total document signed[\s\S]*Signature is Valid/
	);
	expect(spawnSync('qpdf', ['--check', file], { encoding: 'utf8' }).stdout).toContain('No syntax or stream encoding errors');
	const { rows } = await context.owner.query('select leaf_pem from seal_certificate where firm_id = $1', [firm.id]);
	expect(await checkSeal(bytes, [rows[0].leaf_pem])).toMatchObject({ ok: true });
	expect(await client.run((tx) => readSignedLetters(tx, client.mara()))).toMatchObject([{ itemId: id, pages: null }]);
	expect(await client.run((tx) => clientsWithArea(tx, client.mara(), 'letters'))).toHaveLength(1);
});

test('what was signed stays as it was: corrected by the firm, and signed once more with other answers', async () => {
	const id = await ask();
	await handIn(id, { ...ANSWERS, ...SIGNED });
	const { version } = await firm.run((tx) => readItem(tx, firm.odalys(), id));
	await client.run((tx) => goOnWith(tx, client.mara(), id));
	context.clock.set('2026-05-04T14:00:00Z');
	await handIn(id, { ...ANSWERS, form: 'partnership', ...SIGNED });
	await firm.run((tx) => correctAnswer(tx, firm.odalys(), { itemId: id, version: version + 2, key: 'form', typed: 'co-operative' }));
	const rows = await rowsOf(id);
	expect(rows.map(({ answers }) => answers)).toMatchObject([{ form: 'company' }, { form: 'partnership' }]);
	for (const row of rows) await seal(row.id);
	const { storageKey } = await firm.run((tx) => openSignedAnswers(tx, firm.odalys(), id));
	expect(storageKey).toBe((await rowsOf(id))[1].sealed_key);
});

test('another client reads none of it, and whoever may not see one of the answers reads no sealed file', async () => {
	const id = await ask();
	await handIn(id, { ...ANSWERS, ...SIGNED });
	await seal((await rowsOf(id))[0].id);
	const other = await makeClient(context, firm, { name: 'Elsewhere' });
	await expect(other.run((tx) => openSignedAnswers(tx, other.mara(), id))).rejects.toMatchObject({ code: 'not_found' });
	expect(await other.run((tx) => tx.rows('select 1 from signed_answers'))).toEqual([]);
	await context.owner.query(`update signed_answers set questions = jsonb_set(questions, '{0,fact}', '"legal_form"') where item_id = $1`, [id]);
	await context.owner.query(`update fact_definition set seen_by = 'leaders' where firm_id = $1 and name = 'legal_form'`, [firm.id]);
	const imre = { ...firm.odalys(), role: 'bookkeeper' as const };
	await expect(firm.run((tx) => openSignedAnswers(tx, imre, id))).rejects.toMatchObject({ code: 'not_allowed' });
	expect((await client.run((tx) => readOwnItem(tx, client.mara(), id))).signed).toMatchObject({ sealed: true });
});
