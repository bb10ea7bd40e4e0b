import type { FirmFacts } from '$lib/core/facts/fact-definition';
import { factInWords } from '$lib/core/facts/fact-words';
import { addBusinessDays, localDate } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import type { ClientKnown, FactValueWords } from '$lib/core/requests/conditions';
import { READY_MADE_LISTS } from '$lib/core/requests/ready-made-lists';
import { inHand, LINES_MAX, statementLine, type LineInHand, type ListLine } from '$lib/core/requests/request-list';
import { tailor, type Override } from '$lib/core/requests/tailoring';
import { dueDate, periodOf, type Period } from '$lib/core/schedules/due-rule';
import { factReader } from '$lib/words/facts';
import type { Actor } from '../actor';
import { loadFacts, isShownTo } from '../facts/firm-facts';
import type { Firm } from '../firms/firm';
import { readList } from '../library/request-lists';
import type { Tx } from '../platform/db/database';
import { readKnownStatements, spreadStatements, type KnownStatements } from '../statements/accounts';
import { readClientsKnown } from '../clients/clients-known';
import { readOverrides } from './tailor-list';

/** Facts in words, as the firm's people read them; of what this person may not see, or only on asking, no more than that it is known. */
export function factValueWords(firm: Pick<Firm, 'locale' | 'country'>, actor: Actor): FactValueWords {
	const reader = factReader(firm.locale, firm.country);
	return (fact, value, is) => (isShownTo(actor, fact) ? factInWords(fact, value, reader, is) : 'known, and not shown');
}

/** When the lines of a list are due, asked on a day: the same for every client. */
export function duesOf(lines: readonly ListLine[], at: { askedOn: string; period: Period | null }, firm: Pick<Firm, 'calendar'>): string[] {
	return lines.map((line) => dueDate(line.due, { askedOn: at.askedOn, periodEnd: at.period?.to ?? null }, firm.calendar));
}

/** Makes a list fit clients, one after another: what is the same for all of them is written once. @param dues see `duesOf` */
export function fitterOf(
	lines: readonly ListLine[],
	dues: readonly string[],
	facts: FirmFacts,
	firm: Pick<Firm, 'locale' | 'country'>,
	actor: Actor
): (client: ClientKnown, overrides: Readonly<Record<string, Override>>) => { lines: LineInHand[]; missing: string[] } {
	const inHands = lines.map((line, i) => inHand(line, { dueOn: dues[i] }));
	const words = factValueWords(firm, actor);
	return (client, overrides) => {
		const { lines: tailored, missing } = tailor(lines, client, overrides, facts, words);
		return { lines: inHands.map((line, i) => ({ ...line, out: tailored[i].out, because: tailored[i].why, missing: tailored[i].missing })), missing };
	};
}

/** Whether a line stands for the statements of a client's accounts. */
export const standsForStatements = (line: LineInHand): boolean => line.kind === 'paper' && line.spec.statementsOf !== 'none';

/** Puts the statements of the month before in the place of lines that stand for them, where the client's accounts are known. */
export function spreadLines(known: KnownStatements, lines: readonly LineInHand[], today: string, locale: string): LineInHand[] {
	const month = periodOf(today, 'month', -1)!;
	return lines.flatMap((line) => {
		const of = line.kind === 'paper' ? line.spec.statementsOf : 'none';
		if (of === 'none' || !known.accounts.some((account) => of === 'all' || account.kind === of)) return [line];
		return spreadStatements(known, { ...line, of }, month, locale).map((one) => ({
			...line,
			key: `${line.key.slice(0, 8)} ${one.account.id.slice(0, 8)} ${one.account.to}`,
			title: one.title,
			account: one.account
		}));
	});
}

/** A statement by its account and last day. */
export interface WantedCycle {
	accountId: string;
	to: string;
}

/** A line for each statement that was not asked for yet, grouped by account. */
function linesForStatements(known: KnownStatements, wanted: readonly WantedCycle[], dueOn: string, locale: string): LineInHand[] {
	const keys = new Set(wanted.map(({ accountId, to }) => `${accountId} ${to}`));
	const days = wanted.map(({ to }) => to).sort();
	if (days.length === 0) return [];
	return spreadStatements(known, { title: '', heading: '', of: 'all' }, { from: days[0], to: days.at(-1)! }, locale, true)
		.filter(({ account }) => keys.has(`${account.id} ${account.to}`))
		.slice(0, LINES_MAX)
		.map((one) => statementLine(one, dueOn));
}

export interface BegunRequest {
	list: { id: string; version: number } | null;
	name: string;
	title: string;
	message: string | null;
	/** its other lines go once its letters are signed by all */
	lettersFirst: boolean;
	lines: LineInHand[];
	missing: string[];
}

/** A request as it begins with a list of the Library or a ready-made one, made to fit a client. @throws DomainError not_found */
export async function beginRequest(
	tx: Tx,
	actor: Actor,
	firm: Firm,
	clientId: string,
	from: { listId: string } | { readyMade: string } | { statements: readonly WantedCycle[] }
): Promise<BegunRequest> {
	const today = localDate(actor.now, firm.calendar);
	const client = (await readClientsKnown(tx, [clientId], today)).get(clientId);
	if (!client) throw new DomainError('not_found', 'There is no such client.');
	const facts = await loadFacts(tx);
	const at = { askedOn: today, period: null };
	const statements = (await readKnownStatements(tx, actor, [clientId]))(clientId);
	if ('statements' in from) {
		const lines = linesForStatements(statements, from.statements, addBusinessDays(today, 10, firm.calendar), firm.clientLanguage);
		if (lines.length === 0) throw new DomainError('changed_meanwhile', 'All of these were asked for already.');
		return {
			list: null,
			name: '',
			title: lines.length === 1 ? 'A statement that is missing' : 'Statements that are missing',
			message: null,
			lettersFirst: false,
			lines,
			missing: []
		};
	}
	if ('readyMade' in from) {
		const ready = READY_MADE_LISTS.find((list) => list.id === from.readyMade);
		if (!ready) throw new DomainError('not_found', 'There is no such list.');
		const fit = fitterOf(ready.lines, duesOf(ready.lines, at, firm), facts, firm, actor)(client, {});
		return {
			list: null,
			name: ready.name,
			title: ready.title,
			message: null,
			lettersFirst: false,
			...fit,
			lines: spreadLines(statements, fit.lines, at.askedOn, firm.clientLanguage)
		};
	}
	const list = await readList(tx, actor, from.listId);
	const overrides = (await readOverrides(tx, list.id, [clientId])).get(clientId) ?? {};
	const fit = fitterOf(list.lines, duesOf(list.lines, at, firm), facts, firm, actor)(client, overrides);
	return {
		list: { id: list.id, version: list.version },
		name: list.name,
		title: list.title,
		message: list.message || null,
		lettersFirst: list.lettersFirst,
		...fit,
		lines: spreadLines(statements, fit.lines, at.askedOn, firm.clientLanguage)
	};
}
