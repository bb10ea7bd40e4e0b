import { randomUUID } from 'node:crypto';
import { beforeEach, describe, expect, test } from 'vitest';
import { DEFAULT_PACE } from '$lib/core/chasing/pace';
import { furtherChasePlanForm, chasePlanChoices } from '$lib/core/chasing/chase-plan';
import { clientBasicsSchema } from '$lib/core/clients/record-forms';
import type { Actor } from '../actor';
import { changeClient } from '../clients/client-record';
import { addChasePlan, changeChasePlans, removeChasePlan } from '../firm-settings/change-firm';
import { itemsActSchema, undoItemsSchema } from '$lib/core/requests/many-acts';
import { loadFirm } from '../firms/firm';
import { addList, copyList, readList } from '../library/request-lists';
import { actOnMany, undoMany } from '../requests/act-on-many';
import { sendRequest } from '../requests/send-request';
import { readRounds } from '../rounds/read-rounds';
import { itemsOf, makeClient, paperLine, requestTo, sendPlanned } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { chasePeople } from './chase-people';

useFirm();
let administrator: Actor;
beforeEach(async () => {
	administrator = { ...firm.partner, role: 'administrator' };
});

/** Due on Monday 18 May; the usual plan reminds two business days before, on Thursday the 14th. */
async function ask(more: object = {}, of = client) {
	const request = await sendRequest(context, firm.id, firm.odalys(), {
		...requestTo(of, [paperLine('Lease', '2026-05-18')]),
		idempotencyKey: randomUUID(),
		...more
	});
	return (await itemsOf(context, request))[0].id as string;
}
const next = async (id: string) =>
	(
		await context.owner.query<{ day: string | null; plan: string | null }>(
			'select next_chase_on::text as day, chase_plan plan from item where id = $1',
			[id]
		)
	).rows[0];
const addPlan = async (name: string, steps: number[]) => {
	await firm.run((tx) => addChasePlan(tx, administrator, furtherChasePlanForm.parse({ name, steps })));
	return firm.run(async (tx) => (await loadFirm(tx)).furtherPlans.find((plan) => plan.name === name)!.key);
};
const basics = (chasePlan?: string) =>
	firm.run((tx) =>
		changeClient(
			tx,
			firm.odalys(),
			client.id,
			clientBasicsSchema.parse({ name: 'Gull & String Kites', kind: 'business', responsibleId: firm.coordinator.id, chasePlan })
		)
	);

describe('by which plan something is chased', () => {
	test('its own, else its list’s, else the client’s, else the usual one; and it keeps what held when it was asked', async () => {
		const [often, seldom, never] = [await addPlan('Often', [-5, -1]), await addPlan('Seldom', [5]), 'none'];
		expect(await next(await ask())).toEqual({ day: '2026-05-14', plan: null });
		await basics(often);
		const byClient = await ask();
		expect(await next(byClient)).toEqual({ day: '2026-05-11', plan: often });
		const listId = await firm.run((tx) => copyList(tx, firm.odalys(), { readyMade: 'month-close' }));
		await context.owner.query('update request_list set chase_plan = $2 where id = $1', [listId, seldom]);
		const list = { id: listId, version: 1 };
		expect(await next(await ask({ list }))).toEqual({ day: '2026-05-25', plan: seldom });
		expect(await next(await ask({ list, chasePlan: 'usual' }))).toEqual({ day: '2026-05-14', plan: 'usual' });
		expect(await next(await ask({ list, chasePlan: never }))).toEqual({ day: null, plan: 'none' });
		// left out of the form it stays, emptied it goes; what is asked already keeps its own
		await basics();
		expect((await next(await ask())).plan).toBe(often);
		await basics('');
		expect((await next(await ask())).plan).toBeNull();
		expect((await next(byClient)).plan).toBe(often);
	});
	test('a list keeps its plan when it is copied', async () => {
		const often = await addPlan('Often', [-5]);
		const first = await firm.run((tx) => copyList(tx, firm.odalys(), { readyMade: 'month-close' }));
		const kept = await firm.run((tx) => readList(tx, firm.odalys(), first));
		const second = await firm.run((tx) => addList(tx, firm.odalys(), { ...kept, name: 'Another', chasePlan: often }));
		const copy = await firm.run((tx) => copyList(tx, firm.odalys(), { id: second }));
		expect((await firm.run((tx) => readList(tx, firm.odalys(), copy))).chasePlan).toBe(often);
	});
	test('without reminders nobody is written to, and nobody is said to have run out of them', async () => {
		await ask({ chasePlan: 'none' });
		await sendPlanned(context, firm);
		context.clock.set('2026-06-10T13:30:00Z');
		expect(await chasePeople(context.db, firm.id, context.clock.now())).toBe(0);
		const sections = async () =>
			(await firm.run(async (tx) => readRounds(tx, firm.odalys(), await loadFirm(tx), { due: (d) => d }))).rows.map((row) => row.section);
		expect(await sections()).not.toContain('ran_out');
	});
	test('one message carries things of two plans, each by its own steps', async () => {
		const often = await addPlan('Often', [-5]);
		await ask();
		await ask({ chasePlan: often });
		context.clock.set('2026-05-11T12:30:00Z');
		expect(await chasePeople(context.db, firm.id, context.clock.now())).toBe(1);
		const { rows } = await context.owner.query(
			`select mi.step from message m join message_item mi on mi.message_id = m.id where m.kind = 'chase' and m.firm_id = $1 order by mi.step nulls last`,
			[firm.id]
		);
		expect(rows).toEqual([{ step: 1 }, { step: null }]);
	});
	test('a plan taken away gives way to the usual one, and every reminder is placed anew; a name is used once', async () => {
		const often = await addPlan('Often', [-5]);
		await expect(addPlan('often', [1])).rejects.toMatchObject({ code: 'invalid' });
		await expect(addPlan('Gentle', [1])).rejects.toMatchObject({ code: 'invalid' });
		const id = await ask({ chasePlan: often });
		await firm.run((tx) => removeChasePlan(tx, administrator, often));
		expect(await next(id)).toEqual({ day: '2026-05-14', plan: null });
		await firm.run((tx) => removeChasePlan(tx, administrator, often));
		const quiet = await ask({ chasePlan: 'none' });
		await firm.run((tx) => changeChasePlans(tx, administrator, { name: 'Gentle', steps: [-3], ...DEFAULT_PACE, invitationSteps: [3] }));
		expect(await next(id)).toMatchObject({ day: '2026-05-13' });
		expect(await next(quiet)).toMatchObject({ day: null });
		await expect(firm.run((tx) => addChasePlan(tx, firm.odalys(), furtherChasePlanForm.parse({ name: 'x', steps: [1] })))).rejects.toMatchObject({
			code: 'not_allowed'
		});
		expect(furtherChasePlanForm.safeParse({ name: 'x', steps: [] }).success).toBe(false);
		expect(chasePlanChoices(await firm.run(loadFirm)).map((plan) => plan.key)).toEqual(['usual', 'none']);
	});
});

describe('many at once', () => {
	const act = async (input: object, ids: string[]) => {
		const { rows } = await context.owner.query<{ id: string; version: number }>('select id, version from item where id = any ($1)', [ids]);
		return actOnMany(context.db, firm.id, firm.odalys(), itemsActSchema.parse({ items: rows, ...input }));
	};
	const undo = (results: Awaited<ReturnType<typeof act>>) =>
		undoMany(context.db, firm.id, firm.odalys(), undoItemsSchema.parse(results.flatMap((one) => one.undo ?? [])));

	test('a plan is set and taken back; steps that lie behind do not come again', async () => {
		const ids = [await ask(), await ask()];
		const results = await act({ act: 'plan', plan: 'none' }, ids);
		expect(results.map((one) => one.problem)).toEqual([null, null]);
		expect(await next(ids[0])).toEqual({ day: null, plan: 'none' });
		expect(await undo(results)).toBe(2);
		expect(await next(ids[0])).toEqual({ day: '2026-05-14', plan: null });
		expect(await undo(results)).toBe(0);
	});
	test('somebody else of each client answers; a client without such a person says so; taken back', async () => {
		const second = await makeClient(context, firm, { name: 'Second' });
		const theirs = await makeClient(context, firm, { name: 'Third' });
		await context.owner.query(
			`insert into client_contact (firm_id, client_id, contact_id, rank) select firm_id, $1, contact_id, 2 from client_contact where client_id = $2`,
			[client.id, second.id]
		);
		const ids = [await ask(), await ask({}, theirs)];
		const results = await act({ act: 'person', rank: 2 }, ids);
		expect(results.map((one) => one.problem).filter(Boolean)).toEqual(['This client has no such person.']);
		const who = async () => (await context.owner.query<{ c: string }>('select contact_id c from item where id = $1', [ids[0]])).rows[0].c;
		expect(await who()).toBe(second.contactId);
		expect(await undo(results)).toBe(1);
		expect(await who()).toBe(client.contactId);
	});
});
