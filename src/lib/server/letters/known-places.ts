import { mayStandInLetter } from '$lib/core/letters/merge-fields';
import { factInOneLine } from '$lib/core/facts/fact-words';
import { VALUE_MAX, type PlaceField } from '$lib/core/signing/places';
import { factLabel } from '$lib/words/fact-labels';
import { factReader } from '$lib/words/facts';
import { requireReader, type Actor } from '../actor';
import { loadFacts, maySeeFact } from '../facts/firm-facts';
import { loadFirm } from '../firms/firm';
import type { Tx } from '../platform/db/database';

/** What the client itself is called on a form, in the languages that ship. */
const CLIENT = ['client', 'client name', 'company', 'company name', 'business name', 'nom du client', 'entreprise', 'société', 'raison sociale'];
/** The same for the phone of whoever signs. */
const PHONE = ['phone', 'phone number', 'telephone', 'téléphone', 'numéro de téléphone'];

const bare = (label: string): string => label.trim().replace(/\s*:$/, '').toLowerCase();

/**
 * What is known already of what somebody is asked on the pages of a letter, by label: facts that are called so, as far as clients may see
 * them, the client's name, their own phone and what they are at the client. They may write something else.
 */
export async function readKnownPlaces(
	tx: Tx,
	actor: Actor,
	clientId: string,
	fields: readonly PlaceField[],
	locale: string
): Promise<Record<string, string>> {
	requireReader(actor);
	const asked = fields.filter(({ kind }) => kind === 'title' || kind === 'text' || kind === 'number' || kind === 'choice');
	if (asked.length === 0) return {};
	const { country } = await loadFirm(tx);
	const reader = factReader(locale, country);
	const known = new Map<string, string>();
	const definitions = (await loadFacts(tx)).all.filter((fact) => maySeeFact(actor, fact) && mayStandInLetter(fact) && !fact.mergedInto);
	const values = await tx.rows<{ name: string; value: string }>('select name, value from fact where client_id = $1 and replaced_at is null', [
		clientId
	]);
	for (const fact of definitions) {
		const value = values.find(({ name }) => name === fact.name)?.value;
		if (value === undefined) continue;
		const words = factInOneLine(fact, value, reader);
		for (const label of [fact.label, factLabel(locale, fact)]) known.set(bare(label), words);
	}
	const person = await tx.first<{ client: string; phone: string | null; role: string | null }>(
		`select c.name client, (select phone from contact where id = $2) phone,
			(select role from client_contact where client_id = c.id and contact_id = $2) role from client c where c.id = $1`,
		[clientId, actor.kind === 'contact' ? actor.id : null]
	);
	for (const label of CLIENT) if (person && !known.has(label)) known.set(label, person.client);
	for (const label of PHONE) if (person?.phone && !known.has(label)) known.set(label, reader.phone(person.phone));
	return Object.fromEntries(
		asked.flatMap(({ kind, label, choices }) => {
			// what they are at the client stands in a place for their title, however that is called
			const value = (kind === 'title' && person?.role) || known.get(bare(label));
			if (value === undefined || value.length > VALUE_MAX) return [];
			if (kind !== 'choice') return [[label, value]];
			const choice = choices.find((one) => bare(one) === bare(value));
			return choice ? [[label, choice]] : [];
		})
	);
}
