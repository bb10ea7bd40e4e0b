import { localDate } from '$lib/core/calendar/firm-calendar';
import { answerOfKnown } from '$lib/core/items/comparable';
import type { Answer } from '$lib/core/items/answers';
import type { Question } from '$lib/core/items/questions';
import { questionsFor } from '$lib/core/items/which-apply';
import { dateWords, dayOf } from '$lib/words/dates';
import type { Actor } from '../../actor';
import { readClientsKnown } from '../../clients/clients-known';
import { loadFacts, maySeeFact } from '../../facts/firm-facts';
import { loadFirm } from '../../firms/firm';
import type { Tx } from '../../platform/db/database';

export interface KnownAnswer {
	answer: Answer;
	saidBy: string;
	/** in the reader's words */
	saidOn: string;
}

/**
 * The questions of a questionnaire that a client is asked, with what the firm knows already and may show them: it is confirmed, not asked
 * anew. Conditions about the client stay at the firm.
 */
export async function questionsForClient(
	tx: Tx,
	actor: Actor,
	item: { clientId: string; questions: readonly Question[] },
	locale: string
): Promise<{ questions: Question[]; known: Record<string, KnownAnswer> }> {
	const firm = await loadFirm(tx);
	const today = localDate(actor.now, firm.calendar);
	const facts = await loadFacts(tx);
	const client = (await readClientsKnown(tx, [item.clientId], today)).get(item.clientId);
	if (!client) return { questions: [], known: {} };
	const questions = questionsFor(item.questions, { known: client, facts });
	const said = await tx.rows<{ name: string; value: string; saidBy: string; saidAt: string }>(
		'select name, value, said_by_name as "saidBy", said_at as "saidAt" from fact where client_id = $1 and replaced_at is null',
		[item.clientId]
	);
	const known = questions.flatMap(({ key, answer, fact: name }): [string, KnownAnswer][] => {
		const fact = name ? facts.get(name) : undefined;
		const one = fact && maySeeFact(actor, fact) ? said.find((other) => other.name === fact.name) : undefined;
		const value = fact && one ? answerOfKnown(answer, fact, one.value) : null;
		return value === null || !one
			? []
			: [[key, { answer: value, saidBy: one.saidBy, saidOn: dateWords(locale, dayOf(one.saidAt, firm.calendar.timeZone), 'withYear') }]];
	});
	return { questions, known: Object.fromEntries(known) };
}
