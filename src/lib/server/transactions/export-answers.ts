import { guardCell } from '$lib/core/tables/formula-guard';
import { writeCsv } from '$lib/core/tables/write-csv';
import { DomainError } from '$lib/core/errors/domain-error';
import { givenAnswer, statementLineAnswerInWords } from '$lib/core/transactions/statement-line-answers';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Tx } from '../platform/db/database';
import { readItem } from '../items/read-items';

const ANSWER_WORDS: Record<string, string> = {
	choice: 'chosen',
	words: 'in words',
	personal: 'personal',
	unknown: 'does not know',
	no_paper: 'no paper'
};

/** A number stays the number that the bank wrote; everything else is kept from being a formula. */
export const numberCell = (text: string) => (/^[-+(]?[\d.,'\s\u00a0]+\)?$/.test(text) ? text : guardCell(text));

/**
 * The answers about transactions as CSV (RFC 4180): the cells of each line as they stand in the file it came from, under its
 * own headings, then what was answered. So the ledger knows its lines again.
 * @throws DomainError not_found, invalid for other kinds of things
 */
export async function exportStatementLineAnswers(tx: Tx, actor: Actor, itemId: string): Promise<{ name: string; csv: string }> {
	requireStaff(actor, 'look');
	const item = await readItem(tx, actor, itemId);
	if (item.kind !== 'transactions') throw new DomainError('invalid', 'Only answers about transactions go out as a table.');
	const { spec } = item;
	const originals = await tx.rows<{ id: string; file: string; header: string[]; original: string[]; reference: string; position: number }>(
		`select l.id, f.name file, f.header, l.original, l.reference, l.position from transaction_line l join transaction_file f on f.id = l.file_id where l.id = any ($1)`,
		[spec.lines.map((line) => line.id)]
	);
	const byId = new Map(originals.map((row) => [row.id, row]));
	// lines of several files, or of one that is gone, stand under headings of ours
	const headers = [...new Set(originals.map((row) => JSON.stringify(row.header)))];
	const own = headers.length === 1 && originals.length === spec.lines.length ? (JSON.parse(headers[0]) as string[]) : null;
	const answers = item.answerData ?? {};
	const files = (lineId: string) => item.papers.filter((paper) => paper.slot === lineId).map((paper) => paper.name);
	const rows = spec.lines.map((line) => {
		const original = byId.get(line.id);
		const answer = givenAnswer(answers, line.id);
		return [
			...(own ? original!.original : [line.day, line.amount, line.currency, line.who, line.words, line.account, original?.reference ?? '']),
			original?.file ?? '',
			String(original?.position ?? ''),
			statementLineAnswerInWords(answer, []),
			answer ? ANSWER_WORDS[answer.how] : files(line.id).length > 0 ? 'with a file' : 'open',
			files(line.id).join('; '),
			answer?.by ?? '',
			answer?.at ?? ''
		].map(numberCell);
	});
	const header = [
		...(own ?? ['Date', 'Amount', 'Currency', 'Payee', 'Description', 'Account', 'Reference']),
		'Source file',
		'Source line',
		'Answer',
		'Answered how',
		'Files',
		'Answered by',
		'Answered at'
	].map(guardCell);
	await recordEvent(tx, actor, {
		verb: 'answers_taken_out',
		clientId: item.clientId,
		requestId: item.requestId,
		itemId,
		details: { title: item.title }
	});
	return { name: `${item.clientName} ${item.title}.csv`, csv: writeCsv([header, ...rows]) };
}
