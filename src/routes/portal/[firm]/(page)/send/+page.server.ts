import { noteArrival, noteField, readClientsToSendFor, readOwnAddress, readOwnArrivals, takeBackArrival } from '$lib/server/papers/arrivals';
import { portalRequest } from '$lib/web/desk-request';
import { idParam, inForm } from '$lib/web/form-errors';
import { dateWords, dayOf } from '$lib/words/dates';

export const load = async (event) => {
	const portal = await portalRequest(event);
	return portal.read(async (tx, firm) => ({
		clients: await readClientsToSendFor(tx, portal.actor, portal.context.settings.PAPERS_MAIL_DOMAIN),
		own: await readOwnAddress(tx, portal.actor),
		sent: (await readOwnArrivals(tx, portal.actor)).map((one) => ({
			...one,
			on: dateWords(portal.locale, dayOf(one.sentAt, firm.calendar.timeZone), 'short')
		}))
	}));
};

type Event = Parameters<typeof portalRequest>[0] & { request: Request };

async function doIt(event: Event, work: (portal: Awaited<ReturnType<typeof portalRequest>>, paperId: string, form: FormData) => Promise<void>) {
	const form = await event.request.formData();
	const portal = await portalRequest(event);
	return inForm(
		form,
		async () => {
			await work(portal, idParam(String(form.get('paperId') ?? '')), form);
			return { done: true };
		},
		portal.locale
	);
}

export const actions = {
	note: (event) =>
		doIt(event, (portal, paperId, form) =>
			portal.inFirm((tx) => noteArrival(tx, portal.actor, { paperId, note: noteField.parse(String(form.get('note') ?? '')) }))
		),
	removePaper: (event) => doIt(event, (portal, paperId) => portal.inFirm((tx) => takeBackArrival(tx, portal.actor, paperId)))
};
