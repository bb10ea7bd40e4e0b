import { randomUUID } from 'node:crypto';
import { beforeEach, describe, expect, test } from 'vitest';
import { ACT_WORDS, ACTS, MAY } from '$lib/core/people/roles';
import type { Actor } from '../actor';
import { readHistory } from '../clients/read-clients';
import { seeItem } from '../items/client-item';
import { readOwnItems } from '../items/read-items';
import { sendRequest } from '../requests/send-request';
import { itemsOf, makeClient, makeFirm, questionLine, requestTo, sendPlanned, sessionOf, type TestContext } from '../testing/test-firm';
import { context, firm, useFirm } from '../testing/use-firm';
import { beginPortalLook, endPortalLooks, PORTAL_LOOK_MINUTES, resumePortalLook } from './look-as';
import { beginSession, endAllSessions, resumeSession } from './sessions';
import { resetPassword } from './change-password';
import { signIn } from './sign-in';
import {
	addStaff,
	changeRole,
	changeSecondStepRule,
	clearStaffSecondStep,
	inviteStaffAgain,
	readPeopleOfFirm,
	readSecondStepRule,
	signOutStaff,
	suspendStaff
} from './staff';

useFirm({ at: '2026-05-04T13:00:00Z', withClient: false });
let admin: Actor;
beforeEach(async () => {
	await context.owner.query(`update staff set role = 'administrator' where id = $1`, [firm.partner.id]);
	admin = { ...firm.partner, role: 'administrator', now: context.clock.now() };
});
const nobody = (): Actor => ({ kind: 'nobody', id: null, name: 'x', role: null, now: context.clock.now(), ip: '203.0.113.9', userAgent: 'test' });

describe('people of the firm', () => {
	const add = (email = `${randomUUID()}@staff.example`, by = admin) =>
		firm.run((tx) => addStaff(tx, by, { name: 'Juno Thorne', email, role: 'bookkeeper' }));

	test('somebody is added, chooses a password by the link, and signs in; before that nobody can', async () => {
		const email = `${randomUUID()}@staff.example`;
		const id = await add(email);
		expect(await signIn(context, nobody(), 'staff', { email, password: 'lamplight ledger harbour' }, null)).toBeNull();
		await firm.run((tx) => inviteStaffAgain(tx, { ...admin, now: '2026-05-04T13:01:00Z' }, id));
		await sendPlanned(context, firm);
		const token = /\/desk\/reset\/([\w-]+)/.exec(context.mailer.sent.at(-1)!.text)![1];
		context.clock.set('2026-05-08T13:00:00Z');
		await resetPassword(context.db, nobody(), 'staff', token, 'lamplight ledger harbour');
		expect(await signIn(context, nobody(), 'staff', { email, password: 'lamplight ledger harbour' }, null)).not.toBeNull();
		await expect(firm.run((tx) => inviteStaffAgain(tx, admin, id))).rejects.toMatchObject({ code: 'changed_meanwhile' });
	});

	test('an address signs in to one firm only; who may not, cannot', async () => {
		const email = `${randomUUID()}@staff.example`;
		await add(email);
		const other = await makeFirm(context);
		await expect(
			other.run((tx) => addStaff(tx, { ...other.partner, role: 'administrator' }, { name: 'x', email: email.toUpperCase(), role: 'filing' }))
		).rejects.toMatchObject({ code: 'invalid' });
		await expect(add(undefined, firm.odalys())).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(firm.run((tx) => changeSecondStepRule(tx, firm.odalys(), { staff: false, contacts: false }))).rejects.toMatchObject({
			code: 'not_allowed'
		});
	});

	test('suspended they are out at once; nobody suspends themselves, and an administrator stays', async () => {
		const { token } = await firm.run((tx) => beginSession(tx, firm.odalys(), { kind: 'staff', id: firm.coordinator.id! }));
		await firm.run((tx) => suspendStaff(tx, admin, { staffId: firm.coordinator.id!, suspend: true }));
		expect(await resumeSession(context.db, token, 'staff', context.clock.now())).toBeNull();
		await firm.run((tx) => suspendStaff(tx, admin, { staffId: firm.coordinator.id!, suspend: false }));
		await expect(firm.run((tx) => suspendStaff(tx, admin, { staffId: admin.id!, suspend: true }))).rejects.toMatchObject({ code: 'invalid' });
		await expect(firm.run((tx) => changeRole(tx, admin, { staffId: admin.id!, role: 'partner' }))).rejects.toMatchObject({ code: 'invalid' });
		await firm.run((tx) => changeRole(tx, admin, { staffId: firm.coordinator.id!, role: 'administrator' }));
		// two who take each other's role at once: one administrator stays
		const other: Actor = { ...firm.odalys(), role: 'administrator' };
		const results = await Promise.allSettled([
			firm.run((tx) => changeRole(tx, admin, { staffId: other.id!, role: 'filing' })),
			firm.run((tx) => changeRole(tx, other, { staffId: admin.id!, role: 'filing' }))
		]);
		expect(results.map((r) => r.status).sort()).toEqual(['fulfilled', 'rejected']);
		expect((await firm.run((tx) => readPeopleOfFirm(tx, admin))).filter((p) => p.role === 'administrator')).toHaveLength(1);
	});

	test('signed out everywhere they come in again by their password and second step; nobody does it to themselves', async () => {
		const { token } = await firm.run((tx) => beginSession(tx, firm.odalys(), { kind: 'staff', id: firm.coordinator.id! }));
		const own = await firm.run((tx) => beginSession(tx, admin, { kind: 'staff', id: admin.id! }));
		await context.owner.query(
			`insert into device (id, firm_id, staff_id, token_hash, user_agent, first_seen_at, last_seen_at, trusted_until)
			values (gen_random_uuid(), $1, $2, 'x', 'a laptop', now(), now(), now() + interval '30 days')`,
			[firm.id, firm.coordinator.id]
		);
		await firm.run((tx) => signOutStaff(tx, admin, firm.coordinator.id!));
		expect(await resumeSession(context.db, token, 'staff', context.clock.now())).toBeNull();
		expect(await resumeSession(context.db, own.token, 'staff', context.clock.now())).not.toBeNull();
		expect((await context.owner.query('select trusted_until from device where staff_id = $1', [firm.coordinator.id])).rows).toEqual([
			{ trusted_until: null }
		]);
		await expect(firm.run((tx) => signOutStaff(tx, admin, admin.id!))).rejects.toMatchObject({ code: 'invalid' });
		await expect(firm.run((tx) => signOutStaff(tx, firm.odalys(), admin.id!))).rejects.toMatchObject({ code: 'not_allowed' });
	});

	test('who has lost every second step gets in by the password again and is told; nobody does it to themselves', async () => {
		const { id } = firm.coordinator;
		await context.owner.query(
			`insert into authenticator (id, firm_id, staff_id, secret, begun_at, confirmed_at) values (gen_random_uuid(), $1, $2, 'x', now(), now())`,
			[firm.id, id]
		);
		await context.owner.query(`insert into recovery_code (id, firm_id, staff_id, hash, made_at) values (gen_random_uuid(), $1, $2, 'x', now())`, [
			firm.id,
			id
		]);
		const { token } = await firm.run((tx) => beginSession(tx, firm.odalys(), { kind: 'staff', id: id! }));
		const secondStep = async () => (await firm.run((tx) => readPeopleOfFirm(tx, admin))).find((person) => person.id === id)!.secondStep;
		expect(await secondStep()).toBe(true);
		await expect(firm.run((tx) => clearStaffSecondStep(tx, firm.odalys(), admin.id!))).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(firm.run((tx) => clearStaffSecondStep(tx, admin, admin.id!))).rejects.toMatchObject({ code: 'invalid' });
		await firm.run((tx) => clearStaffSecondStep(tx, admin, id!));
		expect(await secondStep()).toBe(false);
		expect((await context.owner.query('select from recovery_code where staff_id = $1', [id])).rowCount).toBe(0);
		expect(await resumeSession(context.db, token, 'staff', context.clock.now())).toBeNull();
		const { rows } = await context.owner.query(`select kind, content ->> 'change' change from message where staff_id = $1`, [id]);
		expect(rows).toEqual([{ kind: 'second_step_changed', change: 'cleared_by_firm' }]);
	});

	test('somebody of another firm does not exist', async () => {
		const other = await makeFirm(context);
		for (const work of [
			() => firm.run((tx) => changeRole(tx, admin, { staffId: other.coordinator.id!, role: 'filing' })),
			() => firm.run((tx) => suspendStaff(tx, admin, { staffId: other.coordinator.id!, suspend: true })),
			() => firm.run((tx) => signOutStaff(tx, admin, other.coordinator.id!)),
			() => firm.run((tx) => clearStaffSecondStep(tx, admin, other.coordinator.id!)),
			() => firm.run((tx) => inviteStaffAgain(tx, admin, other.coordinator.id!))
		])
			await expect(work()).rejects.toMatchObject({ code: 'not_found' });
	});

	test('the rule for the second step is the firm’s own', async () => {
		expect(await firm.run(readSecondStepRule)).toEqual({ staff: true, contacts: false });
		await firm.run((tx) => changeSecondStepRule(tx, admin, { staff: false, contacts: true }));
		expect(await firm.run(readSecondStepRule)).toEqual({ staff: false, contacts: true });
		expect(await (await makeFirm(context)).run(readSecondStepRule)).toEqual({ staff: true, contacts: false });
	});

	test('every act of the table has words, and somebody who may do it', () => {
		for (const act of ACTS) {
			expect(ACT_WORDS[act]).toMatch(/^[a-z]/);
			expect(Object.values(MAY).some((acts) => acts.includes(act))).toBe(true);
		}
	});
});

describe('seeing the portal as a contact sees it', () => {
	test('shows what they see, changes nothing, and stands in the history of each of their clients', async () => {
		const client = await makeClient(context, firm);
		const second = await makeClient(context, firm, { name: 'Second', contactId: client.contactId, email: client.email });
		const [item] = await itemsOf(context, await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [questionLine('Q', '2026-05-20')])));
		const session = await sessionOf(context, firm, firm.odalys());
		const token = await firm.run((tx) => beginPortalLook(tx, firm.odalys(), client.contactId, session));
		const look = (await resumePortalLook(context.db, token, context.clock.now()))!;
		expect(look).toMatchObject({ kind: 'contact', personId: client.contactId, firmSlug: firm.slug, lookedAtBy: 'Odalys Fenwick' });
		const asMara = <T>(work: Parameters<TestContext['db']['inFirm']>[1]) =>
			context.db.inFirm(firm.id, work, client.contactId, 'read only') as Promise<T>;
		expect(await asMara<unknown[]>((tx) => readOwnItems(tx, client.mara()))).toHaveLength(1);
		// whatever a page tried, the transaction refuses
		await expect(asMara((tx) => seeItem(tx, client.mara(), item.id))).rejects.toMatchObject({ code: '25006' });
		expect((await context.owner.query('select state from item where id = $1', [item.id])).rows[0].state).toBe('asked');
		for (const { id } of [client, second])
			expect((await firm.run((tx) => readHistory(tx, firm.odalys(), id, null, 5))).map((e) => [e.verb, e.actorName])).toContainEqual([
				'looked_as',
				'Odalys Fenwick'
			]);
	});

	test('ends by time, by leaving, by signing out, by suspension; not for those who may not, not across firms', async () => {
		const client = await makeClient(context, firm);
		const begin = async () => {
			const session = await sessionOf(context, firm, firm.odalys());
			return firm.run((tx) => beginPortalLook(tx, firm.odalys(), client.contactId, session));
		};
		const token = await begin();
		const resume = (at = context.clock.now()) => resumePortalLook(context.db, token, at);
		expect(await resume()).not.toBeNull();
		expect(await resume(new Date(Date.parse(context.clock.now()) + PORTAL_LOOK_MINUTES * 60_000).toISOString())).toBeNull();
		await firm.run((tx) => endPortalLooks(tx, firm.odalys()));
		expect(await resume()).toBeNull();
		const signedOut = await begin();
		await firm.run((tx) => endAllSessions(tx, { kind: 'staff', id: firm.coordinator.id! }, context.clock.now()));
		expect(await resumePortalLook(context.db, signedOut, context.clock.now())).toBeNull();
		const next = await begin();
		await context.owner.query('update staff set suspended_at = now() where id = $1', [firm.coordinator.id]);
		expect(await resumePortalLook(context.db, next, context.clock.now())).toBeNull();
		await expect(firm.run((tx) => beginPortalLook(tx, firm.filing, client.contactId, randomUUID()))).rejects.toMatchObject({ code: 'not_allowed' });
		const other = await makeFirm(context);
		await expect(other.run((tx) => beginPortalLook(tx, other.odalys(), client.contactId, randomUUID()))).rejects.toMatchObject({ code: 'not_found' });
		// the token of a look is no session, and a session's no look
		expect(await resumeSession(context.db, next, 'contact', context.clock.now())).toBeNull();
	});
});
