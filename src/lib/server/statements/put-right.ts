import { buffer } from 'node:stream/consumers';
import { DomainError } from '$lib/core/errors/domain-error';
import type { PutRight } from '$lib/core/statements/put-right';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Database, Tx } from '../platform/db/database';
import type { PaperStore } from '../platform/files/paper-store';
import type { PdfWork } from '../platform/pdf/pdf-work';
import { enqueue } from '../platform/queue';

interface LockedStatement {
	clientId: string;
	paperId: string;
	name: string;
	from: string | null;
	to: string | null;
	opening: string | null;
	closing: string | null;
	accountId: string | null;
}

async function lockStatement(tx: Tx, statementId: string): Promise<LockedStatement> {
	const statement = await tx.first<LockedStatement>(
		`select s.client_id "clientId", s.paper_id "paperId", p.name, s.covers_from "from", s.covers_to "to", s.opening, s.closing, s.account_id "accountId"
		from statement s join paper p on p.id = s.paper_id where s.id = $1 and p.removed_at is null for update of s`,
		[statementId]
	);
	if (!statement) throw new DomainError('not_found', 'This statement is not here any more.');
	return statement;
}

const CALLED = {
	from: 'the first day',
	to: 'the last day',
	opening: 'the opening balance',
	closing: 'the closing balance',
	accountId: 'the account'
} as const;

/**
 * Puts right what was read of a statement, or writes what could not be read. What a balance is called there is learnt for the next statements
 * of the institution.
 * @throws DomainError not_found
 */
export async function putRightStatement(tx: Tx, actor: Actor, statementId: string, values: PutRight): Promise<void> {
	requireStaff(actor, 'file_papers');
	const before = await lockStatement(tx, statementId);
	const account = await tx.first('select 1 from account where id = $1 and client_id = $2', [values.accountId, before.clientId]);
	if (!account) throw new DomainError('not_found', 'This account is not theirs. Choose one of the list.');
	const changed = (Object.keys(CALLED) as (keyof typeof CALLED)[]).filter((name) => before[name] !== values[name]);
	if (changed.length === 0) return;
	await tx.rows(
		`update statement set account_id = $2, covers_from = $3, covers_to = $4, opening = $5, closing = $6, put_right_by_id = $7, put_right_at = $8,
			spots = spots - $9::text[] where id = $1`,
		[statementId, values.accountId, values.from, values.to, values.opening, values.closing, actor.id, actor.now, changed]
	);
	await recordEvent(tx, actor, {
		verb: 'statement_put_right',
		clientId: before.clientId,
		paperId: before.paperId,
		details: { name: before.name, what: changed.map((name) => CALLED[name]).join(', ') }
	});
	if (changed.some((name) => name === 'opening' || name === 'closing')) await enqueue(tx, 'learn_statement', { firmId: tx.firmId, statementId });
}

/** Writes by hand what a paper says that was asked for as a statement and could not be read. @returns the statement's id */
export async function writeStatement(tx: Tx, actor: Actor, paperId: string, values: PutRight): Promise<void> {
	requireStaff(actor, 'file_papers');
	const paper = await tx.first<{ clientId: string }>('select client_id "clientId" from paper where id = $1 and removed_at is null for update', [
		paperId
	]);
	if (!paper) throw new DomainError('not_found', 'This file is not here any more.');
	const known = await tx.first<{ id: string }>('select id from statement where paper_id = $1 order by number limit 1', [paperId]);
	const statement =
		known ??
		(await tx.first<{ id: string }>(
			'insert into statement (id, firm_id, client_id, paper_id, number) values (gen_random_uuid(), $1, $2, $3, 0) returning id',
			[tx.firmId, paper.clientId, paperId]
		));
	await putRightStatement(tx, actor, statement!.id, values);
}

/** Says why a statement does not begin where the one before it ended: then nobody has to look at it again. */
export async function explainStatement(tx: Tx, actor: Actor, statementId: string, words: string): Promise<void> {
	requireStaff(actor, 'file_papers');
	const { clientId, paperId, name } = await lockStatement(tx, statementId);
	await tx.rows('update statement set explained = $2, explained_by_id = $3, explained_at = $4 where id = $1', [
		statementId,
		words,
		actor.id,
		actor.now
	]);
	await recordEvent(tx, actor, { verb: 'statement_explained', clientId, paperId, details: { name, words } });
}

/** Papers that are read anew once something was learnt: those of the institution with a balance still missing, the newest first. */
const AGAIN_MOST = 200;

/**
 * Learns from a statement that a person has put right: by what its balances are called there, those of other statements of the institution are
 * found, also of those that are here already.
 */
export async function learnFrom(
	place: { db: Database; papers: PaperStore; pdf: Pick<PdfWork, 'label'> },
	firmId: string,
	statementId: string
): Promise<void> {
	const known = await place.db.inFirm(firmId, (tx) =>
		tx.first<{ key: string; type: string; institution: string; opening: string | null; closing: string | null; byId: string }>(
			`select p.storage_key as key, p.content_type as type, a.institution, s.opening, s.closing, s.put_right_by_id "byId"
			from statement s join paper p on p.id = s.paper_id join account a on a.id = s.account_id
			where s.id = $1 and p.removed_at is null and s.put_right_by_id is not null and p.bytes < 20971520`,
			[statementId]
		)
	);
	if (!known || known.type !== 'application/pdf') return;
	const pdf = await buffer(place.papers.read(known.key));
	const labels: { value: string; label: string }[] = [];
	for (const value of ['opening', 'closing'] as const) {
		const amount = known[value];
		const label = amount && (await place.pdf.label(pdf, amount));
		if (label) labels.push({ value, label });
	}
	// one name for both says nothing
	if (labels.length === 0 || (labels.length === 2 && labels[0].label === labels[1].label)) return;
	await place.db.inFirm(firmId, async (tx) => {
		const fresh = await tx.rows(
			`insert into statement_label (firm_id, institution, value, label, taught_by_id, taught_at)
			select $1, $2, r.value, r.label, $3, clock_timestamp() from jsonb_to_recordset($4) r (value text, label text) on conflict do nothing returning label`,
			[firmId, known.institution, known.byId, JSON.stringify(labels)]
		);
		if (fresh.length === 0) return;
		const again = await tx.rows<{ paperId: string }>(
			`select p.id "paperId" from placed_statement s join account a on a.id = s.account_id join paper p on p.id = s.paper_id
			where s.firm_id = $1 and lower(a.institution) = lower($2) and s.put_right_at is null and (s.opening is null or s.closing is null)
			order by p.uploaded_at desc limit $3`,
			[firmId, known.institution, AGAIN_MOST]
		);
		for (const { paperId } of again) await enqueue(tx, 'read_paper', { firmId, paperId });
	});
}
