import { redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { chosenPlanSchema } from '$lib/core/clients/record-forms';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { may } from '$lib/core/people/roles';
import { publicPageSchema } from '$lib/core/public-pages/public-page';
import { questionnaireSchema } from '$lib/core/questionnaires/questionnaire';
import { readAlwaysKnown, readKnownForTrying } from '$lib/server/clients/clients-known';
import { requireStaff } from '$lib/server/actor';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { idParam, inForm, inPage, jsonField } from '$lib/web/form-errors';
import {
	changeQuestionnaire,
	copyForNextYear,
	copyQuestionnaire,
	listThatAsks,
	planQuestionnaire,
	readQuestionnaire,
	readQuestionnaireVersions,
	removeQuestionnaire,
	restoreQuestionnaire
} from '$lib/server/library/questionnaires';
import { closePublicPage, openPublicPage, readPublicPage } from '$lib/server/public-pages/pages';
import { readWritingPlace } from '$lib/server/requests/writing-place';
import { moveNotBegun, readNotBegun, readOutWithClients } from '$lib/server/requests/questionnaires-out';
import { timeWords } from '$lib/words/dates';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const as = event.url.searchParams.get('as');
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const id = idParam(event.params.questionnaire);
			const questionnaire = await readQuestionnaire(tx, desk.actor, id);
			const today = localDate(desk.actor.now, firm.calendar);
			const client = z.uuid().safeParse(as);
			const time = (at: string) => timeWords(firm.locale, at, firm.calendar.timeZone);
			return {
				questionnaire: { ...questionnaire, changedAt: time(questionnaire.changedAt) },
				versions: (await readQuestionnaireVersions(tx, id)).map((version) => ({ ...version, keptAt: time(version.keptAt) })),
				out: await readOutWithClients(tx, desk.actor, id),
				notBegun: await readNotBegun(tx, desk.actor, id),
				place: await readWritingPlace(tx, firm),
				alwaysKnown: await readAlwaysKnown(tx),
				publicPage: await readPublicPage(tx, desk.actor, id),
				/** what stands before the name of a public page in its address */
				publicAt: `${desk.context.settings.ORIGIN}/portal/${firm.slug}/answer/`,
				today,
				brandColor: firm.color,
				/** a client of the firm as whom it is tried: what this person may see of what is known */
				triedAs: client.success ? await readKnownForTrying(tx, desk.actor, client.data, today) : null,
				mayKeep: may(desk.actor.role, 'keep_library'),
				maySend: may(desk.actor.role, 'send_request')
			};
		})
	);
};

const versionField = z.coerce.number().int().positive();
const moveSchema = z.object({ itemIds: z.array(z.uuid()).min(1).max(5000), version: z.int().positive() });
const LOST = 'The questionnaire did not arrive whole. What you wrote is still here; please save it again.';

export const actions = {
	save: (event) =>
		deskForm(event, async (tx, desk, form) => {
			const typed = questionnaireSchema.parse(jsonField(form, 'questionnaire', 1_500_000, LOST));
			await changeQuestionnaire(tx, desk.actor, idParam(event.params.questionnaire), versionField.parse(form.get('version')), typed);
		}),
	restore: (event) =>
		deskForm(event, (tx, desk, form) =>
			restoreQuestionnaire(
				tx,
				desk.actor,
				idParam(event.params.questionnaire),
				versionField.parse(form.get('restore')),
				versionField.parse(form.get('version'))
			)
		),
	move: (event) =>
		deskForm(event, async (tx, desk, form) => {
			const input = moveSchema.parse(jsonField(form, 'move', 300_000, 'This did not arrive whole. Please try it again.'));
			return { moved: await moveNotBegun(tx, desk.actor, idParam(event.params.questionnaire), input) };
		}),
	openPublic: (event) =>
		deskForm(event, (tx, desk, form) =>
			openPublicPage(tx, desk.actor, idParam(event.params.questionnaire), publicPageSchema.parse(Object.fromEntries(form)))
		),
	plan: (event) =>
		deskForm(event, (tx, desk, form) => {
			requireStaff(desk.actor, 'keep_library');
			return planQuestionnaire(tx, desk.actor, idParam(event.params.questionnaire), chosenPlanSchema.parse(Object.fromEntries(form)).chasePlan);
		}),
	closePublic: (event) => deskForm(event, (tx, desk) => closePublicPage(tx, desk.actor, idParam(event.params.questionnaire))),
	/** Asks many clients, as lists do: the list that asks it is made if there is none. */
	askMany: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const list = await desk.inFirm((tx) => listThatAsks(tx, desk.actor, idParam(event.params.questionnaire)));
			redirect(303, `/desk/clients/ask?list=${list}`);
		});
	},
	copy: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const id = idParam(event.params.questionnaire);
			const make = form.get('for') === 'next_year' ? copyForNextYear : copyQuestionnaire;
			redirect(303, `/desk/library/questionnaires/${await desk.inFirm((tx) => make(tx, desk.actor, id))}`);
		});
	},
	remove: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			await desk.inFirm((tx) => removeQuestionnaire(tx, desk.actor, idParam(event.params.questionnaire)));
			redirect(303, '/desk/library/questionnaires');
		});
	}
};
