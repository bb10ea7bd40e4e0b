import { localDate } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { kindOf } from '$lib/core/items/item-kinds';
import { fillText, mergeFieldsInText, mergeFieldWords, unfilledFields } from '$lib/core/letters/merge-fields';
import type { NewRequest, RequestLine } from '$lib/core/requests/request-list';
import { notAskedWords } from '$lib/core/requests/who-may-be-asked';
import type { Actor } from '../actor';
import { requireActiveClient } from '../clients/client-record';
import { withBrandOf } from '../firms/brands';
import type { Firm } from '../firms/firm';
import { serverKindOf } from '../item-kinds/item-kinds';
import { automaticValues, type LetterParties } from '../letters/prepare-letter';
import { recordValues } from '../letters/record-values';
import type { Tx } from '../platform/db/database';
import { readRecipient, type Recipient } from './recipients';

export type Person = Recipient & { id: string };
/** What was prepared for lines before they are sent, by their place; see `ServerItemKind.prepare`. */
export type PreparedLines = Map<number, unknown>;

/**
 * A request as it would be written now: its lines as they stand, fields put into its titles, everybody who gets it, and the firm as
 * its client sees it.
 * @throws DomainError what stands in the way of sending it
 */
export async function requireReady(tx: Tx, actor: Actor, own: Firm, input: NewRequest): Promise<{ firm: Firm; people: Person[]; input: NewRequest }> {
	const firm = await withBrandOf(tx, own, { clientId: input.clientId });
	const people: Person[] = [];
	for (const id of [input.contactId, ...new Set(input.others.filter((other) => other !== input.contactId))])
		people.push({ id, ...(await readRecipient(tx, input.clientId, id)) });
	await requireActiveClient(tx, input.clientId);
	await requireAttachments(tx, input);
	await requireAccounts(tx, input);
	const lines: RequestLine[] = [];
	const at = { clientId: input.clientId, firm, to: people[0], now: actor.now };
	requireSendable(firm, actor, input, people);
	for (const line of input.lines) lines.push((await serverKindOf(line.kind).beforeSending?.(tx, line, at)) ?? line);
	const titles = [input.title, ...lines.map((line) => line.title)];
	const values = await valuesFor(tx, actor, firm, input.clientId, people[0], [...titles, input.message].join('\n'));
	const unfilled = unfilledFields(mergeFieldsInText([...titles, input.message].join('\n')), values);
	if (unfilled.length > 0)
		throw new DomainError(
			'unfilled_fields',
			`The message cannot go yet. There is nothing to put in for: ${unfilled.map(mergeFieldWords).join(', ')}.`
		);
	const filled = (title: string) => fillText(title, values).slice(0, 160);
	return { firm, people, input: { ...input, title: filled(input.title), lines: lines.map((line) => ({ ...line, title: filled(line.title) })) } };
}

/**
 * What stands for the fields of a text to somebody of a client: what is known of everybody, and where the text names more, what the
 * record knows of this client and may tell them, in their language.
 */
export async function valuesFor(
	tx: Tx,
	actor: Actor,
	firm: Firm,
	clientId: string,
	to: LetterParties,
	text: string
): Promise<Record<string, string>> {
	const values = automaticValues(firm, to, actor.now);
	if (unfilledFields(mergeFieldsInText(text), values).length === 0) return values;
	return { ...(await recordValues(tx, actor, clientId, to.locale)), ...values };
}

/** Whether each of several people answers a line for themselves; otherwise any one of them answers for all. */
export const isAnsweredByEach = (line: Pick<RequestLine, 'each'>, request: Pick<NewRequest, 'each'>): boolean => line.each ?? request.each;

/** @throws DomainError invalid, naming what stands in the way of sending */
function requireSendable(firm: Firm, actor: Actor, input: NewRequest, people: readonly Person[]): void {
	const today = localDate(actor.now, firm.calendar);
	const past = input.lines.findIndex((line) => line.dueOn < today);
	if (past >= 0)
		throw new DomainError('invalid', `“${input.lines[past].title}” would be due in the past. Choose a later date.`, {
			[`lines.${past}.dueOn`]: 'Choose a date from today on.'
		});
	for (const [index, line] of input.lines.entries()) {
		const missing = kindOf(line.kind).missing(line);
		if (missing) throw new DomainError('invalid', missing.message, { [`lines.${index}.${missing.field}`]: missing.hint });
	}
	if (people.length > 1 && input.lines.some((line) => !kindOf(line.kind).judged && isAnsweredByEach(line, input)))
		throw new DomainError('invalid', 'A letter is signed by one person. Send it in a request of its own, or let any one of them answer.');
	for (const person of people) {
		if (person.notAsked)
			throw new DomainError(
				'invalid',
				`${notAskedWords(person.notAsked, { name: person.contactName, email: person.contactEmail })}; what you wrote here stays.`
			);
	}
}

/** @throws DomainError not_found if a statement is asked of an account that is not the client's */
async function requireAccounts(tx: Tx, input: Pick<NewRequest, 'lines' | 'clientId'>): Promise<void> {
	const ids = [...new Set(input.lines.flatMap((line) => (line.account ? [line.account.id] : [])))];
	if (ids.length === 0) return;
	const known = await tx.first<{ n: number }>('select count(*) n from account where id = any ($1) and client_id = $2', [ids, input.clientId]);
	if (known!.n !== ids.length) throw new DomainError('not_found', 'An account is not this client’s. Take its lines out, and add them again.');
}

/** @throws DomainError not_found if a file beside a line is not the firm's */
async function requireAttachments(tx: Tx, input: Pick<NewRequest, 'lines'>): Promise<void> {
	const ids = [...new Set(input.lines.flatMap((line) => line.attachments))];
	if (ids.length === 0) return;
	const known = await tx.first<{ n: number }>('select count(*) n from attachment where id = any ($1)', [ids]);
	if (known!.n !== ids.length) throw new DomainError('not_found', 'A file beside a line is not there any more. Take it out, and add it again.');
}
