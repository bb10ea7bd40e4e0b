import { redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { factInWords } from '$lib/core/facts/fact-words';
import { mergeFieldLabel } from '$lib/core/clients/merge';
import { findClients } from '$lib/server/clients/find-clients';
import { mergeClients, mergeContacts } from '$lib/server/clients/merge';
import { previewMerge } from '$lib/server/clients/preview-merge';
import { readLikelyDoubles, readLikelySamePeople } from '$lib/server/clients/likely-doubles';
import { undoMerge } from '$lib/server/clients/undo-merge';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inForm, inPage } from '$lib/web/form-errors';
import { loadFacts, isShownTo } from '$lib/server/facts/firm-facts';
import { factReader } from '$lib/words/facts';

const querySchema = z.object({
	/** whom of the client's people it is about; the client itself without one */
	contact: z.uuid().nullable().catch(null),
	/** the other one */
	with: z.uuid().nullable().catch(null),
	search: z.string().max(100).catch('')
});

export const load = async (event) => {
	const desk = await deskRequest(event);
	const clientId = idParam(event.params.client);
	const query = querySchema.parse(Object.fromEntries(['contact', 'with', 'search'].map((k) => [k, event.url.searchParams.get(k)])));
	const { client } = await event.parent();
	const kind = query.contact ? ('contact' as const) : ('client' as const);
	const keepId = query.contact ?? clientId;
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const facts = await loadFacts(tx);
			const reader = factReader('en', firm.country);
			const inWords = (field: string, value: string | null) => {
				const fact = facts.get(field);
				return value === null || !fact ? value : isShownTo(desk.actor, fact) ? factInWords(fact, value, reader) : 'kept secret';
			};
			const preview = query.with ? await previewMerge(tx, desk.actor, kind, keepId, query.with) : null;
			const found = kind === 'client' && query.search ? await findClients(tx, desk.actor, query.search, 8) : [];
			return {
				kind,
				keepId,
				keepName: query.contact ? (client.contacts.find((c) => c.id === query.contact)?.name ?? '') : client.name,
				search: query.search,
				likely:
					kind === 'client'
						? (await readLikelyDoubles(tx, desk.actor, clientId)).map((d) => ({ ...d, email: null }))
						: await readLikelySamePeople(tx, desk.actor, keepId),
				found: found.filter((c) => c.id !== clientId).map(({ id, name }) => ({ id, name })),
				preview: preview && {
					...preview,
					choices: preview.choices.map((choice) => ({
						...choice,
						label: mergeFieldLabel(choice.field, facts),
						kept: inWords(choice.field, choice.kept),
						gone: inWords(choice.field, choice.gone)
					}))
				}
			};
		})
	);
};

const mergeSchema = z.object({ kind: z.enum(['client', 'contact']), keepId: z.uuid(), goneId: z.uuid() });

export const actions = {
	merge: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			const { kind, ...input } = mergeSchema.parse(Object.fromEntries(form));
			const take = [...form].flatMap(([name, value]) => (name.startsWith('take.') && value === 'gone' ? [name.slice(5)] : []));
			await desk.inFirm((tx) => (kind === 'client' ? mergeClients : mergeContacts)(tx, desk.actor, { ...input, take }));
			redirect(303, `/desk/clients/${idParam(event.params.client)}`);
		});
	},
	undo: async (event) => {
		const form = await event.request.formData();
		return inForm(form, async () => {
			const desk = await deskRequest(event);
			await desk.inFirm((tx) => undoMerge(tx, desk.actor, idParam(String(form.get('mergeId') ?? ''))));
			return { done: true };
		});
	}
};
