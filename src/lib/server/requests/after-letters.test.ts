import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { usualSigners } from '$lib/core/signing/signers';
import { newLine, type DraftContent, type LineInHand } from '$lib/core/requests/request-list';
import { recurringSchema } from '$lib/core/schedules/recurring-form';
import { doWhatIsDue } from '../due/do-what-is-due';
import { readDraft, readDrafts, saveDraft } from '../drafts/drafts';
import { loadFirm } from '../firms/firm';
import { readWaitingFor } from '../letters/open-letters';
import { readRounds } from '../rounds/read-rounds';
import { moveRecurring, writeRecurring } from '../schedules/change-recurring';
import { readAppearing } from '../schedules/read-occurrences';
import { readRecurring } from '../schedules/recurring-requests';
import { countersignLetter } from '../signing/countersign-letter';
import { declineLetter, noteShownWhole, signLetter } from '../signing/sign-letter';
import {
	itemsOf,
	letterLine,
	letterOf,
	makeClient,
	makeFirm,
	openTestContext,
	paperLine,
	requestTo,
	SECRET_KEY,
	sendPlanned,
	type TestClient,
	type TestContext,
	type TestFirm
} from '../testing/test-firm';
import { holdForLetters } from './after-letters';
import { draftNewVersion } from './new-letter-version';
import { foreseeSending, sendDraft, sendDrafts } from './send-draft';
import { sendRequest } from './send-request';
import { undoSending } from './undo-sending';

let context: TestContext;
beforeAll(async () => (context = await openTestContext()));
afterAll(() => context.close());

const VALUES = { start_date: '1 June 2026', services: 'the monthly books', monthly_fee: '$280' };
interface Place {
	firm: TestFirm;
	client: TestClient;
}
async function begin(now = '2026-05-04T13:00:00Z', timeZone?: string): Promise<Place> {
	context.clock.set(now);
	const firm = await makeFirm(context, { timeZone });
	return { firm, client: await makeClient(context, firm) };
}
const AFTER_FIVE = { from: 'asked', offset: 5, unit: 'business_days', roll: 'none' } as const;
const papers = (...titles: string[]): LineInHand[] =>
	titles.map((title) =>
		newLine({
			key: randomUUID(),
			kind: 'paper',
			title,
			due: AFTER_FIVE,
			dueOn: '2026-05-11',
			dueBy: 'rule',
			spec: { slots: [], statementsOf: 'none' }
		})
	);
function letter(): LineInHand {
	const { document } = letterLine('Engagement letter', '2026-05-20', VALUES) as { document: LineInHand['document'] };
	return newLine({ key: randomUUID(), kind: 'letter', title: 'Engagement letter', due: AFTER_FIVE, dueOn: '2026-05-20', document });
}
async function draft({ firm, client }: Place, lines: LineInHand[], more: Partial<DraftContent> = {}): Promise<string> {
	const id = randomUUID();
	const content = { contactId: client.contactId, others: [], each: false, title: 'Getting started', message: '', quiet: false, tellNow: false };
	await firm.run((tx) =>
		saveDraft(tx, firm.odalys(), {
			id,
			version: null,
			clientId: client.id,
			list: null,
			content: { ...content, withInvitation: false, lettersFirst: false, values: VALUES, lines: lines as unknown as DraftContent['lines'], ...more }
		})
	);
	return id;
}
/** A letter that went alone. @returns its item, and itself */
async function sentLetter({ firm, client }: Place): Promise<{ itemId: string; letterId: string }> {
	const line = letterLine('Engagement letter', '2026-05-20', VALUES);
	const [item] = await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [line])));
	return { itemId: item.id, letterId: await letterIdOf(item.id) };
}
const letterIdOf = async (itemId: string) =>
	(await context.owner.query<{ id: string }>('select id from letter where item_id = $1', [itemId])).rows[0].id;
async function allSign({ firm, client }: Place, itemId: string): Promise<void> {
	await letterOf(context, firm, itemId);
	await client.run((tx) => noteShownWhole(tx, client.mara(), itemId));
	await client.run((tx) =>
		signLetter(tx, client.mara(), { itemId, signature: { method: 'typed', name: 'Mara Whitlock' }, consent: true }, SECRET_KEY)
	);
	await letterOf(context, firm, itemId);
	const { sha256 } = (await context.owner.query<{ sha256: string }>(`select encode(sha256, 'hex') sha256 from letter where item_id = $1`, [itemId]))
		.rows[0];
	const by = firm.odalys();
	await firm.run((tx) => countersignLetter(tx, by, { itemId, sha256, signature: { method: 'typed', name: by.name } }));
	await letterOf(context, firm, itemId);
}
const beat = async ({ firm }: Place, now: string) => {
	context.clock.set(now);
	const { appeared } = await doWhatIsDue(context, firm.id, now);
	await sendPlanned(context, firm);
	return appeared;
};
const asked = async ({ client }: Place) =>
	(
		await context.owner.query<{ title: string; due: string }>(
			`select i.title, i.due_on::text due from item i join request r on r.id = i.request_id where r.client_id = $1 and r.withdrawn_at is null order by r.sent_at, i.position`,
			[client.id]
		)
	).rows.map(({ title, due }) => `${title}, ${due}`);
const mailsTo = ({ client }: Place) =>
	context.mailer.sent.filter(({ to }) => to.address === client.email).map(({ subject, text }) => `${subject}\n${text}`);
const verbs = async ({ client }: Place) =>
	(
		await context.owner.query<{ verb: string; details: { when?: string } }>('select verb, details from event where client_id = $1 order by at, id', [
			client.id
		])
	).rows;

describe('letters first', () => {
	test('whoever signs by a link needs no invitation for it: theirs goes with the rest, within sending hours', async () => {
		const place = await begin();
		const { firm } = place;
		const fresh = await makeClient(context, firm, { name: 'Ninth Rock Oysters', access: false });
		const of = { firm, client: fresh };
		const [first, last] = usualSigners();
		const byLink = letter();
		(byLink.spec as { signing: object }).signing = { documents: [], signers: [{ ...first, by: 'link' }, last], places: [] };
		const id = await draft(of, [byLink, ...papers('Lease')], { lettersFirst: true, withInvitation: true });
		const [item] = await itemsOf(context, await sendDraft(context, firm.id, firm.odalys(), id));
		await sendPlanned(context, firm);
		expect(mailsTo(of)).toEqual([expect.stringMatching(/Read and sign/)]);
		expect(mailsTo(of)[0]).not.toContain('/join/');
		// all have signed in the evening
		context.clock.set('2026-05-05T00:30:00Z');
		await allSign(of, item.id);
		await beat(of, '2026-05-05T01:00:00Z');
		const told = () => mailsTo(of).filter((mail) => mail.includes('/join/'));
		expect(told()).toEqual([]);
		await beat(of, '2026-05-05T13:00:00Z');
		expect(told()).toEqual([expect.stringContaining('Lease')]);
	});

	test.each([
		['America/Halifax', '2026-10-26T13:00:00Z', '2026-10-30T13:00:00Z', '2026-11-06'],
		['Pacific/Auckland', '2026-09-21T22:00:00Z', '2026-09-24T22:00:00Z', '2026-10-02']
	])('the rest goes once all have signed, due from that day on, over a change of the clocks: %s', async (timeZone, now, later, due) => {
		const place = await begin(now, timeZone);
		const { firm, client } = place;
		const lines = [letter(), ...papers('Lease', 'Insurance')].map((line) => ({
			...line,
			dueOn: '2026-12-01',
			dueBy: line.document ? 'date' : 'rule'
		}));
		const id = await draft(place, lines as LineInHand[], { lettersFirst: true });
		const [item] = await itemsOf(context, await sendDraft(context, firm.id, firm.odalys(), id));
		await sendPlanned(context, firm);
		expect(await asked(place)).toEqual(['Engagement letter, 2026-12-01']);
		expect(mailsTo(place)).toEqual([expect.not.stringContaining('Lease')]);
		const [rest] = await firm.run((tx) => readDrafts(tx, firm.odalys(), { clientId: client.id }));
		expect([rest.title, rest.lines, rest.stands, rest.after.map(({ title }) => title)]).toEqual([
			'Getting started',
			2,
			'waits',
			['Engagement letter']
		]);
		expect((await firm.run((tx) => readWaitingFor(tx, firm.odalys(), item.id))).map(({ title }) => title)).toEqual(['Getting started']);

		// signed by the client, not yet by the firm
		await client.run((tx) => noteShownWhole(tx, client.mara(), item.id));
		expect(await beat(place, later)).toBe(0);
		await allSign(place, item.id);
		expect(
			(await Promise.all([1, 2].map(() => doWhatIsDue(context, firm.id, later)))).reduce((sum, { appeared }) => sum + appeared, 0)
		).toBeGreaterThan(0);
		await sendPlanned(context, firm);
		expect(await asked(place)).toEqual(['Engagement letter, 2026-12-01', `Lease, ${due}`, `Insurance, ${due}`]);
		const told = mailsTo(place).filter((mail) => mail.includes('Thank you: the letter is signed by all'));
		expect(told).toHaveLength(1);
		expect(told[0]).toContain('Lease');
		expect(await firm.run((tx) => readDrafts(tx, firm.odalys(), { clientId: client.id }))).toEqual([]);
		expect((await verbs(place)).filter(({ verb }) => verb.startsWith('draft_w')).map(({ verb, details }) => [verb, details.when])).toEqual([
			['draft_waits', 'once “Engagement letter” is signed by all'],
			['draft_went', 'once “Engagement letter” is signed by all']
		]);
	});

	test('taking the sending back leaves the one draft there was', async () => {
		const place = await begin();
		const { firm, client } = place;
		// told tomorrow: nothing has reached anybody yet
		await context.owner.query(`update contact set last_told_on = '2026-05-04' where id = $1`, [client.contactId]);
		const id = await draft(place, [letter(), ...papers('Lease')], { lettersFirst: true });
		await sendDraft(context, firm.id, firm.odalys(), id);
		expect(await undoSending(context.db, firm.id, firm.odalys(), [id])).toBe(1);
		const drafts = await firm.run((tx) => readDrafts(tx, firm.odalys(), { clientId: client.id }));
		expect(drafts.map((one) => [one.id, one.lines, one.after])).toEqual([[id, 2, []]]);
	});

	test('without a letter, or with letters alone, all of it goes', async () => {
		const place = await begin();
		const { firm, client } = place;
		await sendDraft(context, firm.id, firm.odalys(), await draft(place, papers('Lease'), { lettersFirst: true }));
		await sendDraft(context, firm.id, firm.odalys(), await draft(place, [letter()], { lettersFirst: true }));
		expect((await asked(place)).map((one) => one.split(',')[0]).sort()).toEqual(['Engagement letter', 'Lease']);
		expect(await firm.run((tx) => readDrafts(tx, firm.odalys(), { clientId: client.id }))).toEqual([]);
	});

	test('what is wrong with the rest is said before the letter goes', async () => {
		const place = await begin();
		const { firm } = place;
		const id = await draft(place, [letter(), ...papers('Lease for {nobody_knows}')], { lettersFirst: true });
		await expect(sendDraft(context, firm.id, firm.odalys(), id)).rejects.toMatchObject({ code: 'unfilled_fields' });
		expect(await asked(place)).toEqual([]);
	});
});

describe('a draft that waits', () => {
	test('does not go with others that are sent, comes to Rounds when its letter is declined, and waits for the new version', async () => {
		const place = await begin();
		const { firm, client } = place;
		const { itemId, letterId } = await sentLetter(place);
		const id = await draft(place, papers('Lease'));
		await firm.run((tx) => holdForLetters(tx, firm.odalys(), id, [letterId]));
		const foreseen = await firm.run((tx) => foreseeSending(tx, firm.odalys(), [id]));
		expect(foreseen.stays[0].problem).toContain('once its letter is signed by all');
		const inRounds = async () =>
			(await firm.run(async (tx) => readRounds(tx, firm.odalys(), await loadFirm(tx), { due: (date) => date }))).rows.filter(({ key }) =>
				key.startsWith('draft-')
			).length;
		expect(await inRounds()).toBe(0);

		await client.run((tx) => declineLetter(tx, client.mara(), { itemId, reason: 'Too dear.' }));
		await letterOf(context, firm, itemId);
		expect(await beat(place, '2026-05-05T13:00:00Z')).toBe(0);
		expect(await inRounds()).toBe(1);
		const stuck = await firm.run((tx) => readDraft(tx, firm.odalys(), id));
		expect([stuck.problem, stuck.stands]).toEqual([expect.stringContaining('“Engagement letter” was declined'), null]);

		const { draftId } = await firm.run((tx) => draftNewVersion(tx, firm.odalys(), itemId));
		const [item] = await itemsOf(context, await sendDraft(context, firm.id, firm.odalys(), draftId));
		expect(await inRounds()).toBe(0);
		expect(await beat(place, '2026-05-06T13:00:00Z')).toBe(0);
		await allSign(place, item.id);
		expect(await beat(place, '2026-05-07T13:00:00Z')).toBe(1);
		expect((await asked(place)).at(-1)).toBe('Lease, 2026-05-14');
	});

	test('for a client who is on hold stays; what cannot go says why in Rounds', async () => {
		const place = await begin();
		const { firm, client } = place;
		const { itemId, letterId } = await sentLetter(place);
		const id = await draft(place, papers('Lease'));
		await firm.run((tx) => holdForLetters(tx, firm.odalys(), id, [letterId]));
		await allSign(place, itemId);
		await context.owner.query(`update client set state = 'locked' where id = $1`, [client.id]);
		expect(await beat(place, '2026-05-05T13:00:00Z')).toBe(0);
		expect((await firm.run((tx) => readDraft(tx, firm.odalys(), id))).problem).toBeNull();
		await context.owner.query(`update client set state = 'active' where id = $1`, [client.id]);
		await firm.run(async (tx) => {
			const { content, version } = await readDraft(tx, firm.odalys(), id);
			await saveDraft(tx, firm.odalys(), { id, version, clientId: client.id, list: null, content: { ...content, title: '' } });
		});
		expect(await beat(place, '2026-05-06T13:00:00Z')).toBe(0);
		expect((await firm.run((tx) => readDraft(tx, firm.odalys(), id))).problem).toContain('a title');
		// by hand it goes, whatever it waited for
		const [result] = await sendDrafts(context, firm.id, firm.odalys(), [await draft(place, papers('Insurance'))]);
		expect(result.problem).toBeNull();
	});

	test('waits for a letter of this client that can still be signed, by somebody who may send', async () => {
		const place = await begin();
		const { firm } = place;
		const { itemId, letterId } = await sentLetter(place);
		const other = { firm, client: await makeClient(context, firm, { name: 'Another' }) };
		const foreign = (await sentLetter(other)).letterId;
		const id = await draft(place, papers('Lease'));
		const hold = (ids: string[], by = firm.odalys()) => firm.run((tx) => holdForLetters(tx, by, id, ids));
		await expect(hold([foreign])).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await expect(hold([randomUUID()])).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await expect(hold([letterId], firm.filing)).rejects.toMatchObject({ code: 'not_allowed' });
		await allSign(place, itemId);
		await expect(hold([letterId])).rejects.toMatchObject({ code: 'changed_meanwhile' });
		expect((await firm.run((tx) => readDraft(tx, firm.odalys(), id))).after).toEqual([]);
	});
});

test('a standing request begins once all have signed, the Almanac says so, and what was missed is made up for by its rule', async () => {
	const place = await begin();
	const { firm, client } = place;
	const { itemId, letterId } = await sentLetter(place);
	const form = recurringSchema.parse({
		contactId: client.contactId,
		title: 'Papers for {period}',
		lines: [{ ...paperLine('Bank statement', '2026-05-11'), due: AFTER_FIVE }],
		pattern: { every: 'month', interval: 1, on: { by: 'day', day: 1 } },
		startsOn: '2026-05-01',
		at: '09:00',
		roll: 'none',
		period: { kind: 'month', shift: -1 },
		catchUp: 'last'
	});
	const id = await firm.run((tx) => writeRecurring(tx, firm.odalys(), client.id, form, null));
	await firm.run((tx) => moveRecurring(tx, firm.odalys(), { id, to: 'paused', reason: '', afterLetters: [letterId] }));
	expect(await beat(place, '2026-06-01T13:00:00Z')).toBe(0);
	expect(await beat(place, '2026-07-01T13:00:00Z')).toBe(0);
	const appearing = await firm.run(async (tx) => readAppearing(tx, firm.odalys(), await loadFirm(tx), 40));
	expect(new Set(appearing.map(({ heldBack }) => heldBack))).toEqual(new Set(['paused until “Engagement letter” is signed by all']));
	expect((await firm.run((tx) => readWaitingFor(tx, firm.odalys(), itemId))).map(({ title }) => title)).toEqual(['Papers for each month']);

	await allSign(place, itemId);
	expect(await beat(place, '2026-07-02T13:00:00Z')).toBe(1);
	expect((await firm.run((tx) => readRecurring(tx, firm.odalys(), id))).state).toBe('running');
	expect((await asked(place)).map((one) => one.split(',')[0])).toEqual(['Engagement letter', 'Bank statement']);
	expect(await beat(place, '2026-08-01T13:00:00Z')).toBe(1);
});
