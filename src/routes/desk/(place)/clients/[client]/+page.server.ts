import { z } from 'zod';
import {
	clientBasicsSchema,
	clientMoveSchema,
	contactSchema,
	outsideSignerSchema,
	endReasonSchema,
	engagementSchema
} from '$lib/core/clients/record-forms';
import { chasePlanChoices } from '$lib/core/chasing/chase-plan';
import { readRightsForm } from '$lib/core/clients/client-rights';
import { clientBrandSchema } from '$lib/core/firms/firm-forms';
import { readAreasForm } from '$lib/core/firms/portal-areas';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { isToConfirm } from '$lib/core/facts/confirming';
import { factInShort, factInWords, inOrder } from '$lib/core/facts/fact-words';
import { phoneInWords } from '$lib/core/people/phone';
import {
	addContact,
	changeContact,
	clearContactSecondStep,
	putContactFirst,
	signOutContact,
	suspendContact,
	takeContactOff
} from '$lib/server/clients/contacts';
import { confirmFact, readFacts, readPapersToReadFrom, sayFact, showFact } from '$lib/server/clients/client-facts';
import { changeClient, endEngagement, moveClient, readEngagements, readServices, writeEngagement } from '$lib/server/clients/client-record';
import { changeClientRights, readClientRights } from '$lib/server/clients/client-rights';
import { readLikelyDoubles } from '$lib/server/clients/likely-doubles';
import { readMerges } from '$lib/server/clients/undo-merge';
import { noteForm, readColleagues, readNotes, removeNote, writeNote } from '$lib/server/talk/notes';
import { noteClientOpened } from '$lib/server/clients/find-clients';
import { readHistory, readStaff } from '$lib/server/clients/read-clients';
import { loadFacts, maySeeFact } from '$lib/server/facts/firm-facts';
import { factReader } from '$lib/words/facts';
import { saidFact } from '$lib/web/fact-forms';
import { deskForm, deskRequest, type DeskRequest } from '$lib/web/desk-request';
import { changeClientBrand, readBrands, readClientBrand } from '$lib/server/firms/brands';
import { changeClientAreas, readClientAreas } from '$lib/server/firms/portal-areas';
import type { Firm } from '$lib/server/firms/firm';
import { idParam, inForm, inPage } from '$lib/web/form-errors';
import { readGroups } from '$lib/server/people/groups';
import type { Tx } from '$lib/server/platform/db/database';
import { titleWithoutPeriod } from '$lib/core/schedules/due-rule';
import { scheduleInWords } from '$lib/core/schedules/recurrence';
import { accountSchema } from '$lib/core/statements/accounts';
import { countClientPapers } from '$lib/server/papers/client-papers';
import { requireStaff } from '$lib/server/actor';
import { attachPaper, findPdfs } from '$lib/server/papers/attach-paper';
import { readPapersAddress, renewPapersAddress } from '$lib/server/papers/papers-by-mail';
import { readAccounts, writeAccount } from '$lib/server/statements/accounts';
import { readStatementCount } from '$lib/server/statements/statement-grid';
import { readTransactionFiles } from '$lib/server/transactions/transaction-files';
import { readDrafts } from '$lib/server/drafts/drafts';
import { readRecurringRequests } from '$lib/server/schedules/recurring-requests';
import { nameOutsideSigner, readOutsideSigners, takeOutsideSignerOff } from '$lib/server/letters/outside-signers';
import { readLastRemarks } from '$lib/server/items/remarks';
import { readTalks } from '$lib/server/talk/words';
import { changeTheirTimes, timesAsRead } from '$lib/server/chasing/their-times';
import { readTimesForm } from '$lib/web/times-form';
import { REGION_CHOICES } from '$lib/words/regions';
import { readTriedWith } from '$lib/server/chasing/what-works';
import { letRemindersGoOn, pauseReminders, readAwaitable, readHolds } from '$lib/server/chasing/holds';
import { pauseSchema } from '$lib/core/chasing/hold';
import { readItemsOfClient } from '$lib/server/items/read-items';
import { isToldOf, tellOf } from '$lib/server/telling/settings';
import { readNextChases } from '$lib/server/rounds/chase-sentence';
import { dateWords, dayOf, timeWords } from '$lib/words/dates';

const HISTORY_SHOWN = 12;

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const id = idParam(event.params.client);
	const { client } = await event.parent();
	return inPage(() =>
		desk.inFirm(async (tx, firm) => {
			await noteClientOpened(tx, desk.actor, id);
			const words = factReader('en', firm.country);
			const definitions = await loadFacts(tx);
			const facts = inOrder(definitions, await readFacts(tx, desk.actor, id, definitions));
			const said = (by: string, at: string) => `${by}, ${dateWords('en', dayOf(at, firm.calendar.timeZone), 'withYear')}`;
			return {
				items: await readItemsOfClient(tx, desk.actor, id),
				chases: await readNextChases(tx, desk.actor, firm, id),
				recurring: (await readRecurringRequests(tx, desk.actor, id)).map((recurring) => ({
					id: recurring.id,
					title: titleWithoutPeriod(recurring.title, recurring.schedule.period),
					rule: scheduleInWords(recurring.schedule, firm.calendar.businessDays),
					state: recurring.state,
					next: recurring.state === 'running' && recurring.nextAt ? dateWords(firm.locale, dayOf(recurring.nextAt, firm.calendar.timeZone)) : null
				})),
				accounts: await readAccounts(tx, desk.actor, id),
				statements: await readStatementCount(tx, desk.actor, firm, id),
				transactionFiles: (await readTransactionFiles(tx, desk.actor, id)).length,
				currency: firm.currency,
				remarks: await readLastRemarks(tx, desk.actor, id),
				talks: await readTalks(tx, desk.actor, id),
				tried: (
					await readTriedWith(
						tx,
						desk.actor,
						firm,
						id,
						client.contacts.map((contact) => contact.id)
					)
				).filter(({ reminders, calls }) => reminders.length + calls.length > 0),
				awaitable: await readAwaitable(tx, desk.actor, id),
				holds: await readHolds(tx, desk.actor, id, localDate(desk.actor.now, firm.calendar)),
				drafts: (await readDrafts(tx, desk.actor, { clientId: id })).map((draft) => ({
					id: draft.id,
					title: draft.title,
					lines: draft.lines,
					after: draft.after,
					problem: draft.problem,
					changed: `${draft.changedBy}, ${timeWords(firm.locale, draft.changedAt, firm.calendar.timeZone)}`
				})),
				history: await readHistory(tx, desk.actor, id, null, HISTORY_SHOWN),
				shortFacts: facts.flatMap(({ definition, value }) => factInShort(definition, value, words) ?? []),
				facts: facts.map((fact) => ({
					name: fact.name,
					value: fact.value,
					words: factInWords(fact.definition, fact.value, words),
					said: `${said(fact.saidBy, fact.saidAt)}${fact.answers ? `, answering “${fact.answers}”` : ''}`,
					paper: fact.paper,
					confirmed: fact.confirmedAt && said(fact.confirmedBy ?? '', fact.confirmedAt),
					toConfirm: isToConfirm(fact.definition, fact, desk.actor.now, firm.calendar),
					earlier: fact.earlier.map((e) => `${factInWords(fact.definition, e.value, words)} (${said(e.saidBy, e.saidAt)})`)
				})),
				definitions: definitions.all.filter((definition) => maySeeFact(desk.actor, definition) && !definition.mergedInto),
				papers: await readPapersToReadFrom(tx, desk.actor, id),
				paperCount: await countClientPapers(tx, desk.actor, id),
				papersAddress: await readPapersAddress(tx, desk.actor, id, desk.context.settings.PAPERS_MAIL_DOMAIN),
				notes: await readNotes(tx, desk.actor, id),
				colleagues: await readColleagues(tx, desk.actor, id),
				engagements: await readEngagements(tx, desk.actor, id),
				services: await readServices(tx),
				staff: await readStaff(tx),
				brands: (await readBrands(tx)).map(({ id, name }) => ({ id, name })),
				look: await readClientBrand(tx, id),
				rights: await readClientRights(tx, desk.actor, id),
				/** whether whoever looks is told of this client by mail; null where they are told of nothing */
				toldOf: firm.isPractice ? null : await isToldOf(tx, desk.actor, id),
				areas: await readClientAreas(tx, id),
				plans: chasePlanChoices(firm),
				groups: (await readGroups(tx)).map(({ id, name }) => ({ id, name })),
				// a shared name alone is often chance; these two are not
				doubles: (await readLikelyDoubles(tx, desk.actor, id)).filter((other) => /tax number|phone/.test(other.why)),
				merges: (await readMerges(tx, desk.actor, id)).map(({ at, ...merge }) => ({
					...merge,
					on: dateWords('en', dayOf(at, firm.calendar.timeZone), 'withYear')
				})),
				outside: await readOutsideSigners(tx, desk.actor, id),
				hours: {
					timeZone: firm.calendar.timeZone,
					sendFrom: firm.calendar.sendFrom,
					sendTo: firm.calendar.sendTo,
					perWeek: firm.pace.perWeek,
					zones: REGION_CHOICES.timeZones,
					asRead: Object.fromEntries(client.contacts.map((c) => [c.id, timesAsRead(c.times)]))
				},
				phones: Object.fromEntries(client.contacts.map((c) => [c.id, c.phone && phoneInWords(c.phone, firm.country)])),
				today: localDate(desk.actor.now, firm.calendar)
			};
		})
	);
};

type Event = Parameters<typeof deskRequest>[0] & { request: Request; params: { client: string } };

/** Runs one change of the record. */
async function change(event: Event, work: (tx: Tx, clientId: string, form: FormData, desk: DeskRequest, firm: Firm) => Promise<unknown>) {
	const form = await event.request.formData();
	return inForm(form, async () => {
		const desk = await deskRequest(event);
		const clientId = idParam(event.params.client);
		await desk.inFirm((tx, firm) => work(tx, clientId, form, desk, firm));
		return { done: true };
	});
}

/** Whose reminders a form is about: one person's, or the whole client's. */
const heldOf = (clientId: string, form: FormData) => {
	const whom = String(form.get('whom') ?? '');
	const thing = /^(item|request) (.+)$/.exec(whom);
	if (thing) return thing[1] === 'item' ? { itemId: idParam(thing[2]) } : { requestId: idParam(thing[2]) };
	return whom ? { contactId: idParam(whom), ofClient: clientId } : { clientId };
};
const contactId = (form: FormData) => idParam(String(form.get('contactId') ?? ''));
const optionalId = z.union([z.literal('').transform(() => null), z.uuid()]).nullable();

export const actions = {
	tell: (event) => change(event, (tx, clientId, form, desk) => tellOf(tx, desk.actor, { clientId, told: form.get('told') === 'yes' })),
	pauseReminders: (event) =>
		change(event, (tx, clientId, form, desk, firm) => {
			requireStaff(desk.actor, 'judge_item');
			const pause = pauseSchema(localDate(desk.actor.now, firm.calendar)).parse(Object.fromEntries(form));
			return pauseReminders(tx, desk.actor, firm, heldOf(clientId, form), pause);
		}),
	letRemindersGoOn: (event) => change(event, (tx, clientId, form, desk, firm) => letRemindersGoOn(tx, desk.actor, firm, heldOf(clientId, form))),
	renewPapersAddress: (event) => change(event, (tx, clientId, _form, desk) => renewPapersAddress(tx, desk.actor, clientId)),
	writeAccount: (event) =>
		deskForm(event, (tx, desk, form) =>
			writeAccount(
				tx,
				desk.actor,
				idParam(event.params.client),
				accountSchema.parse(Object.fromEntries(form)),
				form.get('accountId') ? idParam(String(form.get('accountId'))) : null
			)
		),
	changeBasics: (event) =>
		change(event, (tx, clientId, form, desk) => changeClient(tx, desk.actor, clientId, clientBasicsSchema.parse(Object.fromEntries(form)))),
	changeBrand: (event) =>
		change(event, async (tx, clientId, form, desk) => {
			const typed = Object.fromEntries(form);
			await changeClientBrand(tx, desk.actor, clientId, clientBrandSchema.parse(typed));
			await changeClientAreas(tx, desk.actor, clientId, readAreasForm(typed));
		}),
	changeRights: (event) =>
		change(event, (tx, clientId, form, desk) =>
			changeClientRights(tx, desk.actor, { clientId, restricted: form.get('open') === 'some', rights: readRightsForm(form) })
		),
	move: (event) =>
		change(event, (tx, clientId, form, desk) => moveClient(tx, desk.actor, { clientId, ...clientMoveSchema.parse(Object.fromEntries(form)) })),
	sayFact: (event) => change(event, (tx, clientId, form, desk) => sayFact(tx, desk.actor, { clientId, ...saidFact(form) })),
	confirmFact: (event) =>
		change(event, (tx, clientId, form, desk) => confirmFact(tx, desk.actor, { clientId, name: String(form.get('name') ?? '') })),
	showFact: (event) =>
		deskForm(event, async (tx, desk, form) => ({
			shown: await showFact(tx, desk.actor, { clientId: idParam(event.params.client), name: String(form.get('name') ?? '') })
		})),
	writeNote: (event) =>
		change(event, (tx, clientId, form, desk) => writeNote(tx, desk.actor, { clientId, ...noteForm.parse(Object.fromEntries(form)) })),
	removeNote: (event) =>
		change(event, (tx, clientId, form, desk) => removeNote(tx, desk.actor, { clientId, noteId: idParam(String(form.get('noteId') ?? '')) })),
	addContact: (event) =>
		change(event, (tx, clientId, form, desk, firm) =>
			addContact(tx, desk.actor, {
				clientId,
				knownId: optionalId.parse(form.get('knownId')),
				...contactSchema(firm.country).parse(Object.fromEntries(form))
			})
		),
	nameOutsideSigner: (event) =>
		deskForm(event, async (tx, desk, form, firm) => ({
			person: await nameOutsideSigner(tx, desk.actor, {
				clientId: idParam(event.params.client),
				knownId: optionalId.parse(form.get('knownId')),
				...outsideSignerSchema(firm.country).parse(Object.fromEntries(form))
			})
		})),
	/** PDFs of the client that could be signed. */
	findPdfs: (event) =>
		deskForm(event, (tx, desk, form) =>
			findPdfs(tx, desk.actor, { clientId: idParam(event.params.client), typed: String(form.get('typed') ?? '').slice(0, 120) })
		),
	/** Takes a copy of one of them to be signed. */
	attachPaper: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			requireStaff(desk.actor, 'send_request');
			const file = await attachPaper(desk.context, desk.firmId, desk.actor, {
				clientId: idParam(event.params.client),
				paperId: idParam(String(form.get('paperId') ?? '')),
				scanning: Boolean(desk.context.settings.CLAMD)
			});
			return { file };
		});
	},
	takeOutsideSignerOff: (event) =>
		change(event, (tx, clientId, form, desk) => takeOutsideSignerOff(tx, desk.actor, { clientId, contactId: contactId(form) })),
	changeContact: (event) =>
		change(event, (tx, clientId, form, desk, firm) =>
			changeContact(tx, desk.actor, { clientId, contactId: contactId(form), ...contactSchema(firm.country).parse(Object.fromEntries(form)) })
		),
	changeTimes: (event) =>
		change(event, (tx, clientId, form, desk, firm) =>
			changeTheirTimes(tx, desk.actor, firm, { clientId, contactId: contactId(form), ...readTimesForm(form) })
		),
	putContactFirst: (event) => change(event, (tx, clientId, form, desk) => putContactFirst(tx, desk.actor, { clientId, contactId: contactId(form) })),
	takeOff: (event) => change(event, (tx, clientId, form, desk) => takeContactOff(tx, desk.actor, { clientId, contactId: contactId(form) })),
	signOut: (event) => change(event, (tx, clientId, form, desk) => signOutContact(tx, desk.actor, { clientId, contactId: contactId(form) })),
	clearSecondStep: (event) =>
		change(event, (tx, clientId, form, desk) => clearContactSecondStep(tx, desk.actor, { clientId, contactId: contactId(form) })),
	suspend: (event) =>
		change(event, (tx, clientId, form, desk) =>
			suspendContact(tx, desk.actor, { clientId, contactId: contactId(form), suspend: form.get('suspend') === 'yes' })
		),
	writeEngagement: (event) =>
		change(event, (tx, clientId, form, desk) =>
			writeEngagement(tx, desk.actor, {
				clientId,
				engagementId: optionalId.parse(form.get('engagementId')),
				...engagementSchema.parse({
					...Object.fromEntries(form),
					services: form.getAll('services'),
					fees: Object.fromEntries(form.getAll('services').map((id) => [id, { fee: form.get(`fee.${id}`) ?? '', every: form.get(`every.${id}`) }]))
				})
			})
		),
	endEngagement: (event) =>
		change(event, (tx, clientId, form, desk, firm) =>
			endEngagement(tx, desk.actor, {
				clientId,
				engagementId: idParam(String(form.get('engagementId') ?? '')),
				on: localDate(desk.actor.now, firm.calendar),
				reopen: form.get('reopen') === 'yes',
				...endReasonSchema.parse(Object.fromEntries(form))
			})
		)
};
