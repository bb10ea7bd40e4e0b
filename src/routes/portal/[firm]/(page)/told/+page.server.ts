import { redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { mayText, CHANNELS } from '$lib/core/messages/ways';
import { phoneInWords } from '$lib/core/people/phone';
import { chooseOwnTimes, timesAsRead } from '$lib/server/chasing/their-times';
import { startReminders, stopOwnReminders } from '$lib/server/people/stop-reminders';
import { chooseOwnWay, readWrittenTo } from '$lib/server/people/written-to';
import type { Firm } from '$lib/server/firms/firm';
import type { Tx } from '$lib/server/platform/db/database';
import { portalRequest } from '$lib/web/desk-request';
import { inForm } from '$lib/web/form-errors';
import { readDevices, stopThere, tellHere } from '$lib/web/told-devices';
import { readTimesForm } from '$lib/web/times-form';
import { REGION_CHOICES } from '$lib/words/regions';

export const load = async (event) => {
	// how somebody is written to is theirs: whoever only looks at their page finds it in the record
	if (event.locals.signedIn?.lookedAtBy) redirect(303, `/portal/${event.params.firm}`);
	const portal = await portalRequest(event);
	return portal.inFirm(async (tx, firm) => {
		const { phone, times, ...written } = await readWrittenTo(tx, portal.actor);
		return {
			written: {
				...written,
				phone: phone && phoneInWords(phone, firm.country),
				times,
				asRead: timesAsRead(times),
				textsGo: portal.context.texts !== null,
				mayText: mayText({ phone, textProblem: written.textProblem })
			},
			hours: { timeZone: firm.calendar.timeZone, sendFrom: firm.calendar.sendFrom, sendTo: firm.calendar.sendTo, perWeek: firm.pace.perWeek },
			zones: REGION_CHOICES.timeZones,
			devices: await readDevices(tx, portal, event.locals.signedIn!, firm, portal.locale)
		};
	});
};

type Portal = Awaited<ReturnType<typeof portalRequest>>;
type Event = Parameters<typeof portalRequest>[0] & { request: Request };

/** Runs one act of this page. */
async function doIt(event: Event, work: (tx: Tx, portal: Portal, form: FormData, firm: Firm) => Promise<string | void>) {
	const form = await event.request.formData();
	const portal = await portalRequest(event);
	return inForm(
		form,
		async () => {
			return { stands: await portal.inFirm((tx, firm) => work(tx, portal, form, firm)) };
		},
		portal.locale
	);
}

export const actions = {
	stop: (event) => doIt(event, (tx, portal) => stopOwnReminders(tx, portal.actor)),
	start: (event) => doIt(event, (tx, portal) => startReminders(tx, portal.actor, portal.contactId)),
	way: (event) => doIt(event, (tx, portal, form) => chooseOwnWay(tx, portal.actor, z.enum(CHANNELS).parse(form.get('channels')))),
	tellHere: (event) => doIt(event, (tx, portal, form) => tellHere(tx, portal, event.locals.signedIn!, form)),
	stopThere: (event) => doIt(event, (tx, portal, form) => stopThere(tx, portal, form)),
	times: (event) => doIt(event, (tx, portal, form, firm) => chooseOwnTimes(tx, portal.actor, firm, readTimesForm(form)))
};
