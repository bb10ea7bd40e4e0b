import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { clearedWith, countsInWords } from '$lib/core/practice/clearing';
import type { Actor } from '$lib/server/actor';
import type { AppContext } from '$lib/server/context/app-context';
import { hashPassword } from '$lib/server/platform/passwords';
import { resumeSession } from '$lib/server/people/sessions';
import { signIn } from '$lib/server/people/sign-in';
import {
	beginPractice,
	clearPractice,
	countPractice,
	enterPractice,
	findPractice,
	readClearings,
	refillPractice
} from '$lib/server/practice/practice';
import {
	makeClient,
	makeFirm,
	openTestContext,
	paperLine,
	requestTo,
	SECRET_KEY,
	type TestFirm,
	type TestContext
} from '$lib/server/testing/test-firm';
import { sendMessage } from '$lib/server/messages/send-message';
import { sendRequest } from '$lib/server/requests/send-request';
import { fillPractice } from './fill-practice';

describe('what goes with what', () => {
	test('clients take everything along', () => {
		expect(clearedWith(['clients'])).toEqual(['requests', 'messages', 'clients']);
		expect(clearedWith(['messages'])).toEqual(['messages']);
		expect(clearedWith([])).toEqual([]);
	});
	test('numbers in words', () => {
		expect(countsInWords({ clients: 3, people: 1, requests: 12 })).toBe('12 requests, 3 clients and 1 person');
		expect(countsInWords({ papers: 1 })).toBe('1 paper');
		expect(countsInWords({ papers: 0 })).toBe('nothing');
	});
});

describe('a practice workspace', () => {
	let context: TestContext;
	let firm: TestFirm;
	let practiceId: string;
	let me: Actor;
	beforeAll(async () => {
		context = await openTestContext('2026-11-23T14:00:00Z');
		firm = await makeFirm(context);
	});
	afterAll(() => context.close());
	const state = async () => (await findPractice(context.db, firm.id))?.state;
	const counts = () => context.db.inFirm(practiceId, countPractice);
	const fill = () => fillPractice(context as unknown as AppContext, context.place, practiceId, me.id!);
	const clear = (kinds: ('requests' | 'messages' | 'clients')[]) =>
		clearPractice(context, practiceId, { ...me, now: context.clock.now() }, { kinds, sure: 'yes' });
	const inFirmOfReal = async () =>
		(
			await context.owner.query(
				`select (select count(*)::int from client where firm_id = $1) clients, (select count(*)::int from item where firm_id = $1) items,
				(select count(*)::int from event where firm_id = $1) events, (select count(*)::int from message where firm_id = $1) messages`,
				[firm.id]
			)
		).rows[0];

	test('is set up once, with everybody of the firm, and only who may', async () => {
		await expect(beginPractice(context.db, firm.id, { ...firm.filing }, SECRET_KEY)).rejects.toMatchObject({ code: 'not_allowed' });
		practiceId = await beginPractice(context.db, firm.id, firm.odalys(), SECRET_KEY);
		expect(await beginPractice(context.db, firm.id, firm.odalys(), SECRET_KEY)).toBe(practiceId);
		const jobs = await context.owner.query(
			`select count(*)::int n from graphile_worker._private_jobs j join graphile_worker._private_tasks t on t.id = j.task_id where t.identifier = 'fill_practice'`
		);
		expect(jobs.rows[0].n).toBe(1);
		const { rows } = await context.owner.query('select id, name, role, password_hash from staff where firm_id = $1 order by name', [practiceId]);
		expect(rows.map((r) => [r.name, r.role, r.password_hash])).toEqual([
			['Bram Okoro', 'filing', null],
			['Ferrin Ashgrove', 'partner', null],
			['Odalys Fenwick', 'coordinator', null]
		]);
		me = { ...firm.odalys(), id: rows[2].id };
		expect(await state()).toBe('filling');
	});

	test('nobody signs in to it; who is signed in really enters, and no session of another firm does', async () => {
		const email = `${firm.coordinator.id}@staff.example`;
		await context.owner.query('update staff set password_hash = $2 where id = $1', [
			firm.coordinator.id,
			await hashPassword('lamplight ledger harbour')
		]);
		expect(await signIn(context, { ...firm.odalys(), kind: 'nobody' }, 'staff', { email, password: '' }, null)).toBeNull();
		const { token } = await enterPractice(context.db, firm.id, firm.odalys());
		expect(await resumeSession(context.db, token, 'staff', context.clock.now())).toMatchObject({
			firmId: practiceId,
			practiceOf: firm.coordinator.id
		});
		const other = await makeFirm(context);
		await expect(enterPractice(context.db, other.id, other.odalys())).rejects.toMatchObject({ code: 'not_found' });
	});

	test('is filled with clients at every stage, up to today, and nothing leaves the building', { timeout: 300_000 }, async () => {
		const before = await inFirmOfReal();
		context.mailer.sent.length = context.texts.sent.length = 0;
		// the queue meanwhile takes up every message as soon as it is planned
		const done = new AbortController();
		const queue = (async () => {
			while (!done.signal.aborted)
				for (const { id } of await context.db.inFirm(practiceId, (tx) => tx.rows<{ id: string }>(`select id from message where state = 'planned'`)))
					await sendMessage(context.place, practiceId, id);
		})();
		await fill().finally(() => done.abort());
		await queue;
		expect(await state()).toBe('ready');
		const gone = await context.owner.query(
			`select count(*)::int n, count(*) filter (where sent_at > planned_at + interval '4 days')::int late from message where firm_id = $1 and state = 'sent'`,
			[practiceId]
		);
		expect(gone.rows[0]).toEqual({ n: expect.any(Number), late: 0 });
		const filled = await counts();
		expect(filled.clients).toBe(11);
		expect(filled.requests).toBeGreaterThan(8);
		expect(filled.messages).toBeGreaterThan(20);
		expect([context.mailer.sent.length, context.texts.sent.length]).toEqual([0, 0]);
		const { rows } = await context.owner.query(
			`select channel, state, bool_and(delivered_at is not null) arrived, bool_or(body_text like '%/join/…%') blotted from message where firm_id = $1 and state = 'sent' group by 1, 2`,
			[practiceId]
		);
		expect(rows.map((r) => [r.channel, r.state, r.arrived, r.blotted]).sort()).toEqual([
			['email', 'sent', true, false],
			['text', 'sent', true, false]
		]);
		const span = await context.owner.query(`select min(at) first, max(at) last from event where firm_id = $1 and verb = 'request_sent'`, [
			practiceId
		]);
		expect(span.rows[0].last < context.clock.now()).toBe(true);
		expect(span.rows[0].last > '2026-11-10').toBe(true);
		expect(await inFirmOfReal()).toEqual(before);
		await fill();
		expect(await counts()).toEqual(filled);
	});

	test('a real firm is never cleared, whoever asks and however', async () => {
		const client = await makeClient(context, firm);
		await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('A', '2026-12-06')]));
		const before = await inFirmOfReal();
		await expect(clearPractice(context, firm.id, firm.odalys(), { kinds: ['clients'], sure: 'yes' })).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(firm.run((tx) => tx.rows(`select clear_practice('{requests,messages,clients}')`))).rejects.toThrow('only a practice workspace');
		await expect(firm.run((tx) => refillPractice(tx, firm.odalys()))).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(
			firm.run(async (tx) => {
				await tx.rows(`select set_config('app.clearing', $1, true)`, [firm.id]);
				await tx.rows('delete from event');
			})
		).rejects.toThrow();
		await context.owner.query('begin');
		await context.owner.query(`select set_config('app.clearing', $1, true)`, [firm.id]);
		await expect(context.owner.query('delete from event where firm_id = $1', [firm.id])).rejects.toThrow('events are only ever added');
		await context.owner.query('rollback');
		expect(await inFirmOfReal()).toEqual(before);
		await expect(clearPractice(context, practiceId, { ...me, role: 'filing' }, { kinds: ['clients'], sure: 'yes' })).rejects.toMatchObject({
			code: 'not_allowed'
		});
	});

	test('chosen kinds go together, their papers too, and what went is kept', async () => {
		const before = await counts();
		const { rows } = await context.owner.query('select storage_key from paper where firm_id = $1', [practiceId]);
		const file = () => context.papers.read(rows[0].storage_key).toArray();
		await expect(file()).resolves.not.toHaveLength(0);
		const went = await clear(['requests']);
		expect(went).toEqual({ requests: before.requests, papers: before.papers, letters: before.letters });
		await expect(file()).rejects.toThrow();
		expect(await counts()).toEqual({ ...before, requests: 0, papers: 0, letters: 0 });
		const positions = await context.owner.query(
			'select count(*)::int n from client_summary where firm_id = $1 and (to_look_at > 0 or next_chase_on is not null)',
			[practiceId]
		);
		expect(positions.rows[0].n).toBe(0);
		context.clock.set('2026-11-23T14:05:00Z');
		await clear(['clients']);
		expect(Object.values(await counts()).every((n) => n === 0)).toBe(true);
		expect(await state()).toBe('empty');
		const kept = await context.db.inFirm(practiceId, readClearings);
		expect(kept.map((c) => [c.clearedBy, c.counts.clients ?? 0, c.counts.requests])).toEqual([
			['Odalys Fenwick', before.clients, 0],
			['Odalys Fenwick', 0, before.requests]
		]);
	});

	test('is filled again; begun after a crash it starts anew', { timeout: 300_000 }, async () => {
		await context.db.inFirm(practiceId, (tx) => refillPractice(tx, me));
		await context.db.inFirm(practiceId, (tx) =>
			tx.rows(`insert into client (id, firm_id, name, kind, responsible_id, created_at) values ($1, $2, 'left over', 'business', $3, now())`, [
				randomUUID(),
				practiceId,
				me.id
			])
		);
		await expect(clear(['clients'])).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await fill();
		expect((await counts()).clients).toBe(11);
		expect(await state()).toBe('ready');
	});

	test('every table of a firm is either cleared or kept on purpose', async () => {
		const { rows } = await context.owner.query(
			`select table_name from information_schema.columns join information_schema.tables using (table_schema, table_name)
			where table_schema = 'public' and column_name = 'firm_id' and table_type = 'BASE TABLE'
			except select table_name from clearing`
		);
		expect(rows).toEqual([]);
	});
});
