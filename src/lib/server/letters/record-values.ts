import { mayStandInLetter } from '$lib/core/letters/merge-fields';
import { factInOneLine } from '$lib/core/facts/fact-words';
import { factReader } from '$lib/words/facts';
import { dateWords } from '$lib/words/dates';
import type { Actor } from '../actor';
import { readFacts } from '../clients/client-facts';
import { readEngagements } from '../clients/client-record';
import { loadFacts } from '../facts/firm-facts';
import { loadFirm } from '../firms/firm';
import type { Tx } from '../platform/db/database';

/** Longest value of a field of a letter. */
const VALUE_MAX = 400;

/**
 * What the client's record can put into a letter before anybody writes: the newest running engagement's first day and
 * services, and what is known of the client. A person may change each before sending.
 */
export async function recordValues(tx: Tx, actor: Actor, clientId: string, locale: string): Promise<Record<string, string>> {
	const values: Record<string, string> = {};
	const engagement = (await readEngagements(tx, actor, clientId)).filter((e) => e.endedOn === null).at(-1);
	if (engagement) {
		values.start_date = dateWords(locale, engagement.beganOn, 'withYear');
		const services = engagement.services.map((service) => service.name.toLocaleLowerCase(locale));
		if (services.length > 0) values.services = new Intl.ListFormat(locale).format(services);
	}
	const [facts, { country }] = [await loadFacts(tx), await loadFirm(tx)];
	const reader = factReader(locale, country);
	for (const { name, value } of await readFacts(tx, actor, clientId, facts)) {
		const fact = facts.get(name);
		if (!fact || !mayStandInLetter(fact) || name in values) continue;
		const words = factInOneLine(fact, value, reader);
		if (words.length <= VALUE_MAX) values[name] = words;
	}
	return values;
}
