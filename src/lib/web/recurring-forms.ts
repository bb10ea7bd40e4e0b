import { localDate } from '$lib/core/calendar/firm-calendar';
import { chasePlanOf, placeChaseSteps, type ChasePlan } from '$lib/core/chasing/chase-plan';
import { READY_MADE_LETTER } from '$lib/core/letters/ready-made-letter';
import { scheduleInWords } from '$lib/core/schedules/recurrence';
import { scheduleOf, recurringSchema } from '$lib/core/schedules/recurring-form';
import { dateWords } from '$lib/words/dates';
import type { Actor } from '$lib/server/actor';
import { readPlansFor } from '$lib/server/chasing/which-plan';
import { readServices } from '$lib/server/clients/client-record';
import { readWritingPlace } from '$lib/server/requests/writing-place';
import { deskRequest } from './desk-request';
import type { Firm } from '$lib/server/firms/firm';
import { idParam, inForm, jsonField } from './form-errors';
import type { Tx } from '$lib/server/platform/db/database';
import { describeOccurrences, type OccurrenceRow } from '$lib/server/schedules/read-occurrences';

/** The standing request that a form holds, not yet checked. */
export function typedRecurring(form: FormData): unknown {
	return jsonField(form, 'standing', 1_500_000, 'It did not arrive whole. What you wrote is still here; please try again.');
}

/** What the sheet of a standing request needs beside the request itself. */
export async function loadRecurringSheet(tx: Tx, actor: Actor, firm: Firm) {
	const services = (await readServices(tx)).map((service) => service.name);
	return {
		today: localDate(actor.now, firm.calendar),
		services,
		letter: READY_MADE_LETTER,
		opening: firm.calendar.sendFrom,
		place: await readWritingPlace(tx, firm)
	};
}

/** The plan by which the first person that a standing request asks would be chased. */
export async function planOfRecurring(tx: Tx, firm: Firm, asked: { clientId: string; contactId: string; listId: string | null }): Promise<ChasePlan> {
	const plans = await readPlansFor(tx, { clientId: asked.clientId, contactIds: [asked.contactId], listId: asked.listId, chosen: null });
	return chasePlanOf(firm, plans.get(asked.contactId)?.key ?? null);
}

/** An occurrence as it is shown: when it is asked, until when, and the reminders that would follow. */
export function occurrenceInWords(occurrence: OccurrenceRow, firm: Firm, plan: ChasePlan) {
	const due = occurrence.dues[0];
	return {
		ruleDay: occurrence.ruleDay,
		askedOn: occurrence.askedOn,
		title: occurrence.title,
		asked: dateWords(firm.locale, occurrence.askedOn),
		due:
			occurrence.dues.length === 0
				? ''
				: occurrence.dues.length === 1
					? dateWords(firm.locale, due)
					: `${dateWords(firm.locale, due)} to ${dateWords(firm.locale, occurrence.dues.at(-1)!)}`,
		chases: due
			? placeChaseSteps({ dueOn: due ?? null, askedOn: occurrence.askedOn, heardOn: null }, plan, firm.calendar)
					.filter((step) => step.on > occurrence.askedOn)
					.map((step) => dateWords(firm.locale, step.on, 'short'))
			: [],
		skipped: occurrence.skipped,
		moved: occurrence.moved,
		/** the last day of what it is about; null without a period */
		periodEnds: occurrence.period?.to ?? null
	};
}

export const SHOWN_AHEAD = 12;

/** What a standing request would do, as it is written now: its rule in words and the next twelve occurrences. */
export async function previewRecurring(event: Parameters<typeof deskRequest>[0] & { request: Request; params: { client: string } }) {
	const form = await event.request.formData();
	return inForm(form, async () => {
		const desk = await deskRequest(event);
		const typed = recurringSchema.parse(typedRecurring(form));
		return desk.inFirm(async (tx, firm) => {
			const schedule = scheduleOf(typed, firm.calendar.businessDays);
			const today = localDate(desk.actor.now, firm.calendar);
			const plan = await planOfRecurring(tx, firm, { ...typed, clientId: idParam(event.params.client) });
			const from = typed.startsOn > today ? typed.startsOn : today;
			return {
				rule: scheduleInWords(schedule, firm.calendar.businessDays),
				occurrences: describeOccurrences(schedule, typed, from, firm, SHOWN_AHEAD).map((occurrence) => occurrenceInWords(occurrence, firm, plan))
			};
		});
	});
}
