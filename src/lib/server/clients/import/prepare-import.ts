import { randomUUID } from 'node:crypto';
import { DomainError } from '$lib/core/errors/domain-error';
import { importColumns, type ImportColumn } from '$lib/core/clients/import/columns';
import { mayImportMove, type ImportState } from '$lib/core/clients/import/import-states';
import { decisionSchema, type Decision, type RowPlan } from '$lib/core/clients/import/plan-import';
import { issueInWords } from '$lib/words/sayings';
import { requireStaff, type Actor } from '../../actor';
import { loadFacts } from '../../facts/firm-facts';
import { loadFirm } from '../../firms/firm';
import { asStaff, type Database, type Tx } from '../../platform/db/database';
import type { ListWork } from './list-work';
import type { MarkedImportPlan } from './list-thread';
import { HEADING_AMONG, type FileRow } from '$lib/core/tables/read-rows';
import { columnsUnder } from '$lib/core/clients/import/read-file';

/** What importing needs from outside. */
export interface ImportPlace {
	db: Database;
	lists: ListWork;
}

export interface ImportRecord {
	id: string;
	fileName: string;
	format: string;
	/** the line of the headings; null if there are none */
	headingLine: number | null;
	header: string[];
	columns: (ImportColumn | null)[];
	state: ImportState;
	counts: MarkedImportPlan['counts'];
	progress: number;
	trouble: string | null;
	planMark: string;
	begunBy: string;
	begunById: string;
	begunAt: string;
	doneBy: string | null;
	doneAt: string | null;
	undoneBy: string | null;
	undoneAt: string | null;
}

const IMPORT = `select i.id, i.file_name as "fileName", i.format, i.heading_line as "headingLine", i.header, i.columns, i.state, i.counts, i.progress, i.trouble, i.plan_mark as "planMark", s.name as "begunBy", i.begun_by_id as "begunById",
	i.begun_at as "begunAt", i.done_by as "doneBy", i.done_at as "doneAt", i.undone_by as "undoneBy", i.undone_at as "undoneAt" from client_import i join staff s on s.id = i.begun_by_id`;

/** @throws DomainError not_found */
export async function readImport(tx: Tx, actor: Actor, importId: string): Promise<ImportRecord> {
	requireStaff(actor, 'import_clients');
	return loadImport(tx, importId);
}

/** The same for the worker, who has no rights of its own. @param lock keeps others from changing it */
export async function loadImport(tx: Tx, importId: string, lock = false): Promise<ImportRecord> {
	const found = await tx.first<ImportRecord>(`${IMPORT} where i.id = $1${lock ? ' for update of i' : ''}`, [importId]);
	if (!found) throw new DomainError('not_found', 'There is no such list.');
	return found;
}

/** The lists that were imported or begun, the newest first. */
export async function readImports(tx: Tx, actor: Actor): Promise<ImportRecord[]> {
	requireStaff(actor, 'import_clients');
	return tx.rows<ImportRecord>(`${IMPORT} where i.firm_id = $1 and i.state <> 'left' order by i.begun_at desc limit 20`, [tx.firmId]);
}

/** @throws DomainError changed_meanwhile unless core's table allows the move */
export function requireImportMove(from: ImportState, to: ImportState): void {
	const now = { ready: 'is being looked at', running: 'is being imported', done: 'was imported', undone: 'was undone', left: 'was discarded' }[from];
	if (!mayImportMove(from, to)) throw new DomainError('changed_meanwhile', `This list ${now} in the meantime. Here is how it stands.`);
}

/** All that a list is compared with: core's `KnownWorld` as JSON, put together by the database. */
async function readWorld(tx: Tx, responsibleId: string): Promise<string> {
	const firm = await loadFirm(tx);
	const { all } = await loadFacts(tx);
	const row = await tx.first<{ world: string }>(
		`select json_build_object('country', $2::text, 'defaultResponsibleId', $3::text, 'facts', $4::json,
			'staff', (select coalesce(json_agg(json_build_object('id', id, 'name', name, 'email', email)), '[]') from staff where suspended_at is null),
			'services', (select coalesce(json_agg(json_build_object('id', id, 'name', name)), '[]') from service where ended_at is null),
			'clients', (select coalesce(json_agg(json_build_object('id', c.id, 'name', c.name, 'kind', c.kind, 'responsibleId', c.responsible_id,
					'facts', coalesce(f.facts, '{}'), 'serviceIds', coalesce(s.ids, '[]')) order by c.created_at, c.id), '[]')
				from client c
				left join (select client_id, json_object_agg(name, value) facts from fact where firm_id = $1 and replaced_at is null group by client_id) f on f.client_id = c.id
				left join (select es.client_id, json_agg(distinct es.service_id) ids from engagement_service es join engagement e on e.id = es.engagement_id and e.ended_on is null
					where es.firm_id = $1 group by es.client_id) s on s.client_id = c.id
				where c.firm_id = $1),
			'people', (select coalesce(json_agg(json_build_object('id', c.id, 'name', c.name, 'email', c.email, 'phone', c.phone, 'language', c.locale, 'hasAccess', c.password_hash is not null,
					'at', coalesce(l.at, '[]')) order by c.created_at, c.id), '[]')
				from contact c
				left join (select contact_id, json_agg(json_build_object('clientId', client_id, 'role', role) order by client_id) at from client_contact where firm_id = $1 group by contact_id) l
					on l.contact_id = c.id
				where c.firm_id = $1)
		)::text world`,
		[tx.firmId, firm.country, responsibleId, JSON.stringify(all)]
	);
	return row!.world;
}

/** What an import would do now. */
export async function planImportNow(place: ImportPlace, firmId: string, list: ImportRecord): Promise<MarkedImportPlan> {
	// as whoever began it sees the clients: one that is closed to them is not there
	const { rows, known } = await asStaff(place.db, list.begunById).inFirm(firmId, async (tx) => ({
		rows: await tx.first<{ rows: string }>(
			`select coalesce(json_agg(json_build_object('line', line, 'cells', cells, 'decision', decision) order by line), '[]')::text rows from client_import_row where import_id = $1`,
			[list.id]
		),
		known: await readWorld(tx, list.begunById)
	}));
	return place.lists.plan(list, rows!.rows, known);
}

/** Keeps a plan with the rows it is about. Rows whose plan is as before are not written. */
async function keepPlan(tx: Tx, importId: string, plan: MarkedImportPlan): Promise<void> {
	for (const batch of plan.batches)
		await tx.rows(
			`update client_import_row r set outcome = p.outcome, plan = p.plan from jsonb_to_recordset($2) as p (line int, outcome text, plan jsonb)
			where r.import_id = $1 and r.line = p.line and (r.outcome, r.plan) is distinct from (p.outcome, p.plan)`,
			[importId, batch]
		);
	await tx.rows('update client_import set counts = $2, plan_mark = $3 where id = $1', [importId, JSON.stringify(plan.counts), plan.mark]);
}

/**
 * Reads a file and says what importing it would do. Nothing of the clients is touched.
 * @throws DomainError unreadable_file, too_many
 */
export async function beginImport(place: ImportPlace, firmId: string, actor: Actor, input: { fileName: string; bytes: Uint8Array }): Promise<string> {
	requireStaff(actor, 'import_clients');
	const known = await place.db.inFirm(firmId, (tx) => readWorld(tx, actor.id));
	const file = await place.lists.read(input.bytes, known);
	const id = randomUUID();
	await place.db.inFirm(firmId, async (tx) => {
		await tx.rows(
			`insert into client_import (id, firm_id, file_name, format, heading_line, header, columns, state, counts, plan_mark, begun_by_id, begun_at)
			values ($1, $2, $3, $4, $5, $6, $7, 'ready', $8, $9, $10, $11)`,
			[
				id,
				firmId,
				input.fileName,
				file.format,
				file.headingLine,
				file.header,
				file.columns,
				JSON.stringify(file.counts),
				file.mark,
				actor.id,
				actor.now
			]
		);
		for (const batch of file.batches)
			await tx.rows(
				`insert into client_import_row (firm_id, import_id, line, cells, outcome, plan)
				select $1, $2, r.line, r.cells, r.outcome, r.plan from jsonb_to_recordset($3) as r (line int, cells text[], outcome text, plan jsonb)`,
				[firmId, id, batch]
			);
	});
	return id;
}

/** What a person changes before importing a list. */
export interface ImportChange {
	/** which line holds the headings; null for none: what the columns hold is recognised anew */
	headingLine?: number | null;
	/** what each column holds */
	columns?: (ImportColumn | null)[];
	/** one cell, put right in place */
	cell?: { line: number; column: ImportColumn; value: string };
	/** decisions by line; null takes one back */
	decisions?: { line: number; decision: Decision | null }[];
	/** one decision for every row that is as yet wrong or in doubt */
	decideAll?: { outcome: 'wrong' | 'ask'; decision: 'skip' | 'not_ours' };
}

/**
 * Changes what a column, a cell or a decision says, and plans anew.
 * @throws DomainError changed_meanwhile unless the list is still being looked at, invalid
 */
export async function changeImport(place: ImportPlace, firmId: string, actor: Actor, importId: string, change: ImportChange): Promise<void> {
	requireStaff(actor, 'import_clients');
	await place.db.inFirm(firmId, async (tx) => {
		const list = await loadImport(tx, importId, true);
		requireImportMove(list.state, 'running');
		if (change.headingLine !== undefined) {
			const wanted = change.headingLine;
			const rows = await firstRows(tx, importId, HEADING_AMONG * 4);
			if (list.headingLine === null && list.format.startsWith('vCard')) throw new DomainError('invalid', 'Cards have no headings.');
			if (wanted !== null && !rows.slice(0, HEADING_AMONG).some((row) => row.line === wanted))
				throw new DomainError('invalid', 'Choose one of the first rows.', { headingLine: 'Choose one of the first rows.' });
			if (wanted !== null && !rows.some((row) => row.line > wanted)) throw new DomainError('invalid', 'There would be no rows below this heading.');
			const { header, columns } = columnsUnder(rows, wanted, await loadFacts(tx));
			await tx.rows('update client_import set heading_line = $2, header = $3, columns = $4 where id = $1', [importId, wanted, header, columns]);
			// what was decided was decided of other rows
			await tx.rows('update client_import_row set decision = null where import_id = $1 and decision is not null', [importId]);
		}
		if (change.columns) {
			const offered = importColumns(await loadFacts(tx));
			const chosen = change.columns.filter((column) => column !== null);
			if (change.columns.length !== list.header.length || new Set(chosen).size !== chosen.length || !chosen.every((c) => offered.includes(c)))
				throw new DomainError('invalid', 'Each kind of column can be chosen once. Leave the other one out.');
			await tx.rows('update client_import set columns = $2 where id = $1', [importId, change.columns]);
			list.columns = change.columns;
		}
		if (change.cell) {
			const at = list.columns.indexOf(change.cell.column);
			if (at < 0) throw new DomainError('invalid', 'This column is left out. Choose what it holds first.');
			// a row may be shorter than the heading: the array is filled up to the cell
			await tx.rows(
				`update client_import_row set cells = (select array_agg(case when n = $3 then $4 else coalesce(cells[n], '') end order by n) from generate_series(1, greatest(cardinality(cells), $3)) n)
				where import_id = $1 and line = $2`,
				[importId, change.cell.line, at + 1, change.cell.value]
			);
		}
		if (change.decisions)
			await tx.rows(
				`update client_import_row r set decision = d.decision from jsonb_to_recordset($2) as d (line int, decision text) where r.import_id = $1 and r.line = d.line`,
				[importId, JSON.stringify(change.decisions.map(({ line, decision }) => ({ line, decision: decision && decisionSchema.parse(decision) })))]
			);
		if (change.decideAll)
			await tx.rows('update client_import_row set decision = $3 where import_id = $1 and outcome = $2', [
				importId,
				change.decideAll.outcome,
				change.decideAll.decision
			]);
	});
	await planImportAnew(place, firmId, { id: importId });
}

/**
 * Plans a list again and keeps the plan, unless it was begun meanwhile. Of two changes at once the later plan is made
 * after the earlier one is kept, so that what is kept is never older than what was changed.
 */
export async function planImportAnew(place: ImportPlace, firmId: string, list: Pick<ImportRecord, 'id'>): Promise<void> {
	await place.db.inFirm(firmId, async (tx) => {
		await tx.rows('select pg_advisory_xact_lock(hashtext($1))', [`plan of list ${list.id}`]);
		const plan = await planImportNow(place, firmId, await loadImport(tx, list.id));
		if ((await loadImport(tx, list.id, true)).state === 'ready') await keepPlan(tx, list.id, plan);
	});
}

/** Leaves a list that was not imported: what was read of it is deleted. */
export async function leaveImport(tx: Tx, actor: Actor, importId: string): Promise<void> {
	requireStaff(actor, 'import_clients');
	const list = await loadImport(tx, importId, true);
	requireImportMove(list.state, 'left');
	await tx.rows('delete from client_import_row where import_id = $1', [importId]);
	await tx.rows(`update client_import set state = 'left' where id = $1`, [importId]);
}

export interface ImportRow {
	line: number;
	cells: string[];
	decision: Decision | null;
	plan: RowPlan;
}

/** A page of rows with one outcome, in the order of the file. */
export async function readImportRows(
	tx: Tx,
	actor: Actor,
	importId: string,
	query: { outcome: string; after: number },
	limit: number
): Promise<ImportRow[]> {
	requireStaff(actor, 'import_clients');
	const rows = await tx.rows<ImportRow>(
		`select line, to_json(cells) cells, decision, plan from client_import_row where import_id = $1 and outcome = $2 and line > $3 order by line limit $4`,
		[importId, query.outcome, query.after, limit]
	);
	for (const { plan } of rows) for (const problem of plan.problems) problem.message = issueInWords('en', problem);
	return rows;
}

/** The first rows of a list, among which the headings are chosen. */
export function readFirstRows(tx: Tx, actor: Actor, importId: string): Promise<FileRow[]> {
	requireStaff(actor, 'import_clients');
	return firstRows(tx, importId, HEADING_AMONG);
}

function firstRows(tx: Tx, importId: string, most: number): Promise<FileRow[]> {
	return tx.rows('select line, to_json(cells) cells from client_import_row where import_id = $1 order by line limit $2', [importId, most]);
}
