import { beforeEach, describe, expect, test } from 'vitest';
import { hasArea, PORTAL_AREAS, readAreasForm, readFirmAreasForm } from '$lib/core/firms/portal-areas';
import type { Actor } from '../actor';
import { readFacts, readOwnFacts, sayFact, sayOwnFact } from '../clients/client-facts';
import { endEngagement, moveClient, readEngagements, writeEngagement } from '../clients/client-record';
import { makeClient, makeFirm } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { addService } from './services';
import { areasOfContact, changeAreas, changeClientAreas, readClientAreas, readSignedLetters } from './portal-areas';

useFirm();
let administrator: Actor;
beforeEach(async () => {
	administrator = { ...firm.partner, role: 'administrator' };
});

const staffSay = (name: string, value: string, clientId = client.id) => firm.run((tx) => sayFact(tx, firm.odalys(), { clientId, name, value }));
const say = (name: string, value: string, clientId = client.id) => client.run((tx) => sayOwnFact(tx, client.mara(), { clientId, name, value }));
const areas = () => client.run((tx) => areasOfContact(tx, client.mara()));

describe('areas of the portal', () => {
	test('the firm decides, services narrow it, a client may be an exception', () => {
		const all = { off: [], services: {} };
		const nobody = { off: ['facts'], services: {} };
		const payroll = { off: [], services: { facts: ['payroll', 'tax'] } };
		expect(hasArea('facts', all, {}, [])).toBe(true);
		expect(hasArea('facts', nobody, {}, [])).toBe(false);
		expect(hasArea('facts', nobody, { facts: true }, [])).toBe(true);
		expect(hasArea('facts', all, { facts: false }, [])).toBe(false);
		expect(hasArea('facts', payroll, {}, ['books'])).toBe(false);
		expect(hasArea('facts', payroll, {}, ['books', 'tax'])).toBe(true);
		expect(hasArea('letters', payroll, {}, [])).toBe(true);
		expect(hasArea('facts', payroll, { facts: true }, [])).toBe(true);
		expect(hasArea('facts', payroll, { facts: false }, ['tax'])).toBe(false);
		expect(readAreasForm({ 'area-facts': 'off', 'area-letters': '', 'area-money': 'on' })).toEqual({ facts: false });
	});
	test('the form of the firm: a choice of no service is told, not kept', () => {
		const form = new FormData();
		for (const area of PORTAL_AREAS) form.set(`for-${area}`, 'all');
		form.set('for-letters', 'nobody');
		form.set('for-facts', 'services');
		expect(() => readFirmAreasForm(form)).toThrow('at least one service');
		form.append('services-facts', '0198a000-0000-7000-8000-000000000001');
		expect(readFirmAreasForm(form)).toEqual({ off: ['letters'], services: { facts: ['0198a000-0000-7000-8000-000000000001'] } });
	});
	test('one with nothing in it is not shown', async () => {
		expect(await areas()).toEqual([]);
		await staffSay('employees', '2');
		expect(await areas()).toEqual(['facts']);
		expect(await client.run((tx) => readSignedLetters(tx, client.mara()))).toEqual([]);
	});
	test('turned off for all, on again for one; whoever has two businesses sees that one only', async () => {
		await staffSay('employees', '2');
		const second = await makeClient(context, firm, { name: 'Second', email: client.email, contactId: client.contactId });
		await staffSay('employees', '9', second.id);
		await firm.run((tx) => changeAreas(tx, administrator, { off: ['facts'], services: {} }));
		expect(await areas()).toEqual([]);
		await expect(say('employees', '3')).rejects.toMatchObject({ code: 'not_found' });
		await firm.run((tx) => changeClientAreas(tx, firm.odalys(), second.id, { facts: true }));
		expect(await areas()).toEqual(['facts']);
		expect((await client.run((tx) => readOwnFacts(tx, client.mara()))).clients.map((own) => own.clientName)).toEqual(['Second']);
		await expect(firm.run((tx) => changeAreas(tx, firm.odalys(), { off: [], services: {} }))).rejects.toMatchObject({ code: 'not_allowed' });
	});
	test('for clients with a service alone: it comes with the engagement and goes with its end', async () => {
		await staffSay('employees', '2');
		const payroll = await firm.run((tx) => addService(tx, administrator, 'Payroll'));
		await firm.run((tx) => changeAreas(tx, administrator, { off: [], services: { facts: [payroll] } }));
		const ofClient = () => firm.run((tx) => readClientAreas(tx, client.id));
		expect(await areas()).toEqual([]);
		expect((await ofClient()).proposed).not.toContain('facts');
		await firm.run((tx) =>
			writeEngagement(tx, firm.odalys(), { clientId: client.id, engagementId: null, name: 'Payroll', beganOn: '2026-05-01', services: [payroll] })
		);
		expect(await areas()).toEqual(['facts']);
		expect((await ofClient()).proposed).toContain('facts');
		const [{ id: engagementId }] = await firm.run((tx) => readEngagements(tx, firm.odalys(), client.id));
		await firm.run((tx) =>
			endEngagement(tx, firm.partner, { clientId: client.id, engagementId, reason: 'They do it themselves.', on: '2026-05-04', reopen: false })
		);
		expect(await areas()).toEqual([]);
		const other = await makeFirm(context);
		await expect(
			other.run((tx) => changeAreas(tx, { ...other.partner, role: 'administrator' }, { off: [], services: { facts: [payroll] } }))
		).rejects.toMatchObject({ code: 'not_found' });
	});
});

describe('facts said by a contact', () => {
	test('are theirs with name and day, keep what was said before, and change nothing when said again', async () => {
		await staffSay('employees', '1');
		context.clock.set('2026-05-06T13:30:00Z');
		await say('employees', '2');
		await say('employees', '2');
		const [fact] = await firm.run((tx) => readFacts(tx, firm.odalys(), client.id));
		expect(fact).toMatchObject({
			value: '2',
			saidBy: 'Mara Whitlock',
			saidAt: '2026-05-06T13:30:00.000Z',
			earlier: [{ value: '1', saidBy: 'Odalys Fenwick' }]
		});
		const { rows } = await context.owner.query(`select actor_kind, verb from event where client_id = $1 and verb like 'fact%' order by id`, [
			client.id
		]);
		expect(rows).toEqual([
			{ actor_kind: 'staff', verb: 'fact_said' },
			{ actor_kind: 'contact', verb: 'fact_corrected' }
		]);
	});
	test('two at once: one value stays', async () => {
		await Promise.all(['3', '4', '5'].map((value) => say('employees', value)));
		const { rows } = await context.owner.query('select 1 from fact where client_id = $1 and replaced_at is null', [client.id]);
		expect(rows).toHaveLength(1);
	});
	test('nothing about somebody else’s business, nor at one that is locked', async () => {
		const stranger = await makeClient(context, firm, { name: 'Other' });
		await staffSay('employees', '7', stranger.id);
		await expect(say('employees', '8', stranger.id)).rejects.toMatchObject({ code: 'not_found' });
		await expect(client.run((tx) => tx.rows(`update fact set value = '8' where client_id = $1 returning id`, [stranger.id]))).resolves.toEqual([]);
		await firm.run((tx) => moveClient(tx, firm.odalys(), { clientId: client.id, move: 'lock', reason: 'x' }));
		await expect(say('employees', '8')).rejects.toMatchObject({ code: 'changed_meanwhile' });
		await expect(firm.run((tx) => sayOwnFact(tx, firm.odalys(), { clientId: client.id, name: 'employees', value: '1' }))).rejects.toMatchObject({
			code: 'not_allowed'
		});
	});
});
