import { z } from 'zod';
import { addDays, localDate } from '$lib/core/calendar/firm-calendar';
import { pauseSchema } from '$lib/core/chasing/hold';
import { DomainError } from '$lib/core/errors/domain-error';
import { may } from '$lib/core/people/roles';
import { requireStaff, type Actor } from '$lib/server/actor';
import { changeChaseWords, chaseWordsSchema, leaveChaseOut, moveChase, sendChaseNow, type PlannedChase } from '$lib/server/chasing/change-chase';
import type { Firm } from '$lib/server/firms/firm';
import { readPlannedChase } from '$lib/server/messages/planned-chase';
import type { Tx } from '$lib/server/platform/db/database';
import { chaseSentence, chaseWays } from '$lib/server/rounds/chase-sentence';
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
				ways: chaseWays(chase),
				when: timeWords(firm.locale, chase.at, firm.calendar.timeZone),
				day: dateWords(firm.locale, chase.localDay, 'long'),
				after: addDays(chase.localDay, 1),
				clients: [...new Map(chase.items.map((item) => [item.clientId, item.clientName]))].map(([id, name]) => ({ id, name })),
				mayChange: desk.actor.role !== null && may(desk.actor.role, 'judge_item')
			};
		})
	);
};

type Event = Parameters<typeof deskForm>[0] & { params: { contact: string }; url: URL };

/** Runs one act on a reminder that is planned; whether somebody may is asked before which one it is. */
const change = (event: Event, work: (tx: Tx, actor: Actor, firm: Firm, planned: PlannedChase, form: FormData) => Promise<void>) =>
	deskForm(event, (tx, desk, form, firm) => {
		requireStaff(desk.actor, 'judge_item');
		const planned = { contactId: idParam(event.params.contact), day: dayOf(event.url.searchParams.get('day')) };
		return work(tx, desk.actor, firm, planned, form);
	});

export const actions = {
	leaveOut: (event) => change(event, (tx, actor, firm, planned) => leaveChaseOut(tx, actor, firm, planned, true)),
	putBack: (event) => change(event, (tx, actor, firm, planned) => leaveChaseOut(tx, actor, firm, planned, false)),
	changeWords: (event) =>
		change(event, (tx, actor, firm, planned, form) => changeChaseWords(tx, actor, firm, planned, chaseWordsSchema.parse(Object.fromEntries(form)))),
	usualWords: (event) => change(event, (tx, actor, firm, planned) => changeChaseWords(tx, actor, firm, planned, null)),
	sendNow: (event) => change(event, sendChaseNow),
	move: (event) =>
		change(event, (tx, actor, firm, planned, form) => {
			const { until } = pauseSchema(localDate(actor.now, firm.calendar)).parse({ until: form.get('until'), reason: 'moved' });
			return moveChase(tx, actor, firm, planned, until);
		})
};
