import { z } from 'zod';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { planChoices } from '$lib/core/chasing/chase-plan';
import { DomainError } from '$lib/core/errors/domain-error';
import { cleanText } from '$lib/core/people/plain-fields';
import { deskRequest } from '$lib/server/desk-request';
import { inForm, inPage, jsonField } from '$lib/server/form-errors';
import { readDrafts, removeDrafts } from '$lib/server/requests/drafts';
import { actOnMany, ASKED_PAGE, ASKED_SHOWN, manyActSchema, readAsked, undoMany, undoSchema } from '$lib/server/requests/many';
import { sendDraft } from '$lib/server/requests/send-draft';
import { timeWords } from '$lib/words/dates';

const querySchema = z.object({
	show: z.enum([...ASKED_SHOWN, 'drafts']).catch('late'),
	mine: z.coerce.boolean().catch(false),
	words: z.string().max(100).transform(cleanText).nullable().catch(null),
	after: z.coerce.number().int().min(0).max(1_000_000).catch(0)
});

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const query = querySchema.parse(Object.fromEntries(['show', 'mine', 'words', 'after'].map((name) => [name, event.url.searchParams.get(name)])));
	return inPage(() =>
		desk.inFirm(async (tx, firm) => {
			const today = localDate(desk.actor.now, firm.calendar);
			const items =
				query.show === 'drafts'
					? []
					: await readAsked(tx, desk.actor, today, { show: query.show, mine: query.mine, words: query.words || null }, query.after);
			return {
				query,
				today,
				drafts:
					query.show === 'drafts'
						? (await readDrafts(tx, desk.actor)).map((draft) => ({
								...draft,
								changedAt: timeWords(firm.locale, draft.changedAt, firm.calendar.timeZone)
							}))
						: [],
				items: items.slice(0, ASKED_PAGE),
				next: items.length > ASKED_PAGE ? query.after + ASKED_PAGE : null,
				plans: planChoices(firm)
			};
		})
	);
};

const jsonOf = (form: FormData, name: string) => jsonField(form, name, 200_000, 'What you chose did not arrive whole. Please try again.');

const ids = z.array(z.uuid()).min(1, 'Choose at least one draft.').max(500);

export const actions = {
	act: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const input = manyActSchema.parse({
				act: form.get('act'),
				dueOn: form.get('dueOn') || null,
				plan: form.get('plan') || null,
				rank: form.get('rank') || null,
				items: jsonOf(form, 'items')
			});
			return { results: await actOnMany(desk.house.db, desk.firmId, desk.actor, input) };
		});
	},
	undo: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			return { undone: await undoMany(desk.house.db, desk.firmId, desk.actor, undoSchema.parse(jsonOf(form, 'undo'))) };
		});
	},
	/** Sends chosen drafts one after another; what cannot go stays and says why. */
	sendDrafts: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const results: { title: string; clientName: string; problem: string | null }[] = [];
			const chosen = ids.parse(jsonOf(form, 'drafts'));
			const drafts = (await desk.inFirm((tx) => readDrafts(tx, desk.actor))).filter((draft) => chosen.includes(draft.id));
			for (const draft of drafts) {
				try {
					await sendDraft(desk.house, desk.firmId, desk.actor, draft.id);
					results.push({ title: draft.title, clientName: draft.clientName, problem: null });
				} catch (cause) {
					if (!(cause instanceof DomainError) && !(cause instanceof z.ZodError)) throw cause;
					results.push({
						title: draft.title,
						clientName: draft.clientName,
						problem: cause instanceof DomainError ? cause.message : cause.issues[0].message
					});
				}
			}
			return { results };
		});
	},
	removeDrafts: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			return { removed: await desk.inFirm((tx) => removeDrafts(tx, desk.actor, ids.parse(jsonOf(form, 'drafts')))) };
		});
	}
};
