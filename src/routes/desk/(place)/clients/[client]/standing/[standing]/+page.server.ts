import { z } from 'zod';
import { inHand } from '$lib/core/requests/request-list';
import { scheduleInWords } from '$lib/core/schedules/recurrence';
import { recurringSchema } from '$lib/core/schedules/recurring-form';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { loadRecurringSheet, occurrenceInWords, planOfRecurring, previewRecurring, SHOWN_AHEAD, typedRecurring } from '$lib/web/recurring-forms';
import { changeOccurrence, moveRecurring, startNow, writeRecurring } from '$lib/server/schedules/change-recurring';
import { comingOccurrences, readMadeOccurrences } from '$lib/server/schedules/read-occurrences';
import { readRecurring } from '$lib/server/schedules/recurring-requests';
import { readOpenLetters } from '$lib/server/letters/open-letters';
import { readAttachments } from '$lib/server/attachments/attachments';
import { timeWords } from '$lib/words/dates';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const recurring = await readRecurring(tx, desk.actor, idParam(event.params.standing));
			const plan = await planOfRecurring(tx, firm, recurring);
			return {
				...(await loadRecurringSheet(tx, desk.actor, firm)),
				openLetters: await readOpenLetters(tx, desk.actor, recurring.clientId),
				recurring: { ...recurring, lines: recurring.lines.map((line) => inHand(line)) },
				ruleWords: scheduleInWords(recurring.schedule, firm.calendar.businessDays),
				files: await readAttachments(
					tx,
					recurring.lines.flatMap((line) => line.attachments)
				),
				coming:
					recurring.state === 'ended'
						? []
						: comingOccurrences(recurring, firm, SHOWN_AHEAD).map((occurrence) => occurrenceInWords(occurrence, firm, plan)),
				made: (await readMadeOccurrences(tx, desk.actor, recurring.id)).map((one) => ({
					...one,
					at: timeWords(firm.locale, one.at, firm.calendar.timeZone)
				}))
			};
		})
	);
};

const day = z.iso.date('Choose a day.');

export const actions = {
	save: (event) =>
		deskForm(event, (tx, desk, form) =>
			writeRecurring(tx, desk.actor, idParam(event.params.client), recurringSchema.parse(typedRecurring(form)), {
				id: idParam(event.params.standing),
				version: z.coerce.number().int().parse(form.get('version'))
			})
		),
	preview: (event) => previewRecurring(event),
	move: (event) =>
		deskForm(event, (tx, desk, form) =>
			moveRecurring(tx, desk.actor, {
				id: idParam(event.params.standing),
				to: z.enum(['paused', 'running', 'ended']).parse(form.get('to')),
				until: z.iso
					.date('Choose a day.')
					.nullable()
					.parse(form.get('until') || null),
				afterLetters: z.array(z.uuid()).max(20).parse(form.getAll('afterLetter').filter(Boolean)),
				reason: String(form.get('reason') ?? '')
					.trim()
					.slice(0, 300)
			})
		),
	skip: (event) =>
		deskForm(event, (tx, desk, form) =>
			changeOccurrence(tx, desk.actor, { id: idParam(event.params.standing), ruleDay: day.parse(form.get('day')), skip: form.get('skip') === 'yes' })
		),
	moveOne: (event) =>
		deskForm(event, (tx, desk, form) =>
			changeOccurrence(tx, desk.actor, {
				id: idParam(event.params.standing),
				ruleDay: day.parse(form.get('day')),
				moveTo: form.get('back') ? null : day.parse(form.get('moveTo'))
			})
		),
	startNow: (event) => deskForm(event, (tx, desk, form) => startNow(tx, desk.actor, idParam(event.params.standing), day.parse(form.get('day'))))
};
