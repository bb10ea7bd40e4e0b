import { z } from 'zod';
import { inHand } from '$lib/core/requests/request-list';
import { scheduleInWords } from '$lib/core/schedules/recurrence';
import { standingSchema } from '$lib/core/schedules/standing-form';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';
import { loadStandingSheet, occurrenceInWords, previewStanding, SHOWN_AHEAD, typedStanding } from '$lib/web/standing-forms';
import {
	changeOccurrence,
	comingOccurrences,
	moveStanding,
	readMadeOccurrences,
	readStanding,
	startNow,
	writeStanding
} from '$lib/server/schedules/standing-requests';
import { readAttachments } from '$lib/server/requests/attachments';
import { timeWords } from '$lib/words/dates';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const standing = await readStanding(tx, desk.actor, idParam(event.params.standing));
			return {
				...(await loadStandingSheet(tx, desk.actor, firm)),
				standing: { ...standing, lines: standing.lines.map((line) => inHand(line)) },
				ruleWords: scheduleInWords(standing.schedule, firm.calendar.businessDays),
				files: await readAttachments(
					tx,
					standing.lines.flatMap((line) => line.attachments)
				),
				coming:
					standing.state === 'ended' ? [] : comingOccurrences(standing, firm, SHOWN_AHEAD).map((occurrence) => occurrenceInWords(occurrence, firm)),
				made: (await readMadeOccurrences(tx, desk.actor, standing.id)).map((one) => ({
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
			writeStanding(tx, desk.actor, idParam(event.params.client), standingSchema.parse(typedStanding(form)), {
				id: idParam(event.params.standing),
				version: z.coerce.number().int().parse(form.get('version'))
			})
		),
	preview: (event) => previewStanding(event),
	move: (event) =>
		deskForm(event, (tx, desk, form) =>
			moveStanding(tx, desk.actor, {
				id: idParam(event.params.standing),
				to: z.enum(['paused', 'running', 'ended']).parse(form.get('to')),
				until: z.iso
					.date('Choose a day.')
					.nullable()
					.parse(form.get('until') || null),
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
