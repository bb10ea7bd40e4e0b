import { z } from 'zod';
import { addDays, localDate } from '$lib/core/calendar/firm-calendar';
import { awaySchema, HOLD_MOST_DAYS } from '$lib/core/chasing/hold';
import { remarkSchema } from '$lib/core/requests/request-form';
import { readOwnAway, sayAway } from '$lib/server/chasing/holds';
import { markOwnWordsSeen, readOwnTalks, writeOwnWords } from '$lib/server/talk/words';
import { portalRequest } from '$lib/web/desk-request';
import { inForm } from '$lib/web/form-errors';
import { dateWords } from '$lib/words/dates';

export const load = async (event) => {
	const portal = await portalRequest(event);
	return portal.inFirm(async (tx, firm) => {
		const today = localDate(portal.actor.now, firm.calendar);
		const talks = await readOwnTalks(tx, portal.actor);
		// whoever of the firm looks at the page as they see it leaves no trace
		if (!portal.lookedAtBy) await markOwnWordsSeen(tx, portal.actor);
		const away = await readOwnAway(tx, portal.actor, today);
		return { talks, away: away && dateWords(portal.locale, away, 'long'), tomorrow: addDays(today, 1), last: addDays(today, HOLD_MOST_DAYS) };
	});
};

type Portal = Awaited<ReturnType<typeof portalRequest>>;
type Event = Parameters<typeof portalRequest>[0] & { request: Request };

/** Runs one act of this page. */
async function doIt<Done>(event: Event, work: (portal: Portal, form: FormData) => Promise<Done>) {
	const form = await event.request.formData();
	const portal = await portalRequest(event);
	return inForm(form, () => work(portal, form), portal.locale);
}

const wordsForm = remarkSchema.extend({ clientId: z.uuid() });

export const actions = {
	write: (event) =>
		doIt(event, async (portal, form) => {
			const input = wordsForm.parse(Object.fromEntries(form));
			await portal.inFirm((tx) => writeOwnWords(tx, portal.actor, input));
			return { sent: true };
		}),
	away: (event) =>
		doIt(event, async (portal, form) => {
			await portal.inFirm((tx, firm) => {
				const { until } = awaySchema(localDate(portal.actor.now, firm.calendar)).parse(Object.fromEntries(form));
				return sayAway(tx, portal.actor, firm, until);
			});
			return { away: true };
		}),
	back: (event) =>
		doIt(event, async (portal) => {
			await portal.inFirm((tx, firm) => sayAway(tx, portal.actor, firm, null));
			return { away: false };
		})
};
