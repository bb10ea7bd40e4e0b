import { randomUUID } from 'node:crypto';
import { buffer } from 'node:stream/consumers';
import { languageOf } from '$lib/core/papers/language-of';
import type { LearntLabel } from '$lib/core/statements/printed/read-printed';
import { readFileStatements, saidOnPages, type StatementSaid } from '$lib/core/statements/read-file';
import type { Database, Tx } from '../platform/db/database';
import type { PaperStore } from '../platform/files/paper-store';
import type { PdfWork } from '../platform/pdf/pdf-work';

/** No larger file is read: it would have to be in memory as a whole. */
const READ_MOST_BYTES = 20 * 1024 * 1024;

/**
 * Reads a paper: the words of a PDF's first pages, by which its place is found, and the statements in it or in a bank's file. What a person has put right stays. A
 * paper that cannot be read is noted as looked at.
 */
export async function readPaper(
	place: { db: Database; papers: PaperStore; pdf: Pick<PdfWork, 'words'> },
	firmId: string,
	paperId: string
): Promise<void> {
	const known = await place.db.inFirm(firmId, async (tx) => {
		const paper = await tx.first<{ key: string; type: string; bytes: number; clientId: string }>(
			'select storage_key as key, content_type as type, bytes, client_id as "clientId" from paper where id = $1 and removed_at is null',
			[paperId]
		);
		return paper && { paper, learnt: await readLearntLabels(tx) };
	});
	if (!known || !/^(application\/pdf|text\/plain)$/.test(known.paper.type) || known.paper.bytes > READ_MOST_BYTES) return;
	const { paper, learnt } = known;
	const read = async (): Promise<{ words: string | null; pages: number | null; statements: StatementSaid[] }> => {
		const file = place.papers.read(paper.key);
		if (paper.type === 'text/plain') return { words: null, pages: null, statements: await readFileStatements(file) };
		const found = await place.pdf.words(await buffer(file), learnt);
		return { words: found?.words ?? null, pages: found?.pages ?? null, statements: (found?.statements ?? []).map(saidOnPages) };
	};
	const { words, pages, statements } = await read();
	await place.db.inFirm(firmId, async (tx) => {
		await tx.rows('update paper set first_words = $2, pages = $3, language = $4, words_read_at = clock_timestamp() where id = $1', [
			paperId,
			words,
			pages,
			words === null ? null : languageOf(words)
		]);
		await writeReadings(tx, { paperId, clientId: paper.clientId }, statements);
	});
}

/**
 * Writes what was read of a paper over what was read before: each statement stays itself, with why it does not join, for somebody may be
 * looking at it. Once a person has put one right, nothing is read over it.
 */
async function writeReadings(tx: Tx, of: { paperId: string; clientId: string }, readings: readonly StatementSaid[]): Promise<void> {
	const touched = await tx.first('select 1 from statement where paper_id = $1 and put_right_at is not null limit 1', [of.paperId]);
	if (touched) return;
	const rows = readings.slice(0, 100).map(({ lastFour, from, to, payments, ...said }, number) => ({
		...said,
		id: randomUUID(),
		number,
		last_four: lastFour,
		covers_from: from === null || to === null ? null : from,
		covers_to: from === null || to === null ? null : to,
		payments: payments?.count ?? null,
		payments_sum: payments?.sum ?? null
	}));
	await tx.rows('delete from statement where paper_id = $1 and number >= $2', [of.paperId, rows.length]);
	if (rows.length === 0) return;
	await tx.rows(
		`insert into statement (id, firm_id, client_id, paper_id, number, last_four, covers_from, covers_to, opening, closing, currency, payments, payments_sum, spots)
		select r.id, $1, $2, $3, r.number, r.last_four, r.covers_from, r.covers_to, r.opening, r.closing, r.currency, r.payments, r.payments_sum, r.spots
		from jsonb_to_recordset($4) r (id uuid, number int, last_four text, covers_from date, covers_to date, opening numeric, closing numeric, currency text,
			payments int, payments_sum numeric, spots jsonb)
		on conflict (paper_id, number) do update set last_four = excluded.last_four, covers_from = excluded.covers_from, covers_to = excluded.covers_to,
			opening = excluded.opening, closing = excluded.closing, currency = excluded.currency, payments = excluded.payments,
			payments_sum = excluded.payments_sum, spots = excluded.spots`,
		[tx.firmId, of.clientId, of.paperId, JSON.stringify(rows)]
	);
}

/** What people of the firm have shown of how institutions name their sums. */
export function readLearntLabels(tx: Tx): Promise<LearntLabel[]> {
	return tx.rows<LearntLabel>('select institution, value, label from statement_label where firm_id = $1 order by taught_at desc limit 2000', [
		tx.firmId
	]);
}
