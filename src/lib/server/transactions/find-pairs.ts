import { searchedSums, sumsOfPaper, type LineWithoutPaper, type PairOfLine, type PaperHere } from '$lib/core/transactions/papers-of-lines';
import type { Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Database, Tx } from '../platform/db/database';
import { AMOUNT, ASKED_BEFORE } from './lines-in-sql';
import type { StatementWork } from './statement-work';

/** Lines whose papers are looked for at once, and papers among which they are. */
const LINES_MOST = 1000;
const PAPERS_MOST = 1000;
/** Of each paper; invoices say what they are on their first page. */
const WORDS_MOST = 8000;

/** What finding pairs needs: the search runs in a thread. */
export interface PairingPlace {
	db: Database;
	lines: Pick<StatementWork, 'pair'>;
}

/** A line of a file as its papers are looked for. */
export interface LineHere extends LineWithoutPaper {
	identity: string;
	currency: string;
}
export interface PaperShort {
	id: string;
	name: string;
	/** when it came */
	at: string;
}

/** Lines without a document, without a paper that was found for them, and about which nobody has asked. $1 the file */
const WITHOUT = `from transaction_line l where l.file_id = $1 and l.wants_paper and not ${ASKED_BEFORE}
	and not exists (select from paper_of_line p where p.client_id = l.client_id and p.identity = l.identity)`;

/** What is compared: the first lines of a file that are without a paper, and the papers in which one of their sums stands. */
async function readSides(tx: Tx, clientId: string, fileId: string): Promise<Sides> {
	const lines = await tx.rows<LineHere>(
		`select l.id, l.identity, l.day, ${AMOUNT('l.amount')} amount, l.currency, l.who, l.words ${WITHOUT} order by l.position limit $2`,
		[fileId, LINES_MOST]
	);
	const sums = searchedSums(lines.map(({ amount }) => amount));
	const papers =
		sums.length === 0
			? []
			: await tx.rows<PaperHere & PaperShort>(
					// a paper belongs to one line only, unless a person says otherwise
					`select p.id, p.name, p.note, left(p.first_words, $3) words, p.uploaded_at "at" from paper_of_payment p
					where p.client_id = $1 and p.search @@ $2::tsquery
						and not exists (select from line_paper l where l.paper_id = p.id and l.fits)
					order by p.uploaded_at desc, p.id limit $4`,
					[clientId, sums.join(' | '), WORDS_MOST, PAPERS_MOST]
				);
	const refused = await tx.rows<Refused>(
		`select l.id "lineId", r.paper_id "paperId" from line_paper r join transaction_line l on l.client_id = r.client_id and l.identity = r.identity
		where r.client_id = $1 and not r.fits and l.file_id = $2`,
		[clientId, fileId]
	);
	return { lines, papers, refused };
}
interface Sides {
	lines: LineHere[];
	papers: (PaperHere & PaperShort)[];
	refused: Refused[];
}
interface Refused {
	lineId: string;
	paperId: string;
}

/** Finds what belongs together in a file; outside of any transaction, since it may take a while. */
export async function findPairs(
	{ db, lines: work }: PairingPlace,
	firmId: string,
	clientId: string,
	fileId: string
): Promise<Sides & { pairs: PairOfLine[] }> {
	const sides = await db.inFirm(firmId, (tx) => readSides(tx, clientId, fileId));
	const pairs = sides.papers.length === 0 ? [] : await work.pair(sides);
	return { ...sides, pairs };
}

/**
 * Keeps the pairs of a file that are sure. Nothing is decided twice: what has a paper meanwhile, or whose paper went elsewhere, is left.
 * @returns how many were kept
 */
export async function keepSurePairs(
	place: PairingPlace,
	firmId: string,
	actor: Actor,
	file: { id: string; clientId: string; name: string }
): Promise<number> {
	const { pairs, lines } = await findPairs(place, firmId, file.clientId, file.id);
	const identityOf = new Map(lines.map(({ id, identity }) => [id, identity]));
	const sure = pairs.filter((pair) => pair.sure).map(({ lineId, paperId }) => ({ identity: identityOf.get(lineId)!, paperId }));
	if (sure.length === 0) return 0;
	return place.db.inFirm(firmId, async (tx) => {
		const kept = await tx.rows<{ id: string }>(
			`insert into line_paper (id, firm_id, client_id, identity, paper_id, fits, said_at)
			select gen_random_uuid(), $2, $3, r.identity, r."paperId", true, $4 from jsonb_to_recordset($1) r (identity text, "paperId" uuid)
			join paper_of_payment p on p.id = r."paperId"
			where not exists (select from line_paper l where l.fits and (l.paper_id = r."paperId" or l.client_id = $3 and l.identity = r.identity))
			on conflict do nothing returning id`,
			[JSON.stringify(sure), firmId, file.clientId, actor.now]
		);
		if (kept.length > 0)
			await recordEvent(tx, actor, { verb: 'lines_paired', clientId: file.clientId, details: { count: kept.length, name: file.name } });
		return kept.length;
	});
}

/**
 * Looks whether a paper that has come is the document of a line that is without one, in the files of its client.
 * @param paperId of the paper whose words were read
 */
export async function pairArrived(place: PairingPlace, firmId: string, actor: Actor, paperId: string): Promise<void> {
	const files = await place.db.inFirm(firmId, async (tx) => {
		const paper = await tx.first<PaperHere & { clientId: string }>(
			`select id, client_id "clientId", name, note, left(first_words, $2) words from paper_of_payment where id = $1`,
			[paperId, WORDS_MOST]
		);
		const sums = paper ? sumsOfPaper(paper) : [];
		if (!paper || sums.length === 0) return [];
		return tx.rows<{ id: string; clientId: string; name: string }>(
			`select f.id, f.client_id "clientId", f.name from transaction_file f where f.client_id = $1 and exists (
				select from transaction_line l where l.file_id = f.id and l.wants_paper and abs(l.amount) = any ($2::numeric[])
			) order by f.brought_at desc limit 12`,
			[paper.clientId, sums]
		);
	});
	for (const file of files) await keepSurePairs(place, firmId, actor, file);
}
