import { randomUUID } from 'node:crypto';
import { expect, test } from 'vitest';
import type { Channel } from '$lib/core/messages/ways';
import type { Database, Tx } from '../platform/db/database';
import { itemsOf, makeClient, paperLine, requestTo, sendPlanned } from '../testing/test-firm';
import { context, firm, useFirm } from '../testing/use-firm';
import { sendRequest } from '../requests/send-request';
import { machine } from '../actor';
import { planMessage } from '../outbox/plan-message';
import { sendMessage, type SendingPlace } from './send-message';
import { markStuckMessages } from './stuck-messages';

useFirm({ withClient: false });

/** A process that is gone: nothing of its code runs any more. */
class Killed extends Error {}
/** The connection to the database is gone, and the process is not. */
const lost = () => Object.assign(new Error('Connection terminated unexpectedly'), { code: 'ECONNRESET' });

/**
 * A place in which sending breaks off at one point: before or after a statement, at either side of a commit, before or after the mail server,
 * or the gateway of text messages, has it. What is left of a transaction is undone, as the database does it for whoever has gone.
 * @param at which point, from 1, in the order of time; 0 for none
 * @param once whether everything works again after that
 * @returns the place, and how many points were passed
 */
function breakingOff(place: SendingPlace, at: number, error: () => Error, { once }: { once: boolean }) {
	let passed = 0;
	const point = () => {
		passed++;
		if (at > 0 && (once ? passed === at : passed >= at)) throw error();
	};
	const between = async <T>(work: () => Promise<T>): Promise<T> => {
		point();
		const result = await work();
		point();
		return result;
	};
	const within = (tx: Tx): Tx => ({
		...tx,
		rows: (sql, values) => between(() => tx.rows(sql, values)),
		first: (sql, values) => between(() => tx.first(sql, values))
	});
	const db: Database = {
		...place.db,
		inFirm: (firmId, work, as, access) =>
			between(() =>
				place.db.inFirm(
					firmId,
					async (tx) => {
						const result = await work(within(tx));
						point();
						return result;
					},
					as,
					access
				)
			)
	};
	const { mailer, texts } = place;
	return {
		place: {
			...place,
			db,
			mailer: { ...mailer, send: (mail: Parameters<typeof mailer.send>[0]) => between(() => mailer.send(mail)) },
			texts: texts && { ...texts, send: (text: Parameters<typeof texts.send>[0]) => between(() => texts.send(text)) }
		},
		passed: () => passed
	};
}

const WAYS = ['email', 'text'] as const satisfies Channel[];
let numbers = 0;
/** A message that is planned, and how often it arrived. */
async function oneMessage(channel: Channel) {
	const client = await makeClient(context, firm);
	const requestId = await sendRequest(
		context,
		firm.id,
		firm.odalys(),
		requestTo(client, [paperLine('Lease', '2026-05-20')], { idempotencyKey: randomUUID() })
	);
	await sendPlanned(context, firm);
	context.mailer.sent.length = 0;
	context.texts.sent.length = 0;
	const phone = `+1902555${String(++numbers).padStart(4, '0')}`;
	await context.owner.query('update contact set phone = $2 where id = $1', [client.contactId, phone]);
	const [{ id: itemId }] = await itemsOf(context, requestId);
	const planned = await firm.run((tx) =>
		planMessage(tx, machine(context.clock.now()), {
			kind: 'request',
			idempotencyKey: randomUUID(),
			channel,
			to: { address: channel === 'text' ? phone : client.email, contactId: client.contactId },
			clientId: client.id,
			content: { subject: 'One', body: 'Please.' },
			items: [{ itemId, step: null }]
		})
	);
	return {
		id: planned!.id,
		arrived: () =>
			context.mailer.sent.filter(({ to }) => to.address === client.email).length + context.texts.sent.filter(({ to }) => to === phone).length
	};
}
const stateOf = async (id: string): Promise<string> => (await context.owner.query('select state from message where id = $1', [id])).rows[0].state;
/** How many points there are in sending a message, when nothing happens. */
async function allPoints(channel: Channel): Promise<number> {
	const { id } = await oneMessage(channel);
	const whole = breakingOff(context.place, 0, lost, { once: true });
	expect(await sendMessage(whole.place, firm.id, id)).toBe('done');
	return whole.passed();
}

test.each(WAYS)(
	'killed at each point, a message by %s goes at most once and is never lost: it goes, or a person hears of it',
	async (channel) => {
		const points = await allPoints(channel);
		expect(points).toBeGreaterThan(16);
		const became: string[] = [];
		for (let at = 1; at <= points; at++) {
			const { id, arrived } = await oneMessage(channel);
			await expect(sendMessage(breakingOff(context.place, at, () => new Killed(), { once: false }).place, firm.id, id)).rejects.toBeInstanceOf(
				Killed
			);
			// the queue gives the job to another worker; and after a quarter of an hour somebody looks for what was left
			await sendMessage(context.place, firm.id, id);
			await context.owner.query(`update message set sending_since = sending_since - interval '16 minutes' where id = $1 and state = 'sending'`, [id]);
			await markStuckMessages(context.place);
			await sendMessage(context.place, firm.id, id);
			const [state, mails] = [await stateOf(id), arrived()];
			const where = `killed at ${at} of ${points}: ${state}, arrived ${mails} times`;
			expect(mails, where).toBeLessThanOrEqual(1);
			expect(['sent', 'unclear'], where).toContain(state);
			// what is said to have gone has arrived; of the rest a person knows
			if (state === 'sent') expect(mails, where).toBe(1);
			became.push(state);
		}
		// in doubt is only what was killed between the note that it goes and the note of what became of it
		expect(became.join(' ')).toMatch(/^(sent )+(unclear )+sent$/);
	},
	120_000
);

test.each(WAYS)(
	'while the database goes away at each point, a message by %s goes once, and it is known that it did',
	async (channel) => {
		const points = await allPoints(channel);
		for (let at = 1; at <= points; at++) {
			const { id, arrived } = await oneMessage(channel);
			const breaking = breakingOff(context.place, at, lost, { once: true });
			// the mail server and the gateway do not go away with it
			const { mailer, texts } = context.place;
			await sendMessage({ ...breaking.place, mailer, texts }, firm.id, id).catch(() => undefined);
			await sendMessage(context.place, firm.id, id);
			expect([await stateOf(id), arrived()], `lost at ${at} of ${points}`).toEqual(['sent', 1]);
		}
	},
	120_000
);
