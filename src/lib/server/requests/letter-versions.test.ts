import { randomUUID } from 'node:crypto';
import { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import type { RequestLine } from '$lib/core/requests/request-list';
import type { Signer } from '$lib/core/signing/signers';
import { takeInAttachment } from '../attachments/attachments';
import { saveDraft, readDraft } from '../drafts/drafts';
import { seeItem } from '../items/client-item';
import { readItem, readLetterPages, readOwnItem } from '../items/read-items';
import { countersignLetter } from '../signing/countersign-letter';
import { declineLetter, noteShownWhole, openLetterPdf, signLetter } from '../signing/sign-letter';
import {
	itemsOf,
	letterLine,
	letterOf,
	makeClient,
	SECRET_KEY,
	makeFirm,
	openTestContext,
	requestTo,
	sendPlanned,
	type TestClient,
	type TestContext,
	type TestFirm
} from '../testing/test-firm';
import { testPdf } from '../testing/test-pdf';
import { draftNewVersion } from './new-letter-version';
import { replaceSigner } from './replace-signer';
import { sendDraft } from './send-draft';
import { sendRequest } from './send-request';

let context: TestContext;
let firm: TestFirm;
let client: TestClient;
let second: TestClient;
let third: TestClient;
beforeAll(async () => (context = await openTestContext()));
afterAll(() => context.close());
beforeEach(async () => {
	firm = await makeFirm(context);
	client = await makeClient(context, firm, { name: 'Gull & String Kites' });
	[second, third] = [await makeClient(context, firm), await makeClient(context, firm)];
	for (const [rank, one] of [second, third].entries())
		await context.owner.query('insert into client_contact (firm_id, client_id, contact_id, rank) values ($1, $2, $3, $4)', [
			firm.id,
			client.id,
			one.contactId,
			rank + 2
		]);
	await context.owner.query(`update contact set name = 'Tobias Quay' where id = $1`, [second.contactId]);
	await context.owner.query(`update contact set name = 'Ines Brandt' where id = $1`, [third.contactId]);
});

const VALUES = { start_date: '1 June 2026', services: 'the monthly books', monthly_fee: '$280' };
const BOTH: Signer[] = [
	{ key: 'a', who: { as: 'first' }, does: 'signs', rank: 1 },
	{ key: 'b', who: { as: 'second' }, does: 'signs', rank: 2 },
	{ key: 'f', who: { as: 'firm', staffId: null }, does: 'signs', rank: 3 }
];
async function sent(line: RequestLine): Promise<string> {
	const requestId = await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [line]));
	const [item] = await itemsOf(context, requestId);
	await letterOf(context, firm, item.id);
	await sendPlanned(context, firm);
	return item.id;
}
const written = (signers?: Signer[]): RequestLine => {
	const line = letterLine('Engagement letter', '2026-05-20', VALUES) as Extract<RequestLine, { kind: 'letter' }>;
	return signers ? { ...line, spec: { signing: { documents: [], places: [], signers } } } : line;
};
const asActor = (one: TestClient, name: string) => ({ ...one.mara(), name });
async function signs(one: TestClient, name: string, itemId: string): Promise<void> {
	await one.run((tx) => noteShownWhole(tx, asActor(one, name), itemId));
	await one.run((tx) => signLetter(tx, asActor(one, name), { itemId, signature: { method: 'typed', name }, consent: true }, SECRET_KEY));
	await letterOf(context, firm, itemId);
	await sendPlanned(context, firm);
}
const signersOf = async (itemId: string) =>
	(
		await context.owner.query<{ key: string; name: string; state: string; item_id: string | null; letter_id: string }>(
			`select key, name, state, item_id, letter_id from letter_signer where letter_id = (select id from letter where item_id = $1) order by position`,
			[itemId]
		)
	).rows;
/** Sends a draft as its writer does, after a change of its line. */
async function sendChanged(draftId: string, change: (line: Record<string, unknown>) => void): Promise<string> {
	const draft = await firm.run((tx) => readDraft(tx, firm.odalys(), draftId));
	change(draft.content.lines[0]);
	await firm.run((tx) =>
		saveDraft(tx, firm.odalys(), { id: draftId, version: draft.version, clientId: client.id, list: null, content: draft.content })
	);
	const requestId = await sendDraft(context, firm.id, firm.odalys(), draftId);
	return (await itemsOf(context, requestId))[0].id;
}

describe('a new version', () => {
	test('of a declined letter begins as the letter was, says what changed to whoever signs, and settles the old one', async () => {
		const old = await sent(written());
		await client.run((tx) => declineLetter(tx, client.mara(), { itemId: old, reason: 'Too dear.' }));
		await letterOf(context, firm, old);
		const { draftId, clientId } = await firm.run((tx) => draftNewVersion(tx, firm.odalys(), old));
		expect(clientId).toBe(client.id);
		const next = await sendChanged(draftId, (line) => {
			line.document = JSON.parse(
				JSON.stringify(line.document).replace('The fee is $280 a month', 'The fee is $250 a month').replaceAll('$280', '$250')
			);
		});
		const pages = await client.run((tx) => readLetterPages(tx, next));
		const changed = pages!.changes!.passages.map((parts) => parts.filter(({ is }) => is !== 'same').map(({ is, text }) => `${is} ${text}`));
		expect(changed).toEqual([['removed 280', 'added 250']]);
		expect((await firm.run((tx) => readItem(tx, firm.odalys(), old))).state).toBe('waived');
		expect((await firm.run((tx) => readLetterPages(tx, old)))!.newer).toBe(next);
		// once only, and never of what can be signed
		await expect(firm.run((tx) => draftNewVersion(tx, firm.odalys(), old))).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await expect(firm.run((tx) => draftNewVersion(tx, firm.odalys(), next))).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await expect(firm.run((tx) => draftNewVersion(tx, firm.filing, next))).rejects.toMatchObject({ code: 'not_allowed' });
	});

	test('of files compares what stands on the pages; two drafts of one letter make one new version', async () => {
		const add = async (words: string[]) =>
			takeInAttachment(context, firm.id, firm.odalys(), {
				name: 'Terms.pdf',
				content: Readable.from([await testPdf([{ lines: words.map((text, n) => [text, 60, 700 - n * 20]) }])])
			});
		const before = await add(['The fee is $280', 'a month. We begin in June.']);
		const after = await add(['The fee is $280 a month.', 'We begin in July.']);
		const line = letterLine('Terms', '2026-05-20', {}) as Extract<RequestLine, { kind: 'letter' }>;
		const documents = (file: { id: string; name: string }) => [{ id: file.id, name: file.name, pages: [{ width: 612, height: 792 }] }];
		const old = await sent({ ...line, spec: { signing: { documents: documents(before), places: [], signers: [BOTH[0], { ...BOTH[2], rank: 2 }] } } });
		await client.run((tx) => declineLetter(tx, client.mara(), { itemId: old, reason: 'From July on.' }));
		const drafts = [await firm.run((tx) => draftNewVersion(tx, firm.odalys(), old)), await firm.run((tx) => draftNewVersion(tx, firm.odalys(), old))];
		const exchange = (draft: Record<string, unknown>) => {
			(draft.spec as { signing: { documents: unknown } }).signing.documents = documents(after);
		};
		const next = await sendChanged(drafts[0].draftId, exchange);
		const pages = await client.run((tx) => readLetterPages(tx, next));
		expect(pages!.changes!.passages.flatMap((parts) => parts.filter(({ is }) => is !== 'same')).map(({ text }) => text)).toEqual(['June', 'July']);
		await expect(sendChanged(drafts[1].draftId, exchange)).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});

	test('a line that was kept as a template is of no letter of another client', async () => {
		const old = await sent(written());
		await client.run((tx) => declineLetter(tx, client.mara(), { itemId: old, reason: 'No.' }));
		const { rows } = await context.owner.query<{ id: string }>('select id from letter where item_id = $1', [old]);
		const other = await makeClient(context, firm);
		const line = written() as Extract<RequestLine, { kind: 'letter' }>;
		const requestId = await sendRequest(
			context,
			firm.id,
			firm.odalys(),
			requestTo(other, [{ ...line, key: randomUUID(), spec: { replaces: rows[0].id } }])
		);
		const [item] = await itemsOf(context, requestId);
		expect((await other.run((tx) => readLetterPages(tx, item.id)))!.changes).toBeNull();
	});
});

describe('somebody else signs', () => {
	test('instead of who was asked: what is signed stays, who was asked is not any more, and the whole is sealed with it said', async () => {
		const itemId = await sent(written(BOTH));
		await signs(client, 'Mara Whitlock', itemId);
		const asked = (await signersOf(itemId))[1];
		expect(asked).toMatchObject({ name: 'Tobias Quay', state: 'asked' });
		await firm.run((tx) => replaceSigner(tx, firm.odalys(), { itemId, signer: 'b', contactId: third.contactId }));
		await letterOf(context, firm, itemId);
		await sendPlanned(context, firm);
		const [mara, ines] = await signersOf(itemId);
		expect([mara.state, ines.name, ines.state]).toEqual(['signed', 'Ines Brandt', 'asked']);
		expect(ines.item_id).toBe(asked.item_id);
		expect(context.mailer.sent.at(-1)!.to.address).toBe(third.email);
		// the one who was asked neither signs it any more nor reads it; whoever has signed it does
		await expect(signs(second, 'Tobias Quay', asked.item_id!)).rejects.toMatchObject({ code: 'not_allowed' });
		const tobias = asActor(second, 'Tobias Quay');
		for (const read of [readOwnItem, seeItem, openLetterPdf])
			await expect(second.run<unknown>((tx) => read(tx, tobias, asked.item_id!))).rejects.toMatchObject({ code: 'not_found' });
		expect((await client.run((tx) => readOwnItem(tx, client.mara(), asked.item_id!))).title).toBe('Engagement letter');
		await signs(third, 'Ines Brandt', ines.item_id!);
		const { rows } = await context.owner.query<{ sha256: string }>(`select encode(sha256, 'hex') sha256 from letter where item_id = $1`, [itemId]);
		const by = { ...firm.partner, now: context.clock.now() };
		await firm.run((tx) =>
			countersignLetter(tx, by, { itemId: ines.item_id!, sha256: rows[0].sha256, signature: { method: 'typed', name: by.name } })
		);
		await letterOf(context, firm, itemId);
		const { storageKey } = await firm.run((tx) => openLetterPdf(tx, firm.odalys(), itemId, true));
		expect((await buffer(context.papers.read(storageKey))).subarray(0, 5).toString()).toBe('%PDF-');
		const { rows: said } = await context.owner.query(
			`select verb, details ->> 'from' "from", details ->> 'to' "to" from event where verb = 'letter_signer_replaced' and client_id = $1`,
			[client.id]
		);
		expect(said).toEqual([{ verb: 'letter_signer_replaced', from: 'Tobias Quay', to: 'Ines Brandt' }]);
		const { rows: trail } = await context.owner.query(`select said from letter_trail where letter_id = $1 and said like '%letter_signer_replaced%'`, [
			ines.letter_id
		]);
		expect(trail).toHaveLength(1);
	});

	test('instead of the very first, before anybody has signed', async () => {
		const itemId = await sent(written());
		await firm.run((tx) => replaceSigner(tx, firm.odalys(), { itemId, signer: 'a', contactId: third.contactId }));
		await letterOf(context, firm, itemId);
		const [ines] = await signersOf(itemId);
		expect(ines).toMatchObject({ name: 'Ines Brandt', state: 'asked' });
		await signs(third, 'Ines Brandt', ines.item_id!);
		expect((await signersOf(itemId)).map(({ state }) => state)).toEqual(['signed', 'asked']);
	});

	test('nobody who signs already, is of another client, or is not asked just now; and nobody for who has signed', async () => {
		const itemId = await sent(written(BOTH));
		const put = (signer: string, contactId: string, actor = firm.odalys()) =>
			firm.run((tx) => replaceSigner(tx, actor, { itemId, signer, contactId }));
		await expect(put('b', client.contactId)).rejects.toMatchObject({ code: 'invalid' });
		const stranger = await makeClient(context, firm);
		await expect(put('b', stranger.contactId)).rejects.toMatchObject({ code: 'not_found' });
		await expect(put('f', third.contactId)).rejects.toMatchObject({ code: 'not_found' });
		await expect(put('b', third.contactId, firm.filing)).rejects.toMatchObject({ code: 'not_allowed' });
		await context.owner.query('update contact set suspended_at = now() where id = $1', [third.contactId]);
		await expect(put('b', third.contactId)).rejects.toMatchObject({ code: 'invalid' });
		await context.owner.query('update contact set suspended_at = null where id = $1', [third.contactId]);
		await signs(client, 'Mara Whitlock', itemId);
		await expect(put('a', third.contactId)).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});
});
