import { z } from 'zod';
import { guardCell } from '$lib/core/tables/formula-guard';
import { writeCsv } from '$lib/core/tables/write-csv';
import { DomainError } from '$lib/core/errors/domain-error';
import { sumWords } from '$lib/core/statements/grid-words';
import type { PairOfLine } from '$lib/core/transactions/papers-of-lines';
import { requireStaff, type Actor } from '../actor';
import { recordEvent, recordEvents } from '../audit/record-event';
import type { Tx } from '../platform/db/database';
import { AMOUNT, ASKED_BEFORE } from './lines-in-sql';
import { numberCell } from './export-answers';
import { findPairs, type LineHere, type PairingPlace, type PaperShort } from './find-pairs';
import { readTransactionFile } from './transaction-files';

/** Pairs that are kept with one press. */
export const PAIRS_MOST = 300;

/** What stands on the page about the papers of a file's lines. */
export interface PapersOfLines {
	/** lines that no document is named for */
	wanting: number;
	/** lines of these about which the client was asked */
	asked: number;
	/** lines of these with a paper */
	paired: number;
	/** what may belong together, the likeliest first */
	likely: (PairOfLine & { line: LineHere; paper: PaperShort })[];
	/** lines with their papers, as many as are shown */
	found: { line: LineHere; paper: PaperShort; /** null: it was sure by itself */ by: string | null }[];
	/** lines for which nothing was found, as many as may be asked about at once */
	without: LineHere[];
	/** all of these, of which `without` are the first */
	withoutCount: number;
}

/**
 * The papers of a file's lines: what was found, what is likely, and what is missing.
 * @throws DomainError not_found
 */
export async function readPapersOfLines(place: PairingPlace, firmId: string, actor: Actor, fileId: string): Promise<PapersOfLines> {
	requireStaff(actor, 'look');
	const file = await place.db.inFirm(firmId, (tx) => readTransactionFile(tx, actor, fileId));
	const { lines, papers, pairs } = await findPairs(place, firmId, file.clientId, fileId);
	const [lineOf, paperOf] = [new Map(lines.map((line) => [line.id, line])), new Map(papers.map((paper) => [paper.id, paper]))];
	return place.db.inFirm(firmId, async (tx) => {
		const counts = await tx.first<{ wanting: number; asked: number; paired: number; without: number }>(
			`with wanting as (select l.client_id, l.identity, ${ASKED_BEFORE} asked from transaction_line l where l.file_id = $1 and l.wants_paper),
				counted as (select w.asked, p.paper_id is not null paired from wanting w left join paper_of_line p on p.client_id = w.client_id and p.identity = w.identity)
			select count(*) wanting, count(*) filter (where asked and not paired) asked, count(*) filter (where paired) paired,
				count(*) filter (where not asked and not paired) "without" from counted`,
			[fileId]
		);
		const found = await tx.rows<LineHere & { paperId: string; name: string; at: string; by: string | null }>(
			`select l.id, l.identity, l.day, ${AMOUNT('l.amount')} amount, l.currency, l.who, l.words, p.paper_id "paperId", p.name, p.uploaded_at "at", s.name "by"
			from transaction_line l join paper_of_line p on p.client_id = l.client_id and p.identity = l.identity left join staff s on s.id = p.said_by_id
			where l.file_id = $1 and l.wants_paper order by l.position limit $2`,
			[fileId, PAIRS_MOST]
		);
		const { wanting, asked, paired, without } = counts!;
		const likely = pairs
			.map((pair) => {
				const { id, name, at } = paperOf.get(pair.paperId)!;
				return { ...pair, line: lineOf.get(pair.lineId)!, paper: { id, name, at } };
			})
			.sort((a, b) => b.score - a.score || (a.lineId < b.lineId ? -1 : 1));
		const named = new Set(likely.map(({ lineId }) => lineId));
		const rest = lines.filter(({ id }) => !named.has(id));
		return {
			wanting,
			asked,
			paired,
			likely,
			found: found.map(({ paperId, name, at, by, ...line }) => ({ line, paper: { id: paperId, name, at }, by })),
			without: rest.slice(0, PAIRS_MOST),
			withoutCount: without - likely.length
		};
	});
}

export const pairSchema = z.object({ lineId: z.uuid('This line is not there any more.'), paperId: z.uuid('Choose the paper first.') });
type Named = z.output<typeof pairSchema>;

interface NamedPair {
	id: string;
	clientId: string;
	identity: string;
	words: string;
	paperId: string;
	paper: string;
}

/** Locks lines of a file with the papers named for them. @throws DomainError not_found if one of them is gone */
async function lockPairs(tx: Tx, fileId: string, pairs: readonly Named[]): Promise<NamedPair[]> {
	if (pairs.length === 0) throw new DomainError('invalid', 'Choose the pairs first.');
	if (pairs.length > PAIRS_MOST) throw new DomainError('too_many', `At most ${PAIRS_MOST} at once. Choose fewer.`);
	const rows = await tx.rows<NamedPair & { who: string; amount: string }>(
		`select l.id, l.client_id "clientId", l.identity, coalesce(nullif(l.who, ''), l.words) words, ${AMOUNT('l.amount')} amount, l.who, p.id "paperId", p.name paper
		from jsonb_to_recordset($2) r ("lineId" uuid, "paperId" uuid) join transaction_line l on l.id = r."lineId" join paper p on p.id = r."paperId" and p.client_id = l.client_id
		where l.file_id = $1 and p.removed_at is null order by l.id for update of l`,
		[fileId, JSON.stringify(pairs)]
	);
	if (rows.length < pairs.length) throw new DomainError('not_found', 'One of these is not here any more. Nothing was changed; load the page again.');
	return rows.map((row) => ({ ...row, words: `${row.words}, ${sumWords(row.amount)}` }));
}

/** Writes down whether papers belong to lines, over what was said of the same two before. */
async function say(tx: Tx, actor: Actor, pairs: readonly NamedPair[], fits: boolean): Promise<void> {
	await tx.rows(
		`insert into line_paper (id, firm_id, client_id, identity, paper_id, fits, said_by_id, said_at)
		select distinct on (r.identity, r."paperId") gen_random_uuid(), $2::uuid, r."clientId", r.identity, r."paperId", $3::boolean, $4::uuid, $5::timestamptz
		from jsonb_to_recordset($1) r ("clientId" uuid, identity text, "paperId" uuid)
		on conflict (client_id, identity, paper_id) do update set fits = excluded.fits, said_by_id = excluded.said_by_id, said_at = excluded.said_at`,
		[JSON.stringify(pairs), tx.firmId, fits, actor.id, actor.now]
	);
	await recordEvents(
		tx,
		actor,
		pairs.map(({ clientId, paperId, paper, words }) => ({
			verb: fits ? ('line_paired' as const) : ('line_refused' as const),
			clientId,
			paperId,
			details: { paper, line: words }
		}))
	);
}

/**
 * Says which papers belong to which lines.
 * @throws DomainError not_found, invalid, changed_meanwhile if a line has another paper meanwhile
 */
export async function pairLines(tx: Tx, actor: Actor, fileId: string, pairs: readonly Named[]): Promise<number> {
	requireStaff(actor, 'file_papers');
	const locked = await lockPairs(tx, fileId, pairs);
	const [other] = await tx.rows<{ name: string }>(
		`select p.name from jsonb_to_recordset($1) r ("clientId" uuid, identity text, "paperId" uuid)
		join paper_of_line p on p.client_id = r."clientId" and p.identity = r.identity and p.paper_id <> r."paperId" limit 1`,
		[JSON.stringify(locked)]
	);
	if (other) throw new DomainError('changed_meanwhile', `Somebody has paired one of these lines with ${other.name} meanwhile. Load the page again.`);
	await say(tx, actor, locked, true);
	return locked.length;
}

/** Says that a paper does not belong to a line: it is not proposed again, and what was found is taken back. @throws DomainError not_found */
export async function refusePair(tx: Tx, actor: Actor, fileId: string, pair: Named): Promise<void> {
	requireStaff(actor, 'file_papers');
	await say(tx, actor, await lockPairs(tx, fileId, [pair]), false);
}

/** Papers among which a person may choose the one of a line themselves, the latest first. */
export async function readPapersToChoose(tx: Tx, actor: Actor, fileId: string): Promise<PaperShort[]> {
	requireStaff(actor, 'look');
	return tx.rows<PaperShort>(
		`select p.id, p.name, p.uploaded_at "at" from transaction_file f join paper_of_payment p on p.client_id = f.client_id where f.id = $1
		order by exists (select from line_paper l where l.paper_id = p.id and l.fits), p.uploaded_at desc, p.id limit 200`,
		[fileId]
	);
}

/**
 * The lines of a file with their papers as CSV (RFC 4180): the cells of each as they stand in the file, then the name of its paper. So the
 * ledger knows its lines again.
 * @throws DomainError not_found
 */
export async function exportPapersOfLines(tx: Tx, actor: Actor, fileId: string): Promise<{ name: string; csv: string }> {
	requireStaff(actor, 'look');
	const file = await readTransactionFile(tx, actor, fileId);
	const rows = await tx.rows<{ original: string[]; paper: string; by: string }>(
		`select l.original, coalesce(p.name, '') paper, case when p.paper_id is null then '' else coalesce(s.name, 'by itself') end "by"
		from transaction_line l left join paper_of_line p on p.client_id = l.client_id and p.identity = l.identity left join staff s on s.id = p.said_by_id
		where l.file_id = $1 order by l.position`,
		[fileId]
	);
	await recordEvent(tx, actor, { verb: 'lines_taken_out', clientId: file.clientId, details: { name: file.name } });
	const header = [...file.header, 'Paper', 'Paired by'].map(guardCell);
	return {
		name: `${file.name.replace(/\.[^.]+$/, '')} with papers.csv`,
		csv: writeCsv([header, ...rows.map(({ original, paper, by }) => [...original, paper, by].map(numberCell))])
	};
}
