import { randomUUID } from 'node:crypto';
import { beforeEach, describe, expect, test } from 'vitest';
import { READY_MADE_QUESTIONNAIRES } from '$lib/core/questionnaires/ready-made';
import { aroundDue, chasePlanChoices, chasePlanForm, type ChaseStep, type ChaseWhen } from '$lib/core/chasing/chase-plan';
import { clientBasicsSchema } from '$lib/core/clients/record-forms';
import { addDays } from '$lib/core/calendar/firm-calendar';
import { doingsOf } from '$lib/core/chasing/look-ahead';
import type { Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { changeClient, writeEngagement } from '../clients/client-record';
import { changeContact } from '../clients/contacts';
import { addService, planService } from '../firms/services';
import { lookAhead, readPlanUse, removeChasePlan, saveChasePlan, stampOfPlan } from '../firm-settings/chase-plans';
import { itemsActSchema, undoItemsSchema } from '$lib/core/requests/many-acts';
import { loadFirm } from '../firms/firm';
import { copyQuestionnaire, copyReadyQuestionnaire, planQuestionnaire, readQuestionnaire } from '../library/questionnaires';
import { addList, copyList, readList } from '../library/request-lists';
import { actOnMany, undoMany } from '../requests/act-on-many';
import { sendRequest } from '../requests/send-request';
import { readRounds } from '../rounds/read-rounds';
import { itemsOf, makeClient, paperLine, requestTo, sendPlanned } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { chasePeople } from './chase-people';
import { pauseReminders } from './holds';
import { readForecast } from './read-forecast';
import { holdingPlanInWords, readPlanOf } from './which-plan';

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
const planOf = (name: string, steps: readonly (number | ChaseStep)[]) =>
	chasePlanForm.parse({ name, steps: steps.map((one) => (typeof one === 'number' ? aroundDue(one) : one)) });
const addPlan = (name: string, steps: readonly (number | ChaseStep)[]) =>
	firm.run((tx) => saveChasePlan(tx, administrator, { key: null }, planOf(name, steps)));
const seen = async (key: string) => {
	const { chasePlan, furtherPlans } = await firm.run(loadFirm);
	return stampOfPlan(furtherPlans.find((plan) => plan.key === key) ?? chasePlan);
};
const changePlan = async (key: string, plan: ReturnType<typeof planOf>, by = administrator) => {
	const which = { key, seen: await seen(key) };
	return firm.run((tx) => saveChasePlan(tx, by, which, plan));
};
const step = (when: ChaseWhen, by: ChaseStep['by'] = 'usual', firmer = false): ChaseStep => ({ when, by, firmer });
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
	test('what is asked says more than of whom: list, service of the list, person, client, any service; and why is kept and said', async () => {
		const plans: Record<string, string> = {};
		for (const [n, name] of ['Listed', 'Serviced', 'Personal', 'Clientwise', 'Chosen'].entries()) plans[name] = await addPlan(name, [n + 1]);
		const why = async (id: string) => {
			const { name, why } = await firm.run(async (tx) => holdingPlanInWords(await loadFirm(tx), await readPlanOf(tx, id)));
			return `${name}, ${why}`;
		};
		const listId = await firm.run((tx) => copyList(tx, firm.odalys(), { readyMade: 'month-close' }));
		await context.owner.query(`update request_list set name = 'Month end' where id = $1`, [listId]);
		const list = { id: listId, version: 1 };
		const said: string[] = [];
		const next = async (more: object = { list }) => said.push(await why(await ask(more)));
		await next();
		// a service of the client's, for which the list is not
		const service = await firm.run((tx) => addService(tx, administrator, 'Payroll'));
		await firm.run((tx) =>
			writeEngagement(tx, firm.odalys(), { clientId: client.id, engagementId: null, name: 'Pay', beganOn: '2026-05-01', services: [service] })
		);
		await firm.run((tx) => planService(tx, administrator, { serviceId: service, chasePlan: plans.Serviced }));
		await next();
		await basics(plans.Clientwise);
		await next();
		const person = {
			clientId: client.id,
			contactId: client.contactId,
			name: 'Mara Whitlock',
			email: client.email,
			phone: null,
			role: 'owner',
			channels: 'email' as const
		};
		await firm.run((tx) => changeContact(tx, firm.odalys(), { ...person, chasePlan: plans.Personal }));
		await next();
		// left out of the form it stays
		await firm.run((tx) => changeContact(tx, firm.odalys(), person));
		await next();
		await context.owner.query(`update request_list set services = '{payroll}' where id = $1`, [listId]);
		await next();
		await context.owner.query('update request_list set chase_plan = $2 where id = $1', [listId, plans.Listed]);
		await next();
		await next({ list, chasePlan: plans.Chosen });
		expect(said).toEqual([
			'Gentle, the firm’s usual one',
			'Serviced, as the service “Payroll” has it',
			'Clientwise, as chosen for Gull & String Kites',
			'Personal, as chosen for Mara Whitlock',
			'Personal, as chosen for Mara Whitlock',
			'Serviced, as the service “Payroll” has it',
			'Listed, as the list “Month end” has it',
			'Chosen, chosen when it was asked'
		]);
		// whoever is asked elsewhere by the same list without that service: as they have it
		const other = await makeClient(context, firm, { name: 'Other' });
		await context.owner.query('update request_list set chase_plan = null where id = $1', [listId]);
		expect(await why(await ask({ list }, other))).toBe('Gentle, the firm’s usual one');
		// taken away, what it was chosen for goes by what is left
		for (const key of [plans.Serviced, plans.Personal]) await firm.run((tx) => removeChasePlan(tx, administrator, key));
		expect(await why(await ask({ list }))).toBe('Clientwise, as chosen for Gull & String Kites');
		await expect(firm.run((tx) => planService(tx, firm.odalys(), { serviceId: service, chasePlan: null }))).rejects.toMatchObject({
			code: 'not_allowed'
		});
	});
	test('a line has a plan of its own, and a questionnaire wherever it is asked: the line, the request, the questionnaire, the list', async () => {
		const [lined, chosen, asked, listed] = [
			await addPlan('Lined', [1]),
			await addPlan('Chosen', [2]),
			await addPlan('Asked', [3]),
			await addPlan('Listed', [4])
		];
		const odalys = firm.odalys();
		const questionnaire = await firm.run((tx) => copyReadyQuestionnaire(tx, odalys, READY_MADE_QUESTIONNAIRES[0].id));
		await firm.run((tx) => planQuestionnaire(tx, odalys, questionnaire, asked));
		const { name, chasePlan } = await firm.run((tx) => readQuestionnaire(tx, odalys, questionnaire));
		expect(chasePlan).toBe(asked);
		const listId = await firm.run((tx) => copyList(tx, odalys, { readyMade: 'month-close' }));
		await context.owner.query('update request_list set chase_plan = $2 where id = $1', [listId, listed]);
		const list = { id: listId, version: 1 };
		const lines = (plan: string | null) => [
			{ ...paperLine('Lease', '2026-05-18'), chasePlan: plan },
			paperLine('Licence', '2026-05-18'),
			{
				...paperLine(name, '2026-05-18'),
				kind: 'questionnaire' as const,
				spec: { questions: [], files: false, signed: false, ends: [], from: { id: questionnaire, name, version: 1, before: null } }
			}
		];
		const said = async (more: object, plan: string | null = lined) => {
			const request = await sendRequest(context, firm.id, odalys, {
				...requestTo(client, lines(plan) as Parameters<typeof requestTo>[1]),
				idempotencyKey: randomUUID(),
				...more
			});
			return Promise.all(
				(await itemsOf(context, request)).map(async ({ id }) => {
					const held = await firm.run(async (tx) => holdingPlanInWords(await loadFirm(tx), await readPlanOf(tx, id as string)));
					return `${held.name}, ${held.why}`;
				})
			);
		};
		const byLine = 'Lined, chosen for this one thing';
		expect(await said({ list })).toEqual([byLine, expect.stringMatching(/^Listed, as the list/), `Asked, as the questionnaire “${name}” has it`]);
		expect(await said({ list, chasePlan: chosen })).toEqual([byLine, 'Chosen, chosen when it was asked', 'Chosen, chosen when it was asked']);
		expect(await said({})).toEqual([byLine, 'Gentle, the firm’s usual one', `Asked, as the questionnaire “${name}” has it`]);
		// the copy of a questionnaire is chased like it; how a plan is used counts it
		const copy = await firm.run((tx) => copyQuestionnaire(tx, odalys, questionnaire));
		expect((await firm.run((tx) => readQuestionnaire(tx, odalys, copy))).chasePlan).toBe(asked);
		expect((await firm.run((tx) => readPlanUse(tx, odalys))).find(({ key }) => key === asked)?.others).toBe(2);
		// a plan that is no more: a line of a list that still names it goes as the request does
		for (const key of [lined, asked]) await firm.run((tx) => removeChasePlan(tx, administrator, key));
		expect(await said({})).toEqual(Array(3).fill('Gentle, the firm’s usual one'));
		expect(await said({ list }, 'none')).toEqual([
			'No reminders, chosen for this one thing',
			...Array(2).fill(expect.stringMatching(/^Listed, as the list/))
		]);
		await expect(firm.run((tx) => planQuestionnaire(tx, firm.filing, questionnaire, listed))).rejects.toMatchObject({ code: 'not_allowed' });
		await expect(firm.run((tx) => planQuestionnaire(tx, odalys, randomUUID(), listed))).rejects.toMatchObject({ code: 'not_found' });
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
		await changePlan('usual', planOf('Gentle', [-3]));
		expect(await next(id)).toMatchObject({ day: '2026-05-13' });
		expect(await next(quiet)).toMatchObject({ day: null });
		await expect(firm.run((tx) => saveChasePlan(tx, firm.odalys(), { key: null }, planOf('x', [1])))).rejects.toMatchObject({
			code: 'not_allowed'
		});
		expect(chasePlanForm.safeParse({ name: 'x', steps: [] }).success).toBe(false);
		expect(chasePlanChoices(await firm.run(loadFirm)).map((plan) => plan.key)).toEqual(['usual', 'none']);
	});
});

describe('a plan of unlike steps', () => {
	const planned = async () =>
		(
			await context.owner.query<{ kind: string; channel: string; day: string; content: { firmer?: boolean } }>(
				`select kind, channel, (planned_at at time zone 'America/Halifax')::date::text as day, content from message where firm_id = $1 and kind = 'chase' order by planned_at, channel`,
				[firm.id]
			)
		).rows;
	/** Every morning from a day on, as the worker sees it. */
	const live = async (from: string, days: number) => {
		for (let n = 0; n < days; n++) {
			context.clock.set(`${addDays(from, n)}T13:00:00Z`);
			await chasePeople(context.db, firm.id, context.clock.now());
			await sendPlanned(context, firm);
		}
	};

	test('what the forecast shows goes: after it was asked, without a due date, weekly, and in firmer words where it is late', async () => {
		const key = await addPlan('Mixed', [
			step({ kind: 'asked', days: 2 }),
			step({ kind: 'weekly', weekday: 2, times: 2 }),
			step({ kind: 'due', days: 1 }, 'email', true)
		]);
		await ask({ chasePlan: key, lines: [{ ...paperLine('No date', '2026-05-18'), dueOn: null }] });
		await ask({ chasePlan: key });
		await sendPlanned(context, firm);
		const shown = await firm.run(async (tx) => readForecast(tx, firm.odalys(), await loadFirm(tx), [client.contactId], 30));
		expect(shown.map(({ localDay, firmer }) => [localDay, firmer])).toEqual([
			['2026-05-06', false],
			['2026-05-12', false],
			['2026-05-19', true]
		]);
		await live('2026-05-05', 28);
		expect((await planned()).map(({ day, content }) => [day, content.firmer ?? false])).toEqual(shown.map((one) => [one.localDay, one.firmer]));
		const mail = context.mailer.sent.findLast(({ to }) => to.address === client.email)!;
		expect(mail.subject).toBe('We cannot go on without one thing');
		expect(mail.text).toContain('we cannot go on with your books without it');
		// without a due date it is found once its plan has come to its end
		const sections = (await firm.run(async (tx) => readRounds(tx, firm.odalys(), await loadFirm(tx), { due: (d) => d }))).rows;
		expect(sections.filter(({ section }) => section === 'ran_out').map(({ words }) => words)).toEqual([
			'2 things are still open after the last reminder'
		]);
	});
	test('who was heard from is not silent: the step moves on, and the day of it with the next morning', async () => {
		const key = await addPlan('Quiet', [step({ kind: 'silent', days: 3 })]);
		const id = await ask({ chasePlan: key });
		await sendPlanned(context, firm);
		expect(await next(id)).toMatchObject({ day: '2026-05-07' });
		context.clock.set('2026-05-06T20:00:00Z');
		await firm.run((tx) => recordEvent(tx, client.mara(), { verb: 'item_seen', clientId: client.id, contactId: client.contactId, itemId: id }));
		const forecast = await firm.run(async (tx) => readForecast(tx, firm.odalys(), await loadFirm(tx), [client.contactId], 30));
		expect(forecast.map(({ localDay }) => localDay)).toEqual(['2026-05-11']);
		await live('2026-05-07', 1);
		expect(await planned()).toEqual([]);
		expect(await next(id)).toMatchObject({ day: '2026-05-11' });
		await live('2026-05-08', 12);
		expect((await planned()).map(({ day }) => day)).toEqual(['2026-05-11']);
	});
	test('a step by text goes by text to whoever gets texts, and by mail to whoever does not', async () => {
		const key = await addPlan('By text', [step({ kind: 'asked', days: 1 }, 'text'), step({ kind: 'after', days: 2 }, 'email')]);
		const other = await makeClient(context, firm, { name: 'Second' });
		await context.owner.query(`update contact set phone = '+19025550143', channels = 'both' where id = $1`, [client.contactId]);
		await ask({ chasePlan: key });
		await ask({ chasePlan: key }, other);
		await sendPlanned(context, firm);
		await live('2026-05-05', 5);
		expect((await planned()).map(({ channel }) => channel)).toEqual(['email', 'text', 'email', 'email']);
	});
	test('what looking ahead shows is what the Almanac shows once it is saved, also beside a pause, and nothing changes before', async () => {
		const other = await makeClient(context, firm, { name: 'Second' });
		const third = await makeClient(context, firm, { name: 'Third' });
		await ask();
		await ask({}, other);
		await ask({ chasePlan: 'none' }, third);
		await sendPlanned(context, firm);
		context.clock.set('2026-05-07T13:00:00Z');
		administrator = { ...administrator, now: context.clock.now() };
		await firm.run(async (tx) =>
			pauseReminders(tx, firm.odalys(), await loadFirm(tx), { contactId: other.contactId, ofClient: other.id }, { until: '2026-05-25', reason: 'x' })
		);
		const people = [client.contactId, other.contactId, third.contactId];
		const forecast = async () =>
			(await firm.run(async (tx) => readForecast(tx, firm.odalys(), await loadFirm(tx), people, 28))).map(
				({ contactId, localDay, by, because }) => `${contactId} ${localDay} ${doingsOf({ by, because }).join()}`
			);
		const before = await forecast();
		const plan = planOf('Gentle', [
			step({ kind: 'asked', days: 1 }),
			step({ kind: 'asked', days: 6 }),
			step({ kind: 'due', days: 2 }, 'call'),
			step({ kind: 'after', days: 3 }, 'partner')
		]);
		const ahead = await firm.run((tx) => lookAhead(tx, administrator, 'usual', plan));
		expect(await forecast()).toEqual(before);
		await changePlan('usual', plan);
		const after = await forecast();
		const shown = ahead.changes.flatMap(({ contactId, days }) =>
			days.flatMap(({ day, is, does }) => (is === 'gone' ? [] : [`${contactId} ${day} ${does.join()}`]))
		);
		expect(shown.toSorted()).toEqual(after.toSorted());
		expect(ahead).toMatchObject({ changed: 2, same: 0, calls: { before: 0, after: 1 }, told: { before: 0, after: 2 } });
		// a step that lies behind does not go after all
		expect(after.some((one) => one.includes('2026-05-07'))).toBe(false);
		expect(await firm.run((tx) => lookAhead(tx, administrator, 'usual', plan))).toMatchObject({ changed: 0, same: 2 });
	});
	test('two who change a plan at once: the second hears of it, and nothing is lost; saved as it is, nothing moves', async () => {
		const mark = await seen('usual');
		await changePlan('usual', planOf('Gentle', [2]));
		await expect(firm.run((tx) => saveChasePlan(tx, administrator, { key: 'usual', seen: mark }, planOf('Gentle', [9])))).rejects.toMatchObject({
			code: 'changed_meanwhile'
		});
		const events = async () =>
			(await context.owner.query(`select 1 from event where firm_id = $1 and verb = 'chase_plan_changed'`, [firm.id])).rowCount;
		expect(await events()).toBe(1);
		await changePlan('usual', planOf('Gentle', [2]));
		expect(await events()).toBe(1);
	});
	test('how each plan is used', async () => {
		const key = await addPlan('Often', [-5]);
		await basics(key);
		await ask();
		await ask({ chasePlan: 'usual' });
		expect((await firm.run((tx) => readPlanUse(tx, firm.odalys()))).toSorted((a, b) => a.things - b.things || a.clients - b.clients)).toEqual([
			{ key: 'usual', things: 1, people: 1, lists: 0, clients: 0, others: 0 },
			{ key, things: 1, people: 1, lists: 0, clients: 1, others: 0 }
		]);
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
	test('taken back, it is said again why the plan before it held', async () => {
		await basics(await addPlan('Often', [-5]));
		const id = await ask();
		const held = () => firm.run((tx) => readPlanOf(tx, id));
		const before = await held();
		expect(before).toMatchObject({ from: 'client', named: 'Gull & String Kites' });
		const results = await act({ act: 'plan', plan: 'none' }, [id]);
		expect(await held()).toEqual({ key: 'none', from: 'line', named: null });
		expect(await undo(results)).toBe(1);
		expect(await held()).toEqual(before);
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
