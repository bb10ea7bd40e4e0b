import { localDate } from '$lib/core/calendar/firm-calendar';
import { answerOfKnown } from '$lib/core/items/comparable';
import type { Answer } from '$lib/core/items/answers';
import type { AnswerSpec, Answers, Question } from '$lib/core/items/questions';
import { questionsFor } from '$lib/core/items/which-apply';
import { dateWords, dayOf } from '$lib/words/dates';
import type { Actor } from '../../actor';
import { readClientsKnown } from '../../clients/clients-known';
import { loadFacts, maySeeFact } from '../../facts/firm-facts';
import { loadFirm } from '../../firms/firm';
import type { Tx } from '../../platform/db/database';

export interface KnownAnswer {
	answer: Answer;
	/** who said it; null for what they answered to the same question the year before */
	saidBy: string | null;
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
	item: { clientId: string; questions: readonly Question[]; /** the questionnaire of the year before */ beforeId: string | null },
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
	const lastYear = await answersBefore(tx, actor, item.clientId, item.beforeId);
	const proposed = questions.flatMap(({ key, answer }): [string, KnownAnswer][] =>
		lastYear && key in lastYear.answers && stillFits(answer, lastYear.answers[key])
			? [[key, { answer: lastYear.answers[key], saidBy: null, saidOn: dateWords(locale, dayOf(lastYear.at, firm.calendar.timeZone), 'withYear') }]]
			: []
	);
	// what the firm knows now goes before what was said a year ago
	return { questions, known: { ...Object.fromEntries(proposed), ...Object.fromEntries(known) } };
}

/** What this client answered to the questionnaire of the year before, last of all; nothing that only another person of theirs may see. */
async function answersBefore(tx: Tx, actor: Actor, clientId: string, beforeId: string | null): Promise<{ answers: Answers; at: string } | null> {
	if (!beforeId) return null;
	return tx.first(
		`select answer_data answers, state_at at from item where questionnaire_id = $1 and client_id = $2 and answer_data is not null
			and phase in ('to_look_at', 'settled') and (not own or contact_id = $3) order by state_at desc limit 1`,
		[beforeId, clientId, actor.id]
	);
}

/** Whether an answer of before can be an answer still: the question may be answered in another way by now. */
function stillFits(spec: AnswerSpec, answer: Answer): boolean {
	switch (spec.is) {
		case 'yes_no':
			return typeof answer === 'boolean';
		case 'number':
		case 'money':
			return typeof answer === 'number';
		case 'one_of':
			return typeof answer === 'string' && (spec.choices.includes(answer) || spec.other === true);
		case 'several_of':
			return Array.isArray(answer) && answer.every((one) => typeof one === 'string' && (spec.choices.includes(one) || spec.other === true));
		case 'table':
			return Array.isArray(answer) && answer.every((row) => typeof row === 'object');
		default:
			return typeof answer === 'string';
	}
}
