import ICAL from 'ical.js';
import { randomUUID } from 'node:crypto';
import { expect, test } from 'vitest';
import { TOLD_NOTHING } from '$lib/core/telling/telling';
import type { Actor } from '../actor';
import { changeClientRights } from '../clients/client-rights';
import { asStaff, type Tx } from '../platform/db/database';
import { sendRequest } from '../requests/send-request';
import { paperLine, requestTo, SECRET_KEY } from '../testing/test-firm';
import { client, context, firm, useFirm } from '../testing/use-firm';
import { endFeed, findFeed, makeFeed, readCalendar, readFeed } from './calendar-feed';
import { changeOwnTelling } from './settings';

useFirm();
const ORIGIN = 'https://desk.example';
const as = <T>(actor: Actor, run: (tx: Tx) => Promise<T>) => asStaff(context.db, actor.id!).inFirm(firm.id, run);
const make = (who: Actor) => as(who, (tx) => makeFeed(tx, who, SECRET_KEY));
const address = (who: Actor, secretKey = SECRET_KEY) => as(who, (tx) => readFeed(tx, who, { origin: ORIGIN, secretKey }));
const tokenIn = (url: string | null) => /^https:\/\/desk\.example\/calendar\/([\w-]{43})\.ics$/.exec(url!)![1];
async function days(token: string) {
	const found = await findFeed(context.db, token);
	if (!found) return null;
	const text = await readCalendar(context.db, found, context.clock.now(), ORIGIN);
	return new ICAL.Component(ICAL.parse(text)).getAllSubcomponents('vevent').map((event) => {
		const { summary, startDate } = new ICAL.Event(event);
		return `${startDate.toString()} ${summary}`;
	});
}

test('what is due stands in it by client and day, as it is by now; a call on the day on which it waits', async () => {
	const odalys = firm.odalys();
	expect(await address(odalys)).toBeNull();
	await make(odalys);
	const token = tokenIn(await address(odalys));
	expect(await days(token)).toEqual([]);
	await sendRequest(
		context,
		firm.id,
		odalys,
		requestTo(client, [paperLine('Lease', '2026-05-20'), paperLine('Deeds', '2026-05-20'), paperLine('Plan', '2026-05-22')])
	);
	await context.owner.query(
		`insert into chase_call (id, firm_id, client_id, contact_id, for_partner, item_ids, waits_from, made_at) values ($1, $2, $3, $4, false, '{}', '2026-05-01', now())`,
		[randomUUID(), firm.id, client.id, client.contactId]
	);
	expect(await days(token)).toEqual([
		'2026-05-20 Gull & String Kites: 2 things are due',
		'2026-05-22 Gull & String Kites: “Plan” is due',
		// it fell due on Friday and waits still
		'2026-05-04 Call Mara Whitlock (Gull & String Kites)'
	]);
	await context.owner.query(`update item set due_on = '2026-06-02' where title = 'Plan'`);
	expect(await days(token)).toContain('2026-06-02 Gull & String Kites: “Plan” is due');
});

test('only of the clients that its owner is told of and may see', async () => {
	await sendRequest(context, firm.id, firm.odalys(), requestTo(client, [paperLine('Lease', '2026-05-20')]));
	const partner = firm.partner;
	await make(partner);
	const token = tokenIn(await address(partner));
	expect(await days(token)).toEqual([]);
	await as(partner, (tx) => changeOwnTelling(tx, partner, { ...TOLD_NOTHING, whose: 'all' }));
	expect(await days(token)).toHaveLength(1);
	await firm.run((tx) => changeClientRights(tx, firm.odalys(), { clientId: client.id, restricted: true, rights: [] }));
	expect(await days(token)).toEqual([]);
});

test('another address ends the one before; ended, or its owner suspended, it leads nowhere', async () => {
	const odalys = firm.odalys();
	await make(odalys);
	const first = tokenIn(await address(odalys));
	await make(odalys);
	const second = tokenIn(await address(odalys));
	expect(second).not.toBe(first);
	expect([await days(first), await days('a'.repeat(43))]).toEqual([null, null]);
	expect(await days(second)).toEqual([]);
	// while the key is changed it is said still; without the old key it leads there, and cannot be said any more
	const fresh = 'ab'.repeat(32);
	expect(tokenIn(await address(odalys, `${fresh},${SECRET_KEY}`))).toBe(second);
	expect(await address(odalys, fresh)).toBeNull();
	await context.owner.query('update staff set suspended_at = now() where id = $1', [odalys.id]);
	expect(await days(second)).toBeNull();
	await context.owner.query('update staff set suspended_at = null where id = $1', [odalys.id]);
	await as(odalys, (tx) => endFeed(tx, odalys));
	expect([await days(second), await address(odalys)]).toEqual([null, null]);
});
