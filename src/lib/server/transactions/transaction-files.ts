import { randomUUID } from 'node:crypto';
import type { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import { safeFileName } from '$lib/core/papers/file-name';
import { CSV_COLUMNS } from '$lib/core/transactions/csv-columns';
import { DATE_ORDERS, type DateOrder } from '$lib/core/transactions/days';
import type { CsvChoices, CsvFound } from '$lib/core/transactions/read-csv';
import type { StatementFormat, UnreadStatementLine } from '$lib/core/transactions/statement-line';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { requireActiveClient } from '../clients/client-record';
import type { Database, Tx } from '../platform/db/database';
import type { PaperStore } from '../platform/files/paper-store';
import { keepSurePairs } from './find-pairs';
import type { StatementLinesInBatches } from './statement-thread';
import type { StatementWork } from './statement-work';

/** Largest file of a bank or ledger. */
export const TRANSACTIONS_BYTES_MAX = 50 * 1024 * 1024;

interface Place {
	db: Database;
	papers: PaperStore;
	lines: StatementWork;
}

/** How a table is read, as a person chooses it in the form. */
export const readingSchema = z.object({
	columns: z.array(z.union([z.literal('').transform(() => null), z.enum(CSV_COLUMNS)])).max(100),
	order: z.union([z.literal('').transform(() => null), z.enum(DATE_ORDERS)]),
	flip: z.boolean()
});

/** What is kept of the reading: what was chosen, and what was found. */
interface Reading {
	choices: CsvChoices;
	found: CsvFound;
}

const ROWS = `insert into transaction_line (id, firm_id, client_id, file_id, position, day, amount, currency, who, words, category, uncategorised, reference, document, account, original, identity, content)
	select r.id, $2, $3, $4, r.position, r.day, r.amount, r.currency, r.who, r.words, r.category, r.uncategorised, r.reference, r.document, r.account, r.original, r.identity, r.content
	from jsonb_to_recordset($1) r (id uuid, position int, day date, amount numeric, currency text, who text, words text, category text, uncategorised boolean,
		reference text, document text, account text, original text[], identity text, content text)`;

async function writeLines(tx: Tx, clientId: string, fileId: string, read: StatementLinesInBatches): Promise<void> {
	for (const batch of read.batches) await tx.rows(ROWS, [batch, tx.firmId, clientId, fileId]);
}

const readingOf = (choices: CsvChoices, { columns, order, mark }: CsvFound): Reading => ({ choices, found: { columns, order, mark } });

async function requireAccount(tx: Tx, clientId: string, accountId: string | null): Promise<void> {
	if (accountId && !(await tx.first('select 1 from account where id = $1 and client_id = $2', [accountId, clientId])))
		throw new DomainError('not_found', 'There is no such account of this client.');
}

/**
 * Brings in the file of a bank or a ledger: kept as it is, read off the event loop, its lines written down in one transaction. Then the
 * papers are looked for that surely belong to its lines.
 * @returns the file's id
 * @throws DomainError unreadable_file, too_many, not_found, changed_meanwhile
 */
export async function bringInTransactions(
	place: Place,
	firmId: string,
	actor: Actor,
	input: { clientId: string; accountId: string | null; name: string; content: Readable; signal?: AbortSignal }
): Promise<string> {
	requireStaff(actor, 'send_request');
	await place.db.inFirm(firmId, async (tx) => {
		await requireActiveClient(tx, input.clientId);
		await requireAccount(tx, input.clientId, input.accountId);
	});
	const stored = await place.papers.put(input.content, TRANSACTIONS_BYTES_MAX, input.signal);
	const name = safeFileName(input.name);
	const id = randomUUID();
	try {
		const choices: CsvChoices = { columns: null, order: null, flip: false };
		const read = await place.lines.read({ bytes: await buffer(place.papers.read(stored.key)), choices, scope: input.accountId ?? '' });
		if (read.lines === 0 && read.unread === 0) throw new DomainError('unreadable_file', 'There is no transaction in this file. Nothing was read.');
		await place.db.inFirm(firmId, async (tx) => {
			await requireActiveClient(tx, input.clientId);
			await tx.rows(
				`insert into transaction_file (id, firm_id, client_id, account_id, name, format, header, reading, lines, unread, unread_lines, storage_key, brought_by_id, brought_at)
					values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14)`,
				[
					id,
					firmId,
					input.clientId,
					input.accountId,
					name,
					read.found.format,
					read.found.header,
					JSON.stringify(readingOf(choices, read.found)),
					read.lines,
					read.unread,
					JSON.stringify(read.unreadLines),
					stored.key,
					actor.id,
					actor.now
				]
			);
			await writeLines(tx, input.clientId, id, read);
			await recordEvent(tx, actor, {
				verb: 'transactions_brought_in',
				clientId: input.clientId,
				details: { name, count: read.lines }
			});
		});
	} catch (error) {
		await place.papers.remove(stored.key);
		throw error;
	}
	await keepSurePairs(place, firmId, actor, { id, clientId: input.clientId, name });
	return id;
}

/**
 * Reads a table again in another way: other columns, another order of dates, the other sign.
 * @throws DomainError changed_meanwhile once a line of it was asked about, since its identity would change
 */
export async function readInAnotherWay(place: Place, firmId: string, actor: Actor, fileId: string, choices: CsvChoices): Promise<void> {
	requireStaff(actor, 'send_request');
	const changeable = async (tx: Tx) => {
		const file = await tx.first<{ client_id: string; storage_key: string; account_id: string | null; name: string; asked: boolean }>(
			`select f.client_id, f.storage_key, f.account_id, f.name, exists (select from transaction_line l where l.file_id = f.id and l.asked_item_id is not null) asked
			from transaction_file f where f.id = $1 for update`,
			[fileId]
		);
		if (!file) throw new DomainError('not_found', 'This file is not there any more.');
		if (file.asked)
			throw new DomainError(
				'changed_meanwhile',
				'Lines of this file were asked about already, so it stays as it was read. Bring the file in again to read it in another way.'
			);
		return file;
	};
	const file = await place.db.inFirm(firmId, changeable);
	const read = await place.lines.read({ bytes: await buffer(place.papers.read(file.storage_key)), choices, scope: file.account_id ?? '' });
	await place.db.inFirm(firmId, async (tx) => {
		await changeable(tx);
		await tx.rows('delete from transaction_line where file_id = $1', [fileId]);
		await writeLines(tx, file.client_id, fileId, read);
		await tx.rows('update transaction_file set reading = $2, lines = $3, unread = $4, unread_lines = $5, header = $6 where id = $1', [
			fileId,
			JSON.stringify(readingOf(choices, read.found)),
			read.lines,
			read.unread,
			JSON.stringify(read.unreadLines),
			read.found.header
		]);
		await recordEvent(tx, actor, { verb: 'transactions_read_again', clientId: file.client_id, details: { name: file.name, count: read.lines } });
	});
}

export interface TransactionFile {
	id: string;
	name: string;
	format: StatementFormat;
	lines: number;
	unread: number;
	asked: number;
	account: { institution: string; lastFour: string } | null;
	broughtBy: string;
	broughtAt: string;
}
export interface OpenTransactionFile extends TransactionFile {
	clientId: string;
	header: string[];
	choices: CsvChoices;
	columns: CsvFound['columns'];
	/** null: nothing in the file tells day and month apart */
	order: DateOrder | null;
	unreadLines: UnreadStatementLine[];
	/** whether its lines have a place for a document: then papers can be missing */
	hasDocuments: boolean;
	hasCategories: boolean;
	/** the first cells, to choose columns by */
	sample: string[][];
}

const FILE = `f.id, f.name, f.format, f.lines, f.unread, (select count(*) from transaction_line l where l.file_id = f.id and l.asked_item_id is not null) asked,
	case when a.id is not null then json_build_object('institution', a.institution, 'lastFour', a.last_four) end account, s.name as "broughtBy", f.brought_at as "broughtAt"`;
const FILES = 'transaction_file f left join account a on a.id = f.account_id join staff s on s.id = f.brought_by_id';

/** The files that were imported for a client, the newest first. */
export function readTransactionFiles(tx: Tx, actor: Actor, clientId: string): Promise<TransactionFile[]> {
	requireStaff(actor, 'look');
	return tx.rows(`select ${FILE} from ${FILES} where f.client_id = $1 order by f.brought_at desc, f.id limit 100`, [clientId]);
}

/** One file, with how it was read. @throws DomainError not_found */
export async function readTransactionFile(tx: Tx, actor: Actor, id: string): Promise<OpenTransactionFile> {
	requireStaff(actor, 'look');
	const row = await tx.first<Omit<OpenTransactionFile, 'choices' | 'columns' | 'order'> & { reading: Reading }>(
		`select ${FILE}, f.client_id as "clientId", f.header, f.reading, f.unread_lines as "unreadLines",
			exists (select from transaction_line l where l.file_id = f.id and l.document is not null) as "hasDocuments",
			exists (select from transaction_line l where l.file_id = f.id and l.category <> '') as "hasCategories",
			coalesce((select json_agg(x.original order by x.position) from (select original, position from transaction_line where file_id = f.id order by position limit 3) x), '[]') sample
		from ${FILES} where f.id = $1`,
		[id]
	);
	if (!row) throw new DomainError('not_found', 'This file is not there any more.');
	const { reading, ...file } = row;
	return { ...file, choices: reading.choices, columns: reading.found.columns, order: reading.found.order };
}

/** Takes a file out again with its lines; what was asked about stays with its question. @returns what to remove from the store */
export async function removeTransactionFile(tx: Tx, actor: Actor, fileId: string): Promise<{ clientId: string; storageKey: string }> {
	requireStaff(actor, 'send_request');
	const asked = await tx.first('select 1 from transaction_line where file_id = $1 and asked_item_id is not null limit 1', [fileId]);
	if (asked)
		throw new DomainError(
			'changed_meanwhile',
			'Lines of this file were asked about. It stays, so that the answers can go out with what the bank wrote.'
		);
	const gone = await tx.first<{ client_id: string; name: string; storage_key: string }>(
		'delete from transaction_file where id = $1 returning client_id, name, storage_key',
		[fileId]
	);
	if (!gone) throw new DomainError('not_found', 'This file is not there any more.');
	await recordEvent(tx, actor, { verb: 'transactions_removed', clientId: gone.client_id, details: { name: gone.name } });
	return { clientId: gone.client_id, storageKey: gone.storage_key };
}
