import type { Actor } from '../actor';
import { readFacts } from '../clients/client-facts';
import { readEngagements } from '../clients/client-record';
import type { Tx } from '../platform/db/database';
import { dateWords, dayOfYearWords } from '$lib/words/dates';

/**
 * What the client's record can put into a letter before anybody writes: the newest running engagement's first day and
 * services, and the year end. A person may change each before sending.
 */
export async function recordValues(tx: Tx, actor: Actor, clientId: string, locale: string): Promise<Record<string, string>> {
	const values: Record<string, string> = {};
	const engagement = (await readEngagements(tx, actor, clientId)).filter((e) => e.endedOn === null).at(-1);
	if (engagement) {
		values.start_date = dateWords(locale, engagement.beganOn, 'withYear');
		const services = engagement.services.map((service) => service.name.toLocaleLowerCase(locale));
		if (services.length > 0) values.services = new Intl.ListFormat(locale).format(services);
	}
	const yearEnd = (await readFacts(tx, actor, clientId)).find((fact) => fact.name === 'year_end');
	if (yearEnd) values.year_end = dayOfYearWords(locale, yearEnd.value);
	return values;
}
