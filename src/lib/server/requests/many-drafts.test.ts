import { randomUUID } from 'node:crypto';
import { describe, expect, test } from 'vitest';
import { draftsActSchema, type DraftAct } from '$lib/core/requests/many-acts';
import type { DraftContent } from '$lib/core/requests/request-list';
import { afterBusinessDays } from '$lib/core/schedules/due-rule';
import { addContact } from '../clients/contacts';
import { letterLine, makeClient, makeFirm, paperLine, requestTo, sendPlanned, type TestClient } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { dropSentDraft, forgetRemovedDrafts, readDraft, readDrafts, readDraftVersions, removeDrafts, saveDraft } from '../drafts/drafts';
import { changeDrafts, foreseeDraftsChange, foreseeRemoval, undoDrafts, type DraftsChange } from './many-drafts';
import { foreseeSending, sendDraft, sendDrafts } from './send-draft';
import { sendRequest } from './send-request';
import { undoSending } from './undo-sending';
import { seeItem } from '../items/client-item';
import { announceRequests } from '../announcements/announce-requests';

useFirm();

const content = (of: TestClient, title: string, more: object = {}) =>
	({
		contactId: of.contactId,
		others: [],
		each: false,
		title,
		message: '',
		quiet: false,
		tellNow: false,
		withInvitation: true,
		lettersFirst: false,
		values: {},
		lines: [{ ...paperLine('Lease', '2026-05-06'), why: '', out: false, due: afterBusinessDays(5) }],
		...more
	}) as DraftContent;
async function draft(of = client, title = 'One thing', more: object = {}): Promise<{ id: string; version: number }> {
	const id = randomUUID();
	const version = await firm.run((tx) =>
		saveDraft(tx, firm.odalys(), { id, version: null, clientId: of.id, list: null, content: content(of, title, more) })
	);
	return { id, version };
}
const read = (id: string) => firm.run((tx) => readDraft(tx, firm.odalys(), id));
const change = (act: DraftAct, items: { id: string; version: number }[], more: object = {}) =>
	draftsActSchema.parse({ act, items, ...more }) as DraftsChange;

describe('a draft', () => {
	test('is kept as typed, by one after the other; sent once; a day that has passed is placed anew', async () => {
		const { id } = await draft();
		const save = (version: number | null, title: string, who = firm.odalys()) =>
			firm.run((tx) => saveDraft(tx, who, { id, version, clientId: client.id, list: null, content: content(client, title) }));
		// an answer that was lost on the way: the same words come again
		expect(await save(null, 'One thing')).toBe(2);
		expect(await save(2, 'One thing more')).toBe(3);
		await expect(save(1, 'Too late', firm.partner)).rejects.toMatchObject({ code: 'changed_meanwhile' });
		context.clock.set('2026-05-11T13:30:00Z');
		const request = await sendDraft(context, firm.id, firm.odalys(), id);
		expect((await context.owner.query('select due_on::text from item where request_id = $1', [request])).rows).toEqual([{ due_on: '2026-05-18' }]);
		// due by a rule it moves along with the day of sending, though its day has not passed; fixed by hand it stays
		const line = content(client, '').lines[0];
		const lines = [
			{ ...line, key: 'rule', dueOn: '2026-05-20', dueBy: 'rule' },
			{ ...line, key: 'date', dueOn: '2026-05-20', dueBy: 'date' }
		];
		const waiting = await draft(client, 'Waits', { lines });
		context.clock.set('2026-05-14T13:30:00Z');
		const later = await sendDraft(context, firm.id, firm.odalys(), waiting.id);
		expect((await context.owner.query('select due_on::text from item where request_id = $1 order by position', [later])).rows).toEqual([
			{ due_on: '2026-05-21' },
			{ due_on: '2026-05-20' }
		]);
		await expect(sendDraft(context, firm.id, firm.odalys(), id)).rejects.toMatchObject({ code: 'not_found' });
		await expect(firm.run((tx) => removeDrafts(tx, firm.odalys(), [id]))).rejects.toMatchObject({ code: 'not_found' });
		await expect(read(id)).rejects.toMatchObject({ code: 'not_found' });
	});
	test('kept and sent at the same moment, it is not left behind', async () => {
		for (let i = 0; i < 6; i++) {
			const id = randomUUID();
			const request = requestTo(client, [paperLine('Lease', '2026-05-20')], { idempotencyKey: id });
			const keep = (version: number | null) =>
				firm.run((tx) => saveDraft(tx, firm.odalys(), { id, version, clientId: client.id, list: null, content: content(client, 'Typed on') }));
			if (i % 2) await keep(null);
			const [sent, kept] = await Promise.allSettled([
				sendRequest(context, firm.id, firm.odalys(), request, { done: (tx) => dropSentDraft(tx, firm.odalys(), id) }),
				keep(i % 2 ? 1 : null)
			]);
			expect(sent.status).toBe('fulfilled');
			if (kept.status === 'rejected') expect(kept.reason).toMatchObject({ code: 'not_found' });
			await expect(keep(null)).rejects.toMatchObject({ code: 'not_found' });
		}
		expect(await firm.run((tx) => readDrafts(tx, firm.odalys()))).toEqual([]);
	});
	test('that was thrown away is nowhere, can be fetched back as it was, and is forgotten in time', async () => {
		const made = await draft();
		const before = await read(made.id);
		const gone = await firm.run((tx) => removeDrafts(tx, firm.odalys(), [made.id]));
		expect(await firm.run((tx) => readDrafts(tx, firm.odalys()))).toEqual([]);
		await expect(sendDraft(context, firm.id, firm.odalys(), made.id)).rejects.toMatchObject({ code: 'not_found' });
		await expect(
			firm.run((tx) =>
				saveDraft(tx, firm.odalys(), { id: made.id, version: null, clientId: client.id, list: null, content: content(client, 'Late') })
			)
		).rejects.toMatchObject({ code: 'not_found' });
		expect(await firm.run((tx) => undoDrafts(tx, firm.odalys(), gone))).toBe(1);
		expect(await firm.run((tx) => undoDrafts(tx, firm.odalys(), gone))).toBe(0);
		expect(await read(made.id)).toEqual({ ...before, version: 3 });
		await firm.run((tx) => removeDrafts(tx, firm.odalys(), [made.id]));
		const kept = async (days: number) => {
			await firm.run((tx) =>
				forgetRemovedDrafts(tx, `2026-0${days < 28 ? 5 : 6}-${String(days < 28 ? 4 + days : days - 27).padStart(2, '0')}T14:00:00Z`)
			);
			return (await context.owner.query('select count(*)::int n from request_draft where firm_id = $1', [firm.id])).rows[0].n;
		};
		expect([await kept(20), await kept(40)]).toEqual([1, 0]);
	});
});

describe('many drafts at once', () => {
	test('get a due date, a plan or another person together; each is taken back as it was, if nobody touched it since', async () => {
		const oysters = await makeClient(context, firm, { name: 'Ninth Rock Oysters' });
		const second = await firm.run((tx) =>
			addContact(tx, firm.odalys(), {
				clientId: client.id,
				knownId: null,
				name: 'Jonas Reed',
				email: 'jonas@client.example',
				phone: null,
				role: 'owner',
				channels: 'email'
			})
		);
		const all = [await draft(client, 'Kites'), await draft(oysters, 'Oysters')];
		const before = await Promise.all(all.map((one) => read(one.id)));
		const seen = await foreseeDraftsChange(context.db, firm.id, firm.odalys(), change('extend', all, { dueOn: '2026-06-01' }));
		expect((await Promise.all(all.map((one) => read(one.id)))).map((one) => one.content)).toEqual(before.map((one) => one.content));
		expect(seen.words).toEqual(['2 lines of 2 drafts are due on Mon 1 Jun.', 'Nothing is sent by this. It can be taken back.']);
		const dated = await firm.run((tx) => changeDrafts(tx, firm.odalys(), change('extend', all, { dueOn: '2026-06-01' })));
		expect((await read(all[0].id)).content.lines[0]).toMatchObject({ dueOn: '2026-06-01' });
		expect(
			await firm.run((tx) =>
				undoDrafts(
					tx,
					firm.odalys(),
					dated.flatMap((one) => one.undo ?? [])
				)
			)
		).toBe(2);
		expect((await Promise.all(all.map((one) => read(one.id)))).map((one) => one.content)).toEqual(before.map((one) => one.content));

		const now = await firm.run((tx) => readDrafts(tx, firm.odalys()));
		const named = await firm.run((tx) => changeDrafts(tx, firm.odalys(), change('person', now, { rank: 2 })));
		expect(named.map((one) => [one.clientName, one.problem]).sort()).toEqual([
			['Gull & String Kites', null],
			['Ninth Rock Oysters', 'This client has no such person.']
		]);
		expect((await read(all[0].id)).content.contactId).toBe(second);
		await firm.run((tx) =>
			saveDraft(tx, firm.odalys(), { id: all[0].id, version: null, clientId: client.id, list: null, content: content(client, 'Written on') })
		);
		expect(
			await firm.run((tx) =>
				undoDrafts(
					tx,
					firm.odalys(),
					named.flatMap((one) => one.undo ?? [])
				)
			)
		).toBe(0);
		expect((await read(all[0].id)).title).toBe('Written on');

		const stale = await firm.run((tx) => changeDrafts(tx, firm.odalys(), change('plan', [{ ...all[1], version: 1 }], { plan: 'none' })));
		expect(stale[0].problem).toContain('changed it meanwhile');
		await expect(firm.run((tx) => changeDrafts(tx, firm.odalys(), change('extend', all, { dueOn: '2026-05-03' })))).rejects.toMatchObject({
			code: 'invalid'
		});
		await expect(
			firm.run((tx) => changeDrafts(tx, { ...firm.odalys(), role: 'filing' }, change('plan', all, { plan: 'none' })))
		).rejects.toMatchObject({
			code: 'not_allowed'
		});
		const other = await makeFirm(context);
		expect((await other.run((tx) => changeDrafts(tx, other.odalys(), change('plan', all, { plan: 'none' })))).map((one) => one.problem)).toEqual([
			'It is not there any more.',
			'It is not there any more.'
		]);
	});
	test('are sent after it was said to whom; what stands in the way is said before, and stays', async () => {
		const oysters = await makeClient(context, firm, { name: 'Ninth Rock Oysters', access: false });
		const all = [await draft(client, 'Kites'), await draft(client, 'Quietly', { quiet: true }), await draft(oysters, 'Oysters')];
		const bad = [
			await draft(client, 'Nobody', { contactId: null }),
			await draft(client, 'Empty', { lines: [] }),
			await draft(client, 'Papers of {period}'),
			await draft(client, 'A letter', { lines: [{ ...letterLine('Letter', '2026-05-06', {}), why: '', out: false, due: afterBusinessDays(5) }] })
		];
		const ids = [...all, ...bad].map((one) => one.id);
		const seen = await firm.run((tx) => foreseeSending(tx, firm.odalys(), ids));
		expect(seen.words).toEqual([
			'3 requests with 3 lines go to Mara Whitlock.',
			'Each person gets one message about everything that is asked of them today.',
			'One of them invites somebody who has no access yet.',
			'One is put up quietly: nobody is told.',
			'What nobody is told of yet can be taken back; the rest can be withdrawn, and not be unsent.'
		]);
		expect(seen.stays.map((one) => [one.title, one.problem])).toEqual([
			['Nobody', expect.stringContaining('Nobody is chosen')],
			['Empty', expect.stringContaining('at least one line')],
			['Papers of {period}', expect.stringContaining('nothing to put in for')],
			['A letter', expect.stringContaining('Start date')]
		]);
		const results = await sendDrafts(context, firm.id, firm.odalys(), ids);
		expect(results.map((one) => one.problem === null)).toEqual([true, true, true, false, false, false, false]);
		// only of what was put up quietly nothing has left
		expect(results.map((one) => one.undo?.id ?? null)).toEqual([null, all[1].id, null, null, null, null, null]);
		expect((await firm.run((tx) => readDrafts(tx, firm.odalys()))).map((one) => one.title).sort()).toEqual(
			bad.map((_, i) => ['A letter', 'Empty', 'Nobody', 'Papers of {period}'][i])
		);
		await sendPlanned(context, firm);
		expect(context.mailer.sent.map((mail) => mail.to.address).sort()).toEqual([client.email, oysters.email].sort());
	});
	test('are taken back after sending where nothing has left, and can be sent again; never where somebody was told, or has opened it', async () => {
		await draft(client, 'First').then((one) => sendDrafts(context, firm.id, firm.odalys(), [one.id]));
		await sendPlanned(context, firm);
		// told of something today: these are told tomorrow
		const later = [await draft(client, 'Second'), await draft(client, 'Third'), await draft(client, 'Fourth')];
		const ids = later.map((one) => one.id);
		const results = await sendDrafts(context, firm.id, firm.odalys(), ids);
		expect(results.map((one) => one.undo?.id)).toEqual(ids);
		const third = await context.owner.query(`select i.id from item i join request r on r.id = i.request_id where r.title = 'Third'`);
		await client.run((tx) => seeItem(tx, client.mara(), third.rows[0].id));
		// a sent draft is no draft that was thrown away
		expect(
			await firm.run(async (tx) =>
				undoDrafts(
					tx,
					firm.odalys(),
					results.map((one) => ({ id: one.id, version: 2 }))
				)
			)
		).toBe(0);
		await expect(undoSending(context.db, firm.id, { ...firm.odalys(), role: 'filing' }, ids)).rejects.toMatchObject({ code: 'not_allowed' });
		expect(await undoSending(context.db, firm.id, firm.odalys(), [ids[0], ids[1]])).toBe(1);
		expect(await undoSending(context.db, firm.id, firm.odalys(), [ids[0]])).toBe(0);
		expect((await read(ids[0])).title).toBe('Second');
		const states = await context.owner.query(
			`select r.title, r.withdrawn_at is not null withdrawn, i.state from request r join item i on i.request_id = r.id where r.client_id = $1 order by 1`,
			[client.id]
		);
		expect(states.rows).toEqual([
			{ title: 'First', withdrawn: false, state: 'asked' },
			{ title: 'Fourth', withdrawn: false, state: 'asked' },
			{ title: 'Second', withdrawn: true, state: 'waived' },
			{ title: 'Third', withdrawn: false, state: 'seen' }
		]);
		context.clock.set('2026-05-05T13:30:00Z');
		await announceRequests(context.db, firm.id, context.clock.now());
		await sendPlanned(context, firm);
		expect(context.mailer.sent.at(-1)!.text).not.toContain('Second');
		expect(await undoSending(context.db, firm.id, firm.odalys(), [ids[2]])).toBe(0);
		// sent again it is a request of its own
		expect((await sendDrafts(context, firm.id, firm.odalys(), [ids[0]])).map((one) => one.problem)).toEqual([null]);
	});
	test('are found by a word and by who looks after them', async () => {
		const oysters = await makeClient(context, firm, { name: 'Ninth Rock Oysters' });
		await draft(client, 'April');
		await draft(oysters, 'May');
		const found = async (of: object, who = firm.odalys()) => (await firm.run((tx) => readDrafts(tx, who, of))).map((one) => one.title);
		expect(await found({ words: 'rock' })).toEqual(['May']);
		expect(await found({ words: 'apr' })).toEqual(['April']);
		expect(await found({ words: '%' })).toEqual([]);
		expect(await found({ mine: true }, firm.partner)).toEqual([]);
		const drafts = await firm.run((tx) => readDrafts(tx, firm.odalys()));
		const versions = await firm.run((tx) =>
			readDraftVersions(
				tx,
				firm.odalys(),
				drafts.map((one) => one.id)
			)
		);
		expect(foreseeRemoval(firm.odalys(), versions)).toMatchObject({
			words: ['2 drafts with 2 lines are thrown away.', 'It can be taken back.']
		});
	});
});
