import { randomUUID } from 'node:crypto';
import { isOfRule, ruleWordsSaid, type CameFile, type KeepingRule } from '$lib/core/arrivals/keeping-rules';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import type { FolderChoice } from '$lib/core/papers/folders';
import { accountName } from '$lib/core/statements/accounts';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { loadFirm } from '../firms/firm';
import type { Tx } from '../platform/db/database';
import { folderChosen } from './folders';

/** Rules of one client for what answers nothing, at most. */
const KEEPING_MOST = 60;

/** A rule by which files find their place, and what became of it. */
export interface FilingRule {
	id: string;
	clientId: string;
	clientName: string;
	/** of the account whose statements it files; null where it keeps what somebody sends */
	institution: string | null;
	lastFour: string | null;
	/** who sends what it keeps */
	sender: string | null;
	words: string[];
	folder: string | null;
	madeBy: string;
	filed: number;
	takenBack: number;
}
/** What came by itself in a month, or from a client, and how much of it found its place by itself. */
export interface ByItself {
	of: string;
	filed: number;
	dealt: number;
}

const DEALT = `p.unasked and p.removed_at is null and p.arranged_in is null and (p.item_id is not null or p.put_away_at is not null)`;

/** The rules by which files find their place, and how many of what came by itself did: in the last ninety days, by month, and by client over a year. */
export async function readFilingRules(
	tx: Tx,
	actor: Actor
): Promise<{ rules: FilingRule[]; filed: number; dealt: number; months: ByItself[]; clients: ByItself[] }> {
	requireStaff(actor, 'look');
	const rules = await tx.rows<FilingRule>(
		`select r.id, c.id "clientId", c.name "clientName", a.institution, a.last_four "lastFour", ct.name sender, r.words, f.name folder, s.name "madeBy",
			r.taken_back "takenBack", (select count(*) from paper p where p.filed_by_rule_id = r.id) filed
		from filing_rule r join client c on c.id = r.client_id left join account a on a.id = r.account_id left join contact ct on ct.id = r.contact_id
			left join folder f on f.id = r.folder_id join staff s on s.id = r.made_by_id
		where r.firm_id = $1 and r.off_at is null order by lower(c.name), r.account_id is null, lower(a.institution), r.place, r.id limit 500`,
		[tx.firmId]
	);
	const share = await tx.first<{ filed: number; dealt: number }>(
		`select count(*) filter (where p.filed_by_rule_id is not null) filed, count(*) dealt from paper p
		where p.firm_id = $1 and ${DEALT} and p.uploaded_at > $2::timestamptz - interval '90 days'`,
		[tx.firmId, actor.now]
	);
	const { calendar } = await loadFirm(tx);
	const months = await tx.rows<ByItself>(
		`select to_char(p.uploaded_at at time zone $3, 'YYYY-MM') "of", count(*) filter (where p.filed_by_rule_id is not null) filed, count(*) dealt from paper p
		where p.firm_id = $1 and ${DEALT} and p.uploaded_at > $2::timestamptz - interval '1 year' group by 1 order by 1`,
		[tx.firmId, actor.now, calendar.timeZone]
	);
	const clients = await tx.rows<ByItself>(
		`select c.name "of", count(*) filter (where p.filed_by_rule_id is not null) filed, count(*) dealt from paper p join client c on c.id = p.client_id
		where p.firm_id = $1 and ${DEALT} and p.uploaded_at > $2::timestamptz - interval '1 year' group by c.id, c.name order by 3 desc, lower(c.name) limit 100`,
		[tx.firmId, actor.now]
	);
	return { rules, ...share!, months, clients };
}

/** Lets statements of an account find their place by themselves from now on. Said once more nothing changes. */
export async function makeFilingRule(tx: Tx, actor: Actor, accountId: string): Promise<void> {
	requireStaff(actor, 'file_papers');
	const account = await tx.first<{ clientId: string; institution: string; lastFour: string }>(
		'select client_id "clientId", institution, last_four "lastFour" from account where id = $1',
		[accountId]
	);
	if (!account) throw new DomainError('not_found', 'This account is not here any more.');
	const made = await tx.rows(
		`insert into filing_rule (id, firm_id, client_id, account_id, made_by_id, made_at) values (gen_random_uuid(), $1, $2, $3, $4, $5)
		on conflict (account_id) where off_at is null do nothing returning id`,
		[tx.firmId, account.clientId, accountId, actor.id, actor.now]
	);
	if (made.length > 0)
		await recordEvent(tx, actor, { verb: 'filing_rule_made', clientId: account.clientId, details: { account: accountName(account) } });
}

/** A rule that keeps what somebody sends, as it is asked. */
export interface KeepingRuleRow extends KeepingRule {
	id: string;
	folderId: string | null;
	madeById: string;
}

/** What regularly comes from people of a client, in the order in which it is asked. */
export function readKeepingRules(tx: Tx, clientId: string): Promise<KeepingRuleRow[]> {
	return tx.rows<KeepingRuleRow>(
		`select id, contact_id "contactId", words, folder_id "folderId", made_by_id "madeById" from filing_rule
		where client_id = $1 and account_id is null and off_at is null order by place, made_at, id`,
		[clientId]
	);
}

/**
 * Keeps what the sender of a paper sends under such a name where this one is kept, from now on. Said once more nothing changes.
 * @param input.paperId a paper that is kept among those of its client
 * @throws DomainError not_found, invalid if nobody known sent it, too_many
 */
export async function makeKeepingRule(tx: Tx, actor: Actor, input: { paperId: string; words: readonly string[] }): Promise<void> {
	requireStaff(actor, 'file_papers');
	const paper = await tx.first<{ clientId: string; contactId: string | null; sender: string | null; folderId: string | null }>(
		`select p.client_id "clientId", p.uploaded_by_contact_id "contactId", ct.name sender, p.folder_id "folderId"
		from paper p left join contact ct on ct.id = p.uploaded_by_contact_id where p.id = $1 and p.unasked and p.kept and p.removed_at is null`,
		[input.paperId]
	);
	if (!paper) throw new DomainError('not_found', 'This file is not here any more.');
	if (!paper.contactId || input.words.length === 0)
		throw new DomainError('invalid', 'Only what somebody known sends under a name that says something can be kept by itself.');
	const there = await readKeepingRules(tx, paper.clientId);
	if (there.length >= KEEPING_MOST) throw new DomainError('too_many', `A client has at most ${KEEPING_MOST} such rules. Switch one off first.`);
	const words = [...input.words].sort();
	if (there.some((one) => one.contactId === paper.contactId && one.words.join(' ') === words.join(' '))) return;
	await tx.rows(
		`insert into filing_rule (id, firm_id, client_id, contact_id, words, folder_id, place, made_by_id, made_at) values ($1, $2, $3, $4, $5, $6, $7, $8, $9)`,
		[randomUUID(), tx.firmId, paper.clientId, paper.contactId, words, paper.folderId, there.length, actor.id, actor.now]
	);
	await recordEvent(tx, actor, {
		verb: 'keeping_rule_made',
		clientId: paper.clientId,
		details: { sender: paper.sender, words: ruleWordsSaid(words) }
	});
}

/** Locks a rule that is in force. @throws DomainError not_found */
async function lockRule(tx: Tx, ruleId: string) {
	const rule = await tx.first<{
		clientId: string;
		accountId: string | null;
		institution: string | null;
		lastFour: string | null;
		contactId: string | null;
		sender: string | null;
		words: string[];
		folderId: string | null;
	}>(
		`select r.client_id "clientId", r.account_id "accountId", a.institution, a.last_four "lastFour", r.contact_id "contactId", ct.name sender, r.words,
			r.folder_id "folderId"
		from filing_rule r left join account a on a.id = r.account_id left join contact ct on ct.id = r.contact_id
		where r.id = $1 and r.off_at is null for update of r`,
		[ruleId]
	);
	if (!rule) throw new DomainError('not_found', 'This is switched off already.');
	return rule;
}

/** Ends a rule: what comes from now on waits for a person. @throws DomainError not_found */
export async function endFilingRule(tx: Tx, actor: Actor, ruleId: string): Promise<void> {
	requireStaff(actor, 'file_papers');
	const { clientId, institution, lastFour, sender, words } = await lockRule(tx, ruleId);
	await tx.rows('update filing_rule set off_at = $2 where id = $1', [ruleId, actor.now]);
	if (institution !== null && lastFour !== null)
		await recordEvent(tx, actor, { verb: 'filing_rule_ended', clientId, details: { account: accountName({ institution, lastFour }) } });
	else await recordEvent(tx, actor, { verb: 'keeping_rule_ended', clientId, details: { sender, words: ruleWordsSaid(words) } });
}

/** Says anew by which words a rule knows a file. @throws DomainError not_found, also for one that goes by an account; invalid if another one has them */
export async function changeKeepingRule(
	tx: Tx,
	actor: Actor,
	input: { ruleId: string; words: readonly string[]; /** where it keeps from now on */ folder: FolderChoice }
): Promise<void> {
	requireStaff(actor, 'file_papers');
	const { clientId, contactId, sender } = await lockRule(tx, input.ruleId);
	if (contactId === null) throw new DomainError('not_found', 'This goes by an account, not by words.');
	const words = [...input.words].sort();
	const twin = await tx.first('select 1 from filing_rule where client_id = $1 and contact_id = $2 and words = $3 and off_at is null and id <> $4', [
		clientId,
		contactId,
		words,
		input.ruleId
	]);
	if (twin) throw new DomainError('invalid', 'There is such a rule already.', { words: 'There is one with these words already.' });
	const folderId = await folderChosen(tx, actor, clientId, input.folder);
	await tx.rows('update filing_rule set words = $2, folder_id = $3 where id = $1', [input.ruleId, words, folderId]);
	await recordEvent(tx, actor, { verb: 'keeping_rule_changed', clientId, details: { sender, words: ruleWordsSaid(words) } });
}

/** Asks a rule before the one that stands above it. @throws DomainError not_found */
export async function askRuleEarlier(tx: Tx, actor: Actor, ruleId: string): Promise<void> {
	requireStaff(actor, 'file_papers');
	const { clientId } = await lockRule(tx, ruleId);
	const order = (await readKeepingRules(tx, clientId)).map(({ id }) => id);
	const at = order.indexOf(ruleId);
	if (at < 1) return;
	[order[at - 1], order[at]] = [order[at], order[at - 1]];
	await tx.rows('update filing_rule r set place = o.place - 1 from unnest($1::uuid[]) with ordinality o (id, place) where r.id = o.id', [order]);
}

/**
 * What a rule would have filed of what came in the past year, and how much of that went elsewhere by hand.
 * @throws DomainError not_found
 */
export async function tryFilingRule(tx: Tx, actor: Actor, ruleId: string): Promise<{ filed: number; wrong: number }> {
	requireStaff(actor, 'look');
	const { clientId, accountId, contactId, words, folderId } = await lockRule(tx, ruleId);
	const { calendar } = await loadFirm(tx);
	const since = `${Number(localDate(actor.now, calendar).slice(0, 4)) - 1}${localDate(actor.now, calendar).slice(4)}`;
	if (contactId === null) {
		// only what answered something that was asked would have gone
		const tried = await tx.first<{ filed: number; wrong: number }>(
			`select count(*) filed, count(*) filter (where i.account_id is distinct from $2) wrong
			from paper p join item i on i.id = p.item_id
			where p.client_id = $1 and ${DEALT} and p.uploaded_at >= $3::date and exists (select from placed_statement s where s.paper_id = p.id and s.account_id = $2)
				and (select count(*) from statement s where s.paper_id = p.id) = 1`,
			[clientId, accountId, since]
		);
		return tried!;
	}
	const papers = await tx.rows<CameFile & { kept: boolean; folderId: string | null }>(
		`select p.name, p.note, p.first_words words, p.uploaded_by_contact_id "contactId", p.kept, p.folder_id "folderId" from paper p
		where p.client_id = $1 and ${DEALT} and p.uploaded_at >= $2::date and p.uploaded_by_contact_id = $3 order by p.uploaded_at desc limit 5000`,
		[clientId, since, contactId]
	);
	const filed = papers.filter((paper) => isOfRule({ contactId, words }, paper));
	return { filed: filed.length, wrong: filed.filter((paper) => !paper.kept || paper.folderId !== folderId).length };
}
