import { mayStandInLetter } from '$lib/core/letters/merge-fields';
import { factInOneLine } from '$lib/core/facts/fact-words';
import { factReader } from '$lib/words/facts';
import { dateWords } from '$lib/words/dates';
import { requireStaff, type Actor } from '../actor';
import { loadFacts, maySeeFact } from '../facts/firm-facts';
import { loadFirm } from '../firms/firm';
import type { Tx } from '../platform/db/database';

/** Longest value of a field of a letter. */
const VALUE_MAX = 400;

/**
 * What the records of clients can put into their letters before anybody writes: the newest running engagement's first day and
 * services, and what is known of the client. A person may change each before sending. In one statement for all of them.
 * @param clients each with the language that its values are written in
 * @param only the names of the fields that are wanted; all that are known if left out
 */
export async function recordValuesOf(
	tx: Tx,
	actor: Actor,
	clients: readonly { id: string; locale: string }[],
	only?: readonly string[]
): Promise<Map<string, Record<string, string>>> {
	requireStaff(actor, 'look');
	if (only?.length === 0) return new Map();
	const rows = await tx.rows<{ id: string; beganOn: string | null; services: string[]; facts: Record<string, string> }>(
		`select c.id, e.began_on as "beganOn", coalesce(s.names, '{}') services, coalesce(f.facts, '{}') facts
		from client c
			left join lateral (select id, began_on from engagement where client_id = c.id and ended_on is null order by began_on desc, name desc limit 1) e on true
			left join lateral (select array_agg(s.name order by s.position, s.name) names from engagement_service es join service s on s.id = es.service_id
				where es.engagement_id = e.id) s on true
			left join (select client_id, jsonb_object_agg(name, value) facts from fact where client_id = any ($1) and replaced_at is null and ($2::text[] is null or name = any ($2)) group by client_id) f on f.client_id = c.id
		where c.id = any ($1)`,
		[clients.map(({ id }) => id), only ?? null]
	);
	const locales = new Map(clients.map(({ id, locale }) => [id, locale]));
	const [facts, { country }] = [await loadFacts(tx), await loadFirm(tx)];
	const readers = new Map([...new Set(locales.values())].map((locale) => [locale, factReader(locale, country)]));
	const listIn = new Map([...readers.keys()].map((locale) => [locale, new Intl.ListFormat(locale)]));
	const valuesOf = ({ id, beganOn, services, facts: known }: (typeof rows)[number]): Record<string, string> => {
		const locale = locales.get(id)!;
		const values: Record<string, string> = {};
		if (beganOn) values.start_date = dateWords(locale, beganOn, 'withYear');
		if (services.length > 0) values.services = listIn.get(locale)!.format(services.map((name) => name.toLocaleLowerCase(locale)));
		for (const [name, value] of Object.entries(known)) {
			const fact = facts.get(name);
			if (!fact || !mayStandInLetter(fact) || !maySeeFact(actor, fact) || name in values) continue;
			const words = factInOneLine(fact, value, readers.get(locale)!);
			if (words.length <= VALUE_MAX) values[name] = words;
		}
		return values;
	};
	return new Map(rows.map((row) => [row.id, valuesOf(row)]));
}

/** The same for one client. */
export async function recordValues(tx: Tx, actor: Actor, clientId: string, locale: string): Promise<Record<string, string>> {
	return (await recordValuesOf(tx, actor, [{ id: clientId, locale }])).get(clientId) ?? {};
}
