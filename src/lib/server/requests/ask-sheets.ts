import { randomUUID } from 'node:crypto';
import { DomainError } from '$lib/core/errors/domain-error';
import { letterFields } from '$lib/core/letters/merge-fields';
import { SHEET_OUTCOMES, sheetFields, type AskSheet, type SheetColumn, type SheetOutcome } from '$lib/core/requests/ask-sheet';
import { guardCell } from '$lib/core/tables/formula-guard';
import type { FileRow } from '$lib/core/tables/read-rows';
import { writeCsv } from '$lib/core/tables/write-csv';
import { requireStaff, type Actor } from '../actor';
import type { ListWork } from '../clients/import/list-work';
import { loadFacts } from '../facts/firm-facts';
import type { Database, Tx } from '../platform/db/database';

/** A file by which many are asked, as it is kept. */
export interface KeptSheet extends AskSheet {
	id: string;
	fileName: string;
	madeAt: string;
	/** when its rows were asked, and by which list; null until then */
	usedAt: string | null;
	listName: string | null;
	/** with why nothing was made of a row, once it was used */
	rows: (FileRow & { stays?: string })[];
}

/** The fields that a column can hold, with their words. */
export async function readSheetFields(tx: Tx): Promise<Record<string, string>> {
	return sheetFields(letterFields((await loadFacts(tx)).all));
}

/**
 * Reads a file with a row for each request, and keeps it for whoever brought it. Nobody is asked yet.
 * @throws DomainError unreadable_file, too_many
 */
export async function keepAskSheet(
	place: { db: Database; lists: ListWork },
	firmId: string,
	actor: Actor,
	input: { fileName: string; bytes: Uint8Array }
): Promise<string> {
	requireStaff(actor, 'send_request');
	const fields = await place.db.inFirm(firmId, readSheetFields);
	const sheet = await place.lists.readSheet(input.bytes, JSON.stringify(fields));
	const id = randomUUID();
	await place.db.inFirm(firmId, (tx) =>
		tx.rows(
			'insert into ask_sheet (id, firm_id, file_name, format, header, columns, rows, made_by_id, made_at) values ($1, $2, $3, $4, $5, $6, $7, $8, $9)',
			[id, firmId, input.fileName, sheet.format, sheet.header, sheet.columns, sheet.rows, actor.id, actor.now]
		)
	);
	return id;
}

const SHEET = `id, file_name as "fileName", format, to_json(header) header, to_json(columns) columns, rows, made_at as "madeAt", used_at as "usedAt", list_name as "listName"`;

/**
 * A file that this person brought: it may name clients that are closed to others.
 * @param lock keeps others from changing it
 * @throws DomainError not_found
 */
export async function readSheet(tx: Tx, actor: Actor, id: string, lock = false): Promise<KeptSheet> {
	requireStaff(actor, 'send_request');
	const sheet = await tx.first<KeptSheet>(`select ${SHEET} from ask_sheet where id = $1 and made_by_id = $2${lock ? ' for update' : ''}`, [
		id,
		actor.id
	]);
	if (!sheet) throw new DomainError('not_found', 'There is no such file, or it was brought by somebody else.');
	return sheet;
}

/** How many files of a person are shown, the newest first. */
const SHEETS_SHOWN = 8;

/** The files that this person brought, the newest first. */
export function readOwnSheets(
	tx: Tx,
	actor: Actor
): Promise<(Pick<KeptSheet, 'id' | 'fileName' | 'madeAt' | 'usedAt' | 'listName'> & { rows: number })[]> {
	requireStaff(actor, 'send_request');
	return tx.rows(
		`select id, file_name as "fileName", made_at as "madeAt", used_at as "usedAt", list_name as "listName", jsonb_array_length(rows) rows
		from ask_sheet where firm_id = $1 and made_by_id = $2 order by made_at desc, id limit $3`,
		[tx.firmId, actor.id, SHEETS_SHOWN]
	);
}

/**
 * Says what each column of a file holds.
 * @throws DomainError invalid if two hold the same or one holds what there is not, changed_meanwhile once its rows were asked
 */
export async function chooseSheetColumns(tx: Tx, actor: Actor, id: string, columns: readonly (SheetColumn | null)[]): Promise<void> {
	const sheet = await readSheet(tx, actor, id, true);
	if (sheet.usedAt) throw new DomainError('changed_meanwhile', 'The rows of this file were asked already.');
	const offered = ['client', 'email', ...Object.keys(await readSheetFields(tx))];
	const chosen = columns.filter((column) => column !== null);
	if (columns.length !== sheet.header.length || new Set(chosen).size !== chosen.length || !chosen.every((column) => offered.includes(column)))
		throw new DomainError('invalid', 'Each kind of column can be chosen once. Leave the other one out.');
	await tx.rows('update ask_sheet set columns = $2 where id = $1', [id, columns]);
}

/** Notes that the rows of a file were asked. @param stays why nothing was made of a row, by its line */
export async function noteSheetUsed(tx: Tx, actor: Actor, sheet: KeptSheet, listName: string, stays: ReadonlyMap<number, string>): Promise<void> {
	const rows = sheet.rows.map(({ line, cells }) => ({ line, cells, stays: stays.get(line) }));
	await tx.rows('update ask_sheet set used_at = $2, list_name = $3, rows = $4 where id = $1', [sheet.id, actor.now, listName, JSON.stringify(rows)]);
}

export interface SheetResult {
	line: number;
	/** the row in the words of the file */
	named: string;
	outcome: SheetOutcome;
	/** why it stays, or could not go */
	why: string | null;
	clientId: string | null;
	clientName: string | null;
	draftId: string | null;
}

/** What became of each row of a file whose rows were asked. */
export async function readSheetResults(tx: Tx, actor: Actor, sheet: KeptSheet): Promise<SheetResult[]> {
	requireStaff(actor, 'look');
	const made = await tx.rows<Omit<SheetResult, 'named' | 'line'> & { line: number }>(
		`select coalesce(d.sheet_line, 0) line, d.id as "draftId", cl.id as "clientId", cl.name as "clientName", d.problem why,
			case when r.id is not null then case when exists (select from item i where i.request_id = r.id and i.state in ('asked', 'seen', 'started', 'sent_back', 'handed_in')) then 'sent' else 'settled' end
				when d.removed_at is not null then 'thrown_away' when d.problem is not null then 'problem' else 'draft' end outcome
		from request_draft d join client cl on cl.id = d.client_id
			left join request r on r.firm_id = d.firm_id and r.idempotency_key = d.id and r.withdrawn_at is null
		where d.run_id = $1 and d.sheet_line is not null`,
		[sheet.id]
	);
	const byLine = new Map(made.map((one) => [one.line, one]));
	const [client, email] = [sheet.columns.indexOf('client'), sheet.columns.indexOf('email')];
	return sheet.rows.map(({ line, cells, stays }) => {
		const named = cells[client]?.trim() || cells[email]?.trim() || '';
		const one = byLine.get(line);
		if (one) return { ...one, named };
		return { line, named, outcome: 'stays', why: stays ?? null, clientId: null, clientName: null, draftId: null };
	});
}

/** What became of each row as CSV: the file as it came, and behind it what became of the row and why. */
export async function sheetResultsAsCsv(tx: Tx, actor: Actor, sheet: KeptSheet): Promise<string> {
	const results = await readSheetResults(tx, actor, sheet);
	return writeCsv([
		[...sheet.header.map((heading) => guardCell(heading)), 'Result', 'Why'],
		...sheet.rows.map(({ cells }, i) => [
			...sheet.header.map((_, at) => guardCell(cells[at] ?? '')),
			SHEET_OUTCOMES[results[i].outcome],
			guardCell(results[i].why ?? '')
		])
	]);
}

/** Days for which a file and what became of its rows can be looked at. */
const SHEETS_KEPT_DAYS = 60;

/** Removes files that were brought long ago; what was made of them stays. */
export async function forgetAskSheets(tx: Tx, now: string): Promise<void> {
	await tx.rows('delete from ask_sheet where firm_id = $1 and made_at < $2::timestamptz - make_interval(days => $3)', [
		tx.firmId,
		now,
		SHEETS_KEPT_DAYS
	]);
}
