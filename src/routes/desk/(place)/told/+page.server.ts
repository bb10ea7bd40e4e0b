import { z } from 'zod';
import { addToInstant } from '$lib/core/calendar/firm-calendar';
import { kindsFor, nextSummary, settledBy } from '$lib/core/telling/telling';
import { requireStaff } from '$lib/server/actor';
import { endFeed, makeFeed, readFeed } from '$lib/server/telling/calendar-feed';
import { readSummary } from '$lib/server/telling/read-told';
import { changeOwnTelling, readOwnTelling, tellAsUsual, tellLikeOthers } from '$lib/server/telling/settings';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { readDevices, stopThere, tellHere } from '$lib/web/told-devices';
import { typedTelling } from '$lib/web/telling-form';
import { timeWords } from '$lib/words/dates';
import { toldWords } from '$lib/words/told-words';
import { sayer } from '$lib/words/words';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return desk.read(async (tx, firm) => {
		const { actor } = desk;
		requireStaff(actor, 'look');
		const { telling, own, lastAt, clients } = await readOwnTelling(tx, actor);
		const next = nextSummary(telling, firm.calendar, lastAt ?? actor.now, actor.now);
		// whoever has had none sees what the last day would have given
		const since = telling.summary === 'none' || lastAt === null ? addToInstant(actor.now, { hours: -24 }) : settledBy(lastAt);
		const summary = await readSummary(tx, actor, firm, telling, since, actor.now);
		return {
			telling,
			own,
			clients,
			kinds: kindsFor(actor.role),
			next: next && timeWords('en', next, firm.calendar.timeZone),
			summary: summary && toldWords(summary, { say: sayer('en'), locale: 'en', timeZone: firm.calendar.timeZone, which: 'summary' }),
			email: event.locals.signedIn!.email,
			devices: await readDevices(tx, desk, event.locals.signedIn!, firm, 'en'),
			feed: await readFeed(tx, actor, { origin: desk.context.settings.ORIGIN, secretKey: desk.context.settings.SECRET_KEY })
		};
	});
};

export const actions = {
	save: (event) =>
		deskForm(event, async (tx, desk, form) => changeOwnTelling(tx, desk.actor, typedTelling(form, (await readOwnTelling(tx, desk.actor)).telling))),
	makeFeed: (event) => deskForm(event, (tx, desk) => makeFeed(tx, desk.actor, desk.context.settings.SECRET_KEY)),
	endFeed: (event) => deskForm(event, (tx, desk) => endFeed(tx, desk.actor)),
	tellHere: (event) => deskForm(event, (tx, desk, form) => tellHere(tx, desk, event.locals.signedIn!, form)),
	stopThere: (event) => deskForm(event, (tx, desk, form) => stopThere(tx, desk, form)),
	usual: (event) => deskForm(event, (tx, desk) => tellAsUsual(tx, desk.actor)),
	client: (event) =>
		deskForm(event, (tx, desk, form) => {
			requireStaff(desk.actor, 'look');
			return tellLikeOthers(tx, desk.actor, z.uuid('Choose a client.').parse(form.get('clientId')));
		})
};
