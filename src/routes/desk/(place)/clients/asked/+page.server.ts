import { z } from 'zod';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { chasePlanChoices } from '$lib/core/chasing/chase-plan';
import { DomainError } from '$lib/core/errors/domain-error';
import { cleanText } from '$lib/core/people/plain-fields';
import { draftsActSchema, itemsActSchema, MANY_MOST, undoDraftsSchema, undoItemsSchema } from '$lib/core/requests/many-acts';
import { deskRequest } from '$lib/web/desk-request';
import { inForm, inPage, jsonField } from '$lib/web/form-errors';
import { actOnMany, foreseeMany, undoMany, type Foreseen } from '$lib/server/requests/act-on-many';
import { DRAFTS_PAGE, readDrafts, readDraftVersions, removeDrafts } from '$lib/server/drafts/drafts';
import { changeDrafts, foreseeDraftsChange, foreseeRemoval, undoDrafts } from '$lib/server/requests/many-drafts';
import { ASKED_BY, ASKED_PAGE, ASKED_SHOWN, readAsked, readAskedTogether, readChosen } from '$lib/server/requests/read-asked';
import { undoSending } from '$lib/server/requests/undo-sending';
import { foreseeSending, sendDrafts } from '$lib/server/requests/send-draft';
import { timeWords } from '$lib/words/dates';

const querySchema = z.object({
	show: z.enum([...ASKED_SHOWN, 'drafts']).catch('late'),
	by: z.enum(ASKED_BY).catch('line'),
	mine: z.coerce.boolean().catch(false),
	words: z
		.string()
		.max(100)
		.transform((words) => cleanText(words) || null)
		.nullable()
		.catch(null),
	after: z.coerce.number().int().min(0).max(1_000_000).catch(0)
});
type Query = z.output<typeof querySchema>;

const filterOf = ({ show, mine, words }: Query) => ({ show: show === 'drafts' ? ('open' as const) : show, mine, words });

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const query = querySchema.parse(
		Object.fromEntries(['show', 'by', 'mine', 'words', 'after'].map((name) => [name, event.url.searchParams.get(name)]))
	);
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const today = localDate(desk.actor.now, firm.calendar);
			const { show, by, after, mine, words } = query;
			const drafts = show === 'drafts' ? await readDrafts(tx, desk.actor, { mine, words }, after) : [];
			const items = show !== 'drafts' && by === 'line' ? await readAsked(tx, desk.actor, today, filterOf(query), after) : [];
			const together = show !== 'drafts' && by !== 'line' ? await readAskedTogether(tx, desk.actor, today, filterOf(query), by, after) : [];
			const page = show === 'drafts' ? DRAFTS_PAGE : ASKED_PAGE;
			return {
				query,
				today,
				drafts: drafts.slice(0, page).map((draft) => ({ ...draft, changedAt: timeWords(firm.locale, draft.changedAt, firm.calendar.timeZone) })),
				items: items.slice(0, page),
				together: together.slice(0, page),
				next: drafts.length + items.length + together.length > page ? after + page : null,
				plans: chasePlanChoices(firm)
			};
		})
	);
};

const jsonOf = (form: FormData, name: string) => jsonField(form, name, 200_000, 'What you chose did not arrive whole. Please try again.');
const chosenIds = z.array(z.uuid()).min(1, 'Choose something first.').max(MANY_MOST, `At most ${MANY_MOST} rows at once. Choose fewer.`);
const given = (form: FormData) => ({
	act: form.get('act'),
	dueOn: form.get('dueOn') || null,
	plan: form.get('plan') || null,
	rank: form.get('rank') || null
});

async function foreseeDrafts(desk: Awaited<ReturnType<typeof deskRequest>>, form: FormData, ids: string[]): Promise<{ foreseen: Foreseen }> {
	const items = await desk.inFirm((tx) => readDraftVersions(tx, desk.actor, ids));
	const { act, ...input } = draftsActSchema.parse({ ...given(form), items });
	if (act === 'send') return { foreseen: await desk.inFirm((tx) => foreseeSending(tx, desk.actor, ids)) };
	if (act === 'remove') return { foreseen: foreseeRemoval(desk.actor, items) };
	return { foreseen: await foreseeDraftsChange(desk.context.db, desk.firmId, desk.actor, { ...input, act }) };
}

export const actions = {
	/** What an act would do with what is chosen, before anything is done. */
	foresee: async (event): Promise<{ foreseen: Foreseen } | { refused: string } | object> => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const query = querySchema.parse(Object.fromEntries(form));
			const ids = chosenIds.parse(jsonOf(form, 'ids'));
			try {
				if (query.show === 'drafts') return await foreseeDrafts(desk, form, ids);
				const items = await desk.inFirm((tx, firm) =>
					readChosen(tx, desk.actor, localDate(desk.actor.now, firm.calendar), filterOf(query), query.by, ids)
				);
				return { foreseen: await foreseeMany(desk.context.db, desk.firmId, desk.actor, itemsActSchema.parse({ ...given(form), items })) };
			} catch (cause) {
				// while a date is being typed there is nothing to foresee yet: what is wrong is shown in its place
				if (cause instanceof DomainError && cause.code === 'invalid') return { refused: cause.message };
				if (cause instanceof z.ZodError) return { refused: cause.issues[0].message };
				throw cause;
			}
		});
	},
	act: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const items = jsonOf(form, 'items');
			if (form.get('show') !== 'drafts')
				return { results: await actOnMany(desk.context.db, desk.firmId, desk.actor, itemsActSchema.parse({ ...given(form), items })) };
			const input = draftsActSchema.parse({ ...given(form), items });
			const ids = input.items.map(({ id }) => id);
			const { act } = input;
			if (act === 'send') return { results: await sendDrafts(desk.context, desk.firmId, desk.actor, ids) };
			return desk.inFirm(async (tx) => ({
				results:
					act === 'remove'
						? (await removeDrafts(tx, desk.actor, ids)).map((gone) => ({ ...gone, problem: null, undo: { id: gone.id, version: gone.version } }))
						: await changeDrafts(tx, desk.actor, { ...input, act })
			}));
		});
	},
	undo: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const undo = jsonOf(form, 'undo');
			if (form.get('act') === 'send') {
				const sent = undoDraftsSchema.parse(undo).map(({ id }) => id);
				return { undone: await undoSending(desk.context.db, desk.firmId, desk.actor, sent), of: sent.length };
			}
			return {
				undone:
					form.get('show') === 'drafts'
						? await desk.inFirm((tx) => undoDrafts(tx, desk.actor, undoDraftsSchema.parse(undo)))
						: await undoMany(desk.context.db, desk.firmId, desk.actor, undoItemsSchema.parse(undo))
			};
		});
	}
};
