import { z } from 'zod';
import { cleanText } from '$lib/core/people/plain-fields';
import { CLIENT_ORDERS, countClients, COUNTED_TO, readClients } from '$lib/server/clients/read-clients';
import { deskRequest } from '$lib/web/desk-request';
import { dateWords, dayOf, numberWords, timeWords } from '$lib/words/dates';

const PAGE = 40;
const querySchema = z.object({
	order: z.enum(CLIENT_ORDERS).catch('wait'),
	search: z.string().max(100).transform(cleanText).nullable().catch(null),
	mine: z.coerce.boolean().catch(false),
	ended: z.coerce.boolean().catch(false),
	after: z
		.string()
		.regex(/^.{1,200}~[0-9a-f-]{36}$/)
		.nullable()
		.catch(null)
});

const countWords = (n: number) => (n < COUNTED_TO ? String(n) : `over ${numberWords('en', COUNTED_TO - 1)}`);

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const query = querySchema.parse(Object.fromEntries(['order', 'search', 'mine', 'ended', 'after'].map((k) => [k, event.url.searchParams.get(k)])));
	const after = query.after
		? { key: query.after.slice(0, query.after.lastIndexOf('~')), id: query.after.slice(query.after.lastIndexOf('~') + 1) }
		: null;
	return desk.read(async (tx, firm) => {
		const lines = await readClients(
			tx,
			desk.actor,
			firm,
			{ order: query.order, search: query.search || null, responsibleId: query.mine ? desk.actor.id : null, ended: query.ended, after },
			PAGE + 1
		);
		const counts = await countClients(tx, firm, desk.actor.now);
		const { timeZone } = firm.calendar;
		const today = dayOf(desk.actor.now, timeZone);
		const shown = lines.slice(0, PAGE);
		return {
			lines: shown.map((line) => ({
				id: line.id,
				name: line.name,
				state: line.state,
				responsible: line.responsible,
				wait: line.wait,
				light: line.light,
				ticks: line.ticks,
				nextChase: line.heldBack
					? 'held back'
					: line.ranOut
						? 'all sent; call'
						: line.nextChaseOn
							? dateWords(firm.locale, line.nextChaseOn < today ? today : line.nextChaseOn)
							: null,
				lastSign: line.lastSignOfLife
					? dayOf(line.lastSignOfLife, timeZone) === today
						? `today ${timeWords(firm.locale, line.lastSignOfLife, timeZone, 'time')}`
						: dateWords(firm.locale, dayOf(line.lastSignOfLife, timeZone), 'short')
					: null
			})),
			next: lines.length > PAGE ? `${shown[PAGE - 1].cursor.key}~${shown[PAGE - 1].cursor.id}` : null,
			counts: {
				all: countWords(counts.all),
				needYou: countWords(counts.needYou),
				noAddress: counts.noAddress && countWords(counts.noAddress),
				firstWithout: counts.firstWithout
			},
			query
		};
	});
};
