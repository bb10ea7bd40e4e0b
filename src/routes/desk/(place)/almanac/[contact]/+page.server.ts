import { z } from 'zod';
import { addDays, localDate } from '$lib/core/calendar/firm-calendar';
import { pauseSchema } from '$lib/core/chasing/hold';
import { DomainError } from '$lib/core/errors/domain-error';
import { may } from '$lib/core/people/roles';
import { requireStaff } from '$lib/server/actor';
import { changeChaseWords, chaseWordsSchema, leaveChaseOut, sendChaseNow } from '$lib/server/chasing/change-chase';
import { pauseReminders } from '$lib/server/chasing/holds';
import { readForecast } from '$lib/server/chasing/read-forecast';
import { readPlannedChase } from '$lib/server/messages/planned-chase';
import { chaseSentence } from '$lib/server/rounds/chase-sentence';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { dateWords, timeWords } from '$lib/words/dates';

const dayField = z.iso.date('Choose a day.');
const dayOf = (value: unknown) => {
	const day = dayField.safeParse(value);
	if (!day.success) throw new DomainError('not_found', 'There is nothing here.');
	return day.data;
};

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const { settings } = desk.context;
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const shown = await readPlannedChase(
				tx,
				desk.actor,
				firm,
				{ contactId: idParam(event.params.contact), day: dayOf(event.url.searchParams.get('day')) },
				{
					origin: settings.ORIGIN,
					secretKey: settings.SECRET_KEY,
					answerable: settings.PAPERS_MAIL_DOMAIN !== undefined && settings.PAPERS_SMTP_PORT !== undefined
				}
			);
			const { chase } = shown;
			return {
				...shown,
				...chaseSentence(chase, firm),
				when: timeWords(firm.locale, chase.at, firm.calendar.timeZone),
				day: dateWords(firm.locale, chase.localDay, 'long'),
				after: addDays(chase.localDay, 1),
				clients: [...new Map(chase.items.map((item) => [item.clientId, item.clientName]))].map(([id, name]) => ({ id, name })),
				mayChange: desk.actor.role !== null && may(desk.actor.role, 'judge_item')
			};
		})
	);
};

type Event = { params: { contact: string }; url: URL };
const plannedOf = ({ params, url }: Event) => ({ contactId: idParam(params.contact), day: dayOf(url.searchParams.get('day')) });

export const actions = {
	leaveOut: (event) => deskForm(event, (tx, desk, _form, firm) => leaveChaseOut(tx, desk.actor, firm, plannedOf(event), true)),
	putBack: (event) => deskForm(event, (tx, desk, _form, firm) => leaveChaseOut(tx, desk.actor, firm, plannedOf(event), false)),
	changeWords: (event) =>
		deskForm(event, (tx, desk, form, firm) => {
			requireStaff(desk.actor, 'judge_item');
			return changeChaseWords(tx, desk.actor, firm, plannedOf(event), chaseWordsSchema.parse(Object.fromEntries(form)));
		}),
	usualWords: (event) => deskForm(event, (tx, desk, _form, firm) => changeChaseWords(tx, desk.actor, firm, plannedOf(event), null)),
	sendNow: (event) => deskForm(event, (tx, desk, _form, firm) => sendChaseNow(tx, desk.actor, firm, plannedOf(event))),
	move: (event) =>
		deskForm(event, async (tx, desk, form, firm) => {
			requireStaff(desk.actor, 'judge_item');
			const { contactId, day } = plannedOf(event);
			const { until, reason } = pauseSchema(localDate(desk.actor.now, firm.calendar)).parse({
				until: form.get('until'),
				reason: `moved from ${dateWords(firm.locale, day)}`
			});
			const [chase] = await readForecast(tx, desk.actor, firm, [contactId], 1000);
			const ofClient = chase?.items[0]?.clientId;
			if (!ofClient) throw new DomainError('not_found', 'No reminder is planned any more.');
			await pauseReminders(tx, desk.actor, firm, { contactId, ofClient }, { until, reason });
		})
};
