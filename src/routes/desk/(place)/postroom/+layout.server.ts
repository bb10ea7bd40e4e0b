import { z } from 'zod';
import { MESSAGE_STATES } from '$lib/core/messages/message-states';
import { deskRequest } from '$lib/web/desk-request';
import { readPostroom } from '$lib/server/messages/read-postroom';
import { dayOf } from '$lib/words/dates';

const PAGE = 60;
const querySchema = z.object({
	state: z.enum(MESSAGE_STATES).optional().catch(undefined),
	before: z
		.string()
		.regex(/^[0-9TZ:.-]+~[0-9a-f-]{36}$/)
		.optional()
		.catch(undefined)
});

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const query = querySchema.parse({
		state: event.url.searchParams.get('state') ?? undefined,
		before: event.url.searchParams.get('before') ?? undefined
	});
	const [plannedAt, id] = query.before?.split('~') ?? [];
	return desk.read(async (tx, firm) => {
		const rows = await readPostroom(tx, desk.actor, { state: query.state, before: id ? { plannedAt, id } : undefined }, PAGE + 1);
		return {
			messages: rows.slice(0, PAGE).map((m) => ({ ...m, day: dayOf(m.plannedAt, firm.calendar.timeZone) })),
			more: rows.length > PAGE,
			state: query.state ?? null
		};
	});
};
