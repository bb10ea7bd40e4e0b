import { redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { inOrder } from '$lib/core/facts/fact-words';
import { READY_MADE_LETTER } from '$lib/core/letters/ready-made-letter';
import { READY_MADE_LISTS } from '$lib/core/requests/ready-made-lists';
import { periodOf } from '$lib/core/schedules/due-rule';
import { holdingPlanInWords, readPlansFor } from '$lib/server/chasing/which-plan';
import { chasePlanChoices } from '$lib/core/chasing/chase-plan';
import { draftContentSchema, LINES_MAX, newRequestSchema, type LineInHand } from '$lib/core/requests/request-list';
import { readFacts, sayFact } from '$lib/server/clients/client-facts';
import { readServices } from '$lib/server/clients/client-record';
import { isShownTo, loadFacts } from '$lib/server/facts/firm-facts';
import { withBrandOf } from '$lib/server/firms/brands';
import { readWritingPlace } from '$lib/server/requests/writing-place';
import { deskForm, deskRequest } from '$lib/web/desk-request';
import { idParam, inForm, inPage, jsonField } from '$lib/web/form-errors';
import { saidFact } from '$lib/web/fact-forms';
import { automaticValues } from '$lib/server/letters/prepare-letter';
import { readOpenLetters } from '$lib/server/letters/open-letters';
import { recordValues } from '$lib/server/letters/record-values';
import { holdForLetters } from '$lib/server/requests/after-letters';
import type { Actor } from '$lib/server/actor';
import type { Tx } from '$lib/server/platform/db/database';
import { readLists } from '$lib/server/library/request-lists';
import { readAttachments } from '$lib/server/attachments/attachments';
import { beginRequest, factValueWords } from '$lib/server/requests/begin-request';
import { dropSentDraft, readDraft, readDrafts, removeDrafts, saveDraft } from '$lib/server/drafts/drafts';
import { readOpenThings } from '$lib/server/items/read-items';
import { dueIfSentOn } from '$lib/server/requests/send-draft';
import { dueAfterBusinessDays, sendRequest } from '$lib/server/requests/send-request';
import { readRecipient, readWhoCanBeAsked } from '$lib/server/requests/recipients';
import { readClientsKnown } from '$lib/server/clients/clients-known';
import { keepOverride } from '$lib/server/requests/tailor-list';
import { readAccounts, readKnownStatements, spreadStatements } from '$lib/server/statements/accounts';
import { timeWords } from '$lib/words/dates';
import { say } from '$lib/words/words';

const listRef = z.object({ id: z.uuid(), version: z.number().int().positive() }).nullable();

/** “account.lastDay,account.lastDay”, as the statement grid says what is missing. */
const wantedCycles = (text: string) =>
	z
		.array(z.tuple([z.uuid(), z.iso.date()]))
		.max(LINES_MAX)
		.parse(text.split(',').map((one) => one.split('.')))
		.map(([accountId, to]) => ({ accountId, to }));

export const load = async (event) => {
	const desk = await deskRequest(event);
	const clientId = idParam(event.params.client);
	const wanted = event.url.searchParams;
	return inPage(() =>
		desk.read(async (tx, own) => {
			// in the brand in which the client will see it
			const firm = await withBrandOf(tx, own, { clientId });
			const contacts = await readWhoCanBeAsked(tx, desk.actor, clientId);
			const known: Record<string, Record<string, string>> = {};
			for (const { id } of contacts) known[id] = automaticValues(firm, await readRecipient(tx, clientId, id), desk.actor.now);
			const { now } = desk.actor;
			const draft = wanted.has('draft') ? await readDraft(tx, desk.actor, idParam(wanted.get('draft') ?? '')) : null;
			// shown as it would go today
			if (draft)
				draft.content.lines = draft.content.lines.map((line) => ({
					...line,
					dueOn: dueIfSentOn(line as unknown as LineInHand, localDate(now, firm.calendar), firm.calendar)
				}));
			const begun = wanted.has('list')
				? await beginRequest(tx, desk.actor, firm, clientId, { listId: idParam(wanted.get('list') ?? '') })
				: wanted.has('statements')
					? await beginRequest(tx, desk.actor, firm, clientId, { statements: wantedCycles(wanted.get('statements')!) })
					: wanted.has('ready')
						? await beginRequest(tx, desk.actor, firm, clientId, { readyMade: wanted.get('ready') ?? '' })
						: null;
			const services = (await readServices(tx)).map((service) => service.name);
			const ofClient = (await readClientsKnown(tx, [clientId], localDate(now, firm.calendar))).get(clientId);
			const theirs = ofClient?.services ?? [];
			const fits = (list: { services: string[] }) => list.services.some((name) => theirs.some((own) => own.toLowerCase() === name.toLowerCase()));
			const lists = (await readLists(tx, desk.actor)).map((list) => ({
				id: list.id,
				name: list.name,
				about: list.about,
				lines: list.lineCount,
				folder: list.folder,
				fits: fits(list)
			}));
			const names = new Set(lists.map((list) => list.name.toLowerCase()));
			const facts = await loadFacts(tx);
			const hidden = new Set(facts.all.filter((definition) => !isShownTo(desk.actor, definition)).map(({ name }) => name));
			const words = factValueWords(firm, desk.actor);
			const attachmentIds = draft
				? draft.content.lines.flatMap((line) => z.array(z.uuid()).catch([]).parse(line.attachments))
				: (begun?.lines.flatMap((line) => line.attachments) ?? []);
			return {
				lists,
				ready: READY_MADE_LISTS.filter((list) => !names.has(list.name.toLowerCase())).map((list) => ({
					id: list.id,
					name: list.name,
					about: list.about,
					lines: list.lines.length,
					fits: fits(list)
				})),
				drafts: (await readDrafts(tx, desk.actor, { clientId })).map((row) => ({
					...row,
					changedAt: timeWords(firm.locale, row.changedAt, firm.calendar.timeZone)
				})),
				draft,
				begun,
				files: await readAttachments(tx, attachmentIds),
				facts: inOrder(facts, await readFacts(tx, desk.actor, clientId, facts)).map(({ name, definition, value, saidBy }) => ({
					name,
					words: words(definition, value),
					saidBy
				})),
				accounts: (await readAccounts(tx, desk.actor, clientId)).length,
				plans: chasePlanChoices(firm),
				/** by which plan each is chased where none is chosen here */
				holding: Object.fromEntries(
					[
						...(await readPlansFor(tx, {
							clientId,
							contactIds: contacts.map(({ id }) => id),
							listId: draft?.listId ?? begun?.list?.id ?? null,
							chosen: null
						}))
					].map(([id, plan]) => [id, holdingPlanInWords(firm, plan)])
				),
				services,
				theirServices: theirs,
				/** by which parts of a letter come; what this person may not see is left out, and named as hidden */
				known: ofClient && { ...ofClient, facts: Object.fromEntries(Object.entries(ofClient.facts).filter(([name]) => !hidden.has(name))) },
				hidden: [...hidden],
				letter: READY_MADE_LETTER,
				values: known,
				fromRecord: await recordValues(tx, desk.actor, clientId, firm.locale),
				today: localDate(now, firm.calendar),
				inTen: dueAfterBusinessDays(firm, now, 10),
				/** the words of the message in each person's language */
				messages: Object.fromEntries(contacts.map(({ id, locale }) => [id, say(locale, 'mail.request.body', { client: known[id].client_name })])),
				/** who was told of something today already */
				toldToday: contacts.filter((one) => one.lastToldOn === localDate(now, firm.calendar)).map((one) => one.id),
				/** what they are asked for already */
				openNow: await readOpenThings(tx, desk.actor, clientId),
				/** for which it can wait */
				openLetters: await readOpenLetters(tx, desk.actor, clientId),
				calendar: firm.calendar,
				brand: { name: firm.name, color: firm.color, timeZone: firm.calendar.timeZone },
				place: await readWritingPlace(tx, firm, clientId),
				locales: Object.fromEntries(contacts.map(({ id, locale }) => [id, locale]))
			};
		})
	);
};

const parsed = (form: FormData, name: string) =>
	jsonField(form, name, 1_500_000, 'The request did not arrive whole. What you wrote is still here; please send it again.') as object;

/** Keeps the draft as it stands in the form. @returns its version */
function keepTyped(tx: Tx, desk: { actor: Actor }, clientId: string, form: FormData): Promise<number> {
	return saveDraft(tx, desk.actor, {
		id: idParam(String(form.get('draftId') ?? '')),
		version: z.coerce
			.number()
			.int()
			.positive()
			.nullable()
			.catch(null)
			.parse(form.get('version') || null),
		clientId,
		list: listRef.parse(parsed(form, 'list')),
		content: draftContentSchema.parse(parsed(form, 'content'))
	});
}

export const actions = {
	send: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const input = newRequestSchema.parse({ ...parsed(form, 'request'), clientId: idParam(event.params.client) });
			const draftId = z.uuid().safeParse(form.get('draftId')).data;
			await sendRequest(desk.context, desk.firmId, desk.actor, input, {
				lettersFirst: form.has('lettersFirst') ? draftContentSchema.parse(parsed(form, 'content')) : undefined,
				done: async (tx) => {
					if (draftId) await dropSentDraft(tx, desk.actor, draftId);
				}
			});
			redirect(303, `/desk/clients/${input.clientId}`);
		});
	},
	/** It goes by itself once letters are signed by all. */
	wait: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const clientId = idParam(event.params.client);
			await desk.inFirm(async (tx) => {
				await keepTyped(tx, desk, clientId, form);
				const id = idParam(String(form.get('draftId') ?? ''));
				await holdForLetters(tx, desk.actor, id, z.array(z.uuid()).min(1, 'Choose a letter.').max(20).parse(form.getAll('afterLetter')));
			});
			redirect(303, `/desk/clients/${clientId}`);
		});
	},
	/** What is written so far, kept as it is typed. */
	keep: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const clientId = idParam(event.params.client);
			return { version: await desk.inFirm((tx) => keepTyped(tx, desk, clientId, form)) };
		});
	},
	/** The statements of past months that were never asked for, grouped by account. */
	spreadStatements: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const month = z.string().regex(/^20\d\d-(0[1-9]|1[0-2])$/, 'Choose a month.');
			const [from, to] = [month.parse(form.get('from')), month.parse(form.get('to'))];
			if (from > to) throw new DomainError('invalid', 'The first month lies after the last one.');
			const clientId = idParam(event.params.client);
			return desk.inFirm(async (tx, firm) => ({
				statements: spreadStatements(
					(await readKnownStatements(tx, desk.actor, [clientId]))(clientId),
					{ title: '', heading: '', of: 'all' },
					{ from: `${from}-01`, to: periodOf(`${to}-01`, 'month', 0)!.to },
					firm.clientLanguage,
					true
				).slice(0, LINES_MAX)
			}));
		});
	},
	drop: (event) => deskForm(event, (tx, desk, form) => removeDrafts(tx, desk.actor, [idParam(String(form.get('draftId') ?? ''))])),
	remember: (event) =>
		deskForm(event, (tx, desk, form) =>
			keepOverride(tx, desk.actor, {
				clientId: idParam(event.params.client),
				listId: z.uuid('Choose a list.').parse(form.get('listId')),
				lineKey: String(form.get('lineKey') ?? '').slice(0, 40),
				decision: z.enum(['in', 'out']).nullable().catch(null).parse(form.get('decision'))
			})
		),
	/** A fact that decides lines, said while the list is made to fit; the page then asks for the list anew. */
	sayFact: (event) => deskForm(event, (tx, desk, form) => sayFact(tx, desk.actor, { clientId: idParam(event.params.client), ...saidFact(form) }))
};
