import { chaseWhenInWords, CHASE_BY_WORDS, type ChaseStep } from '$lib/core/chasing/chase-plan';
import type { Doing } from '$lib/core/chasing/look-ahead';

/** How a plan is used: "12 things of 5 people; chosen for 2 lists and 1 client". */
export function planUseInWords(use: { things: number; people: number; lists: number; clients: number; others: number }): string {
	const count = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;
	const chosen = [
		...(use.lists > 0 ? [count(use.lists, 'list', 'lists')] : []),
		...(use.clients > 0 ? [count(use.clients, 'client', 'clients')] : []),
		...(use.others > 0 ? [count(use.others, 'person, service or questionnaire', 'people, services and questionnaires')] : [])
	];
	return [
		use.things > 0 ? `${count(use.things, 'thing is', 'things are')} open, of ${count(use.people, 'person', 'people')}` : 'nothing is open by it',
		...(chosen.length > 0 ? [`chosen for ${chosen.join(', ')}`] : [])
	].join('; ');
}

/** A step in words, for whoever only reads. */
export const stepInWords = (step: ChaseStep): string => `${chaseWhenInWords(step.when)}: ${CHASE_BY_WORDS[step.by]}${step.firmer ? ', firmer' : ''}`;

/** What happens on a day of a look ahead. */
export const DOING_WORDS: Record<Doing, string> = { email: 'e-mail', text: 'text', call: 'a call', partner: 'a partner is told' };
