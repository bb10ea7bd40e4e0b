import { beforeEach, describe, expect, test } from 'vitest';
import { fillText, mergeFieldsInText } from '$lib/core/letters/merge-fields';
import { messageTextSchema, READY_MADE_MESSAGE_TEXTS, MESSAGE_TEXT_KIND } from '$lib/core/messages/message-texts';
import type { Actor } from '../actor';
import { chasePeople } from '../chasing/chase-people';
import { endGroup, readGroups, writeGroup } from '../people/groups';
import { acceptItem, reopenItem, waiveItem } from '../requests/judge-item';
import { sendRequest } from '../requests/send-request';
import { itemsOf, makeClient, makeFirm, paperLine, requestTo, sendPlanned } from '../testing/test-firm';
import { context, firm, useFirm } from '../testing/use-firm';
import {
	addMessageText,
	changeMessageText,
	copyMessageText,
	readShelves,
	readMessageText,
	readMessageTexts,
	removeText,
	useMessageText
} from './message-texts';

useFirm({ withClient: false });
let administrator: Actor;
beforeEach(async () => {
	administrator = { ...firm.partner, role: 'administrator' };
});

const typed = (more: Record<string, unknown> = {}) =>
	messageTextSchema.parse({ kind: 'invitation', name: 'Welcome', subject: 'Hello {contact_first_name}', body: 'Come in, {contact_name}.', ...more });
const add = (more: Record<string, unknown> = {}, actor: Actor = firm.odalys()) => firm.run((tx) => addMessageText(tx, actor, typed(more)));
const names = (actor: Actor = firm.odalys(), filter = {}) =>
	firm.run(async (tx) => (await readMessageTexts(tx, actor, filter)).map((text) => text.name));

describe('the form', () => {
	const wrong = (more: Record<string, unknown>) => {
		const result = messageTextSchema.safeParse({ kind: 'invitation', name: 'x', subject: 'x', body: 'x', ...more });
		return result.success ? [] : result.error.issues.map((issue) => issue.path.join('.'));
	};
	test.each<[Record<string, unknown>, string[]]>([
		[{}, []],
		[{ subject: ' ' }, ['subject']],
		[{ body: '' }, ['body']],
		[{ kind: 'request', subject: '' }, []],
		[{ kind: 'invitation_sms', body: 'x'.repeat(301) }, ['body']],
		[{ body: 'From {start_date}' }, ['body']],
		[{ kind: 'chase', body: 'For {client_name}' }, ['body']],
		[{ kind: 'sent_back', body: 'Dear {contact_name}' }, ['body']],
		[{ shared: 'group' }, ['groupId']],
		[{ tags: 'a,'.repeat(40) + 'b, c, d, e, f, g, h, i, j, k' }, ['tags']]
	])('%j: %j', (more, fields) => expect(wrong(more)).toEqual(fields));
	test('tags are tidied; a subject that a kind has not is dropped', () => {
		expect(typed({ tags: ' New, new ,Monthly,, ' }).tags).toEqual(['new', 'monthly']);
		expect(typed({ kind: 'sent_back', body: 'x' }).subject).toBe('');
	});
	test.each(READY_MADE_MESSAGE_TEXTS)('what ships can be kept: $key', (text) => {
		expect(messageTextSchema.parse({ ...text, tags: text.tags.join(',') })).toMatchObject({ name: text.name });
		expect(fillText(text.subject + text.body, Object.fromEntries(MESSAGE_TEXT_KIND[text.kind].fields.map((field) => [field, 'x'])))).not.toContain(
			'{'
		);
		expect(mergeFieldsInText(text.body).every((field) => (MESSAGE_TEXT_KIND[text.kind].fields as string[]).includes(field))).toBe(true);
	});
});

describe('keeping texts', () => {
	test('using a ready-made one copies it; the copy changes, the original does not', async () => {
		const id = await firm.run((tx) => copyMessageText(tx, firm.odalys(), { key: 'welcome' }));
		const text = await firm.run((tx) => readMessageText(tx, firm.odalys(), id));
		expect(text).toMatchObject({ name: 'Welcome to a new client', folder: 'Taking on', tags: ['welcome'], version: 1 });
		await firm.run((tx) => changeMessageText(tx, firm.odalys(), id, 1, typed({ name: 'Ours' })));
		expect(READY_MADE_MESSAGE_TEXTS[0].name).toBe('Welcome to a new client');
		const copy = await firm.run((tx) => copyMessageText(tx, firm.odalys(), { id }));
		expect((await firm.run((tx) => readMessageText(tx, firm.odalys(), copy))).name).toBe('Ours, copy');
		await expect(firm.run((tx) => copyMessageText(tx, firm.odalys(), { key: 'none' }))).rejects.toMatchObject({ code: 'not_found' });
	});
	test('two people change one: the later is told, and nothing is lost', async () => {
		const id = await add();
		await firm.run((tx) => changeMessageText(tx, firm.partner, id, 1, typed({ name: 'Theirs' })));
		await expect(firm.run((tx) => changeMessageText(tx, firm.odalys(), id, 1, typed({ name: 'Mine' })))).rejects.toMatchObject({
			code: 'changed_meanwhile'
		});
		expect(await names()).toEqual(['Theirs']);
	});
	test('by kind, tag, folder; what it is for stays', async () => {
		const id = await add({ folder: 'B', tags: 'new' });
		await add({ kind: 'request', name: 'Papers', folder: 'A', tags: 'monthly, new' });
		expect(await names()).toEqual(['Papers', 'Welcome']);
		expect(await names(firm.odalys(), { kind: 'request' })).toEqual(['Papers']);
		expect(await names(firm.odalys(), { tag: 'monthly' })).toEqual(['Papers']);
		expect(await firm.run((tx) => readShelves(tx, firm.odalys()))).toEqual({ folders: ['A', 'B'], tags: ['monthly', 'new'] });
		await expect(firm.run((tx) => changeMessageText(tx, firm.odalys(), id, 1, typed({ kind: 'chase', body: 'x' })))).rejects.toMatchObject({
			code: 'invalid'
		});
		await firm.run((tx) => removeText(tx, firm.odalys(), id));
		expect(await names()).toEqual(['Papers']);
	});
	test('filing may read, and keep nothing; another firm sees nothing', async () => {
		const id = await add();
		expect(await names(firm.filing)).toEqual(['Welcome']);
		await expect(add({}, firm.filing)).rejects.toMatchObject({ code: 'not_allowed' });
		const other = await makeFirm(context);
		await expect(other.run((tx) => readMessageText(tx, other.odalys(), id))).rejects.toMatchObject({ code: 'not_found' });
		await expect(other.run((tx) => removeText(tx, other.odalys(), id))).rejects.toMatchObject({ code: 'not_found' });
	});
});

describe('sharing', () => {
	test('with nobody, with a group, with all', async () => {
		const groupId = await firm.run((tx) => writeGroup(tx, administrator, null, { name: 'Taking on', members: [firm.filing.id!] }));
		await add({ name: 'mine', shared: 'person' });
		await add({ name: 'the group’s', shared: 'group', groupId });
		await add({ name: 'everybody’s' });
		expect(await names()).toEqual(['everybody’s', 'mine', 'the group’s']);
		expect(await names(firm.filing)).toEqual(['everybody’s', 'the group’s']);
		expect(await names(firm.partner)).toEqual(['everybody’s']);
		await firm.run((tx) => writeGroup(tx, administrator, groupId, { name: 'Taking on', members: [firm.partner.id!] }));
		expect(await names(firm.filing)).toEqual(['everybody’s']);
		expect(await names(firm.partner)).toEqual(['everybody’s', 'the group’s']);
		await firm.run((tx) => endGroup(tx, administrator, groupId));
		expect(await names(firm.partner)).toEqual(['everybody’s']);
		expect(await names()).toHaveLength(3);
	});
	test('groups: once by name, only by an administrator, never with people of another firm', async () => {
		const make = (actor: Actor, members: string[] = []) => firm.run((tx) => writeGroup(tx, actor, null, { name: 'Year end', members }));
		await expect(make(firm.odalys())).rejects.toMatchObject({ code: 'not_allowed' });
		const other = await makeFirm(context);
		const id = await make(administrator, [other.partner.id!, firm.partner.id!]);
		await expect(make(administrator)).rejects.toMatchObject({ code: 'invalid' });
		expect(await firm.run(readGroups)).toEqual([{ id, name: 'Year end', members: [{ id: firm.partner.id, name: 'Ferrin Ashgrove' }] }]);
		await expect(add({ shared: 'group', groupId: '00000000-0000-4000-8000-000000000000' })).rejects.toMatchObject({ code: 'invalid' });
		await expect(
			other.run((tx) => writeGroup(tx, { ...other.partner, role: 'administrator' }, id, { name: 'x', members: [] }))
		).rejects.toMatchObject({
			code: 'not_found'
		});
	});
});

describe('what goes out by itself', () => {
	const use = (id: string, on = true) => firm.run((tx) => useMessageText(tx, firm.odalys(), id, on));
	test('one of a kind, shared with all, and only kinds that do', async () => {
		await expect(use(await add())).rejects.toMatchObject({ code: 'invalid' });
		const own = await add({ kind: 'chase', name: 'own', body: 'x', shared: 'person' });
		await expect(use(own)).rejects.toMatchObject({ code: 'invalid' });
		const [first, second] = [await add({ kind: 'chase', name: 'first', body: 'x' }), await add({ kind: 'chase', name: 'second', body: 'x' })];
		await use(first);
		await use(second);
		await use(second);
		const inUse = async () => (await firm.run((tx) => readMessageTexts(tx, firm.odalys()))).filter((text) => text.inUse).map((text) => text.name);
		expect(await inUse()).toEqual(['second']);
		await expect(firm.run((tx) => removeText(tx, firm.odalys(), second))).rejects.toMatchObject({ code: 'invalid' });
		await expect(
			firm.run((tx) => changeMessageText(tx, firm.odalys(), second, 1, typed({ kind: 'chase', body: 'x', shared: 'person' })))
		).rejects.toMatchObject({ code: 'invalid' });
		await use(second, false);
		expect(await inUse()).toEqual([]);
	});
	test('reminders carry the firm’s own words, before and after the due date', async () => {
		await use(await add({ kind: 'chase_soon', name: 'soon', subject: 'Soon, {contact_first_name}', body: 'Due soon at {firm_name}.' }));
		await use(await add({ kind: 'chase', name: 'late', subject: 'Still open', body: 'Dear {contact_name}, please.' }));
		const client = await makeClient(context, firm);
		await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Bank statement', '2026-05-12')]));
		await sendPlanned(context, firm);
		for (const at of ['2026-05-08T12:00:00Z', '2026-05-13T12:00:00Z']) {
			context.clock.set(at);
			await chasePeople(context.db, firm.id, at);
			await sendPlanned(context, firm);
		}
		const [soon, late] = context.mailer.sent.slice(1);
		expect(soon.subject).toBe('Soon, Mara');
		expect(soon.text).toContain('Due soon at Pennywhistle Row Bookkeeping.');
		expect(soon.text).toContain('Bank statement');
		expect([late.subject, late.text]).toEqual(['Still open', expect.stringContaining('Dear Mara Whitlock, please.')]);
	});
	test('thanks go once, when the last needed thing is settled, and not for what was only waived', async () => {
		await use(await add({ kind: 'thanks', name: 'thanks', subject: 'Thank you', body: 'All is here for {client_name}.' }));
		const client = await makeClient(context, firm);
		const send = () =>
			sendRequest(
				context,
				firm.id,
				firm.odalys(),
				requestTo(client, [paperLine('A', '2026-05-12'), paperLine('B', '2026-05-12'), { ...paperLine('C', '2026-05-12'), required: false }])
			);
		const request = await send();
		const [a, b] = await itemsOf(context, request);
		await context.owner.query(`update item set state = 'handed_in' where id = any ($1)`, [[a.id, b.id]]);
		const thanks = async () => (await context.owner.query(`select 1 from message where kind = 'thanks' and firm_id = $1`, [firm.id])).rowCount;
		await firm.run((tx) => acceptItem(tx, firm.odalys(), { itemId: a.id, version: a.version }));
		expect(await thanks()).toBe(0);
		await firm.run((tx) => acceptItem(tx, firm.odalys(), { itemId: b.id, version: b.version }));
		expect(await thanks()).toBe(1);
		const version = async () => (await itemsOf(context, request))[1].version;
		await firm.run(async (tx) => reopenItem(tx, firm.odalys(), { itemId: b.id, version: await version() }));
		await firm.run(async (tx) => waiveItem(tx, firm.odalys(), { itemId: b.id, version: await version() }));
		expect(await thanks()).toBe(1);
		await sendPlanned(context, firm);
		expect(context.mailer.sent.find((mail) => mail.subject === 'Thank you')).toMatchObject({
			subject: 'Thank you',
			text: expect.stringContaining('All is here for Gull & String Kites.')
		});
		for (const item of await itemsOf(context, await send()))
			await firm.run((tx) => waiveItem(tx, firm.odalys(), { itemId: item.id, version: item.version }));
		expect(await thanks()).toBe(1);
		// another request that is finished on the same day is no second message; on another day it is thanked for
		const finish = async () => {
			const items = await itemsOf(context, await send());
			await context.owner.query(`update item set state = 'handed_in' where id = any ($1)`, [items.map(({ id }) => id)]);
			for (const item of items) await firm.run((tx) => acceptItem(tx, firm.odalys(), { itemId: item.id, version: item.version }));
		};
		await finish();
		expect(await thanks()).toBe(1);
		context.clock.set('2026-05-05T13:30:00Z');
		await finish();
		expect(await thanks()).toBe(2);
	});
});
