import { DomainError } from '$lib/core/errors/domain-error';
import { saying } from '$lib/words/sayings';
import { machine, requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Database, Tx } from '../platform/db/database';
import type { PaperStore } from '../platform/files/paper-store';
import type { VirusScanner } from '../platform/scanning/clamd';

/** Papers that are looked through in one go. */
const AT_ONCE = 20;

/** What a scanner said of a paper; null while it was not asked. */
export type Scan = 'clean' | 'found' | 'too_large' | null;

/**
 * Holds back what must not be handed out: what a scanner found something in, and, where one is set up, what it has not looked through.
 * @param scanning whether a scanner is set up
 * @throws DomainError changed_meanwhile while it waits for the scanner, unreadable_file for what is kept apart
 */
export function requireHarmless(paper: { name: string; scan: Scan }, scanning: boolean): void {
	if (paper.scan === 'found') throw new DomainError('unreadable_file', saying('wrong.paper.harmful', { name: paper.name }));
	if (!scanning || paper.scan === 'clean') return;
	if (paper.scan === 'too_large') throw new DomainError('unreadable_file', saying('wrong.paper.unscannable', { name: paper.name }));
	throw new DomainError('changed_meanwhile', saying('wrong.paper.unscanned', { name: paper.name }));
}

type ScanPlace = { db: Database; papers: PaperStore; scanner: VirusScanner };

/**
 * Has a paper looked through. What something is found in is hidden from the client and kept apart.
 * @returns what the scanner said, now or before; null for a paper that is gone
 * @throws Error if the scanner cannot be reached; the paper is held back until it can
 */
export async function scanPaper({ db, papers, scanner }: ScanPlace, firmId: string, paperId: string, now: string): Promise<Scan> {
	const paper = await db.inFirm(firmId, (tx) =>
		tx.first<{ key: string; scan: Scan }>('select storage_key "key", scan from paper where id = $1 and removed_at is null', [paperId])
	);
	if (!paper || paper.scan !== null) return paper?.scan ?? null;
	const verdict = await scanner.scan(papers.read(paper.key));
	await db.inFirm(firmId, async (tx) => {
		const noted = await tx.first<{ name: string; client_id: string; item_id: string | null }>(
			`update paper set scan = $2, scan_found = $3, scanned_at = $4, shown_at = case when $2 = 'found' then null else shown_at end,
				shown_by_id = case when $2 = 'found' then null else shown_by_id end
			where id = $1 and scan is null returning name, client_id, item_id`,
			[paperId, verdict.is, verdict.is === 'found' ? verdict.what : null, now]
		);
		if (noted && verdict.is === 'found')
			await recordEvent(tx, machine(now), {
				verb: 'paper_kept_apart',
				clientId: noted.client_id,
				itemId: noted.item_id,
				paperId,
				details: { name: noted.name, found: verdict.what }
			});
	});
	return verdict.is;
}

/** Has papers of a firm looked through that no scanner has seen yet: those from before one was set up, or from while it was down. @returns how many */
export async function scanWaiting(place: ScanPlace, firmId: string, now: string): Promise<number> {
	const waiting = await place.db.inFirm(firmId, (tx) =>
		tx.rows<{ id: string }>('select id from paper where firm_id = $1 and scan is null and removed_at is null order by uploaded_at, id limit $2', [
			firmId,
			AT_ONCE
		])
	);
	for (const { id } of waiting) await scanPaper(place, firmId, id, now);
	return waiting.length;
}

/** A paper that is kept apart. */
export interface KeptApart {
	id: string;
	name: string;
	clientId: string;
	clientName: string;
	sender: string;
	at: string;
	/** what was found; null for one that is too large to be looked through */
	found: string | null;
}

/** What is kept apart, the newest first, and how many papers wait to be looked through since when. */
export async function readKeptApart(tx: Tx, actor: Actor): Promise<{ papers: KeptApart[]; waiting: number; since: string | null }> {
	requireStaff(actor, 'set_up_firm');
	const papers = await tx.rows<KeptApart>(
		`select p.id, p.name, p.client_id "clientId", c.name "clientName", coalesce(ct.name, st.name, m.from_address, '') sender, p.uploaded_at "at", p.scan_found found
		from paper p join client c on c.id = p.client_id left join contact ct on ct.id = p.uploaded_by_contact_id
			left join staff st on st.id = p.given_by_id left join incoming_mail m on m.id = p.mail_id
		where p.firm_id = $1 and p.scan in ('found', 'too_large') and p.removed_at is null order by p.scanned_at desc, p.id limit 200`,
		[tx.firmId]
	);
	const waiting = await tx.first<{ n: number; since: string | null }>(
		'select count(*) n, min(uploaded_at) since from paper where firm_id = $1 and scan is null and removed_at is null',
		[tx.firmId]
	);
	return { papers, waiting: waiting!.n, since: waiting!.since };
}

async function lockKeptApart(tx: Tx, paperId: string): Promise<{ name: string; client_id: string }> {
	const paper = await tx.first<{ name: string; client_id: string }>(
		`select name, client_id from paper where id = $1 and scan in ('found', 'too_large') and removed_at is null for update`,
		[paperId]
	);
	if (!paper) throw new DomainError('changed_meanwhile', 'This paper is not kept apart any more.');
	return paper;
}

/** Hands a paper out all the same: the scanner was wrong, or could not look through it. @throws DomainError changed_meanwhile */
export async function letOut(tx: Tx, actor: Actor, paperId: string): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	const { name, client_id } = await lockKeptApart(tx, paperId);
	await tx.rows(`update paper set scan = 'clean', scan_found = null where id = $1`, [paperId]);
	await recordEvent(tx, actor, { verb: 'paper_let_out', clientId: client_id, paperId, details: { name } });
}

/** Takes a paper that is kept apart out of every list. @throws DomainError changed_meanwhile */
export async function removeKeptApart(tx: Tx, actor: Actor, paperId: string): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	const { name, client_id } = await lockKeptApart(tx, paperId);
	await tx.rows('update paper set removed_at = $2 where id = $1', [paperId, actor.now]);
	await recordEvent(tx, actor, { verb: 'harmful_removed', clientId: client_id, paperId, details: { name } });
}
