import { createHash } from 'node:crypto';
import { firmFacts } from '$lib/core/facts/fact-definition';
import type { ImportColumn } from '$lib/core/clients/import/columns';
import { planImport, type Decision, type ImportPlan, type KnownWorld } from '$lib/core/clients/import/plan-import';
import { rowsBelow, type FileRow } from '$lib/core/tables/read-rows';
import { readAskSheet, type AskSheet } from '$lib/core/requests/ask-sheet';
import { readClientFile } from '$lib/core/clients/import/read-file';
import { answerOf, type ThreadAnswer } from '../../platform/threads/answers';

/** Rows of a plan in one piece of text. */
export const BATCH = 1000;

/**
 * Lists are large: they cross between the threads as JSON text, which the main thread hands on to the database or takes
 * from it as it is, so that it is never held by taking thousands of objects apart.
 */
export type ListTask =
	| { do: 'read'; bytes: Uint8Array; known: string }
	| { do: 'sheet'; bytes: Uint8Array; fields: string }
	| {
			do: 'plan';
			headingLine: number | null;
			columns: (ImportColumn | null)[];
			/** `FileRow`s, each with the decision about it */ rows: string;
			known: string;
	  };

export interface MarkedImportPlan {
	counts: ImportPlan['counts'];
	/** the same only for the same plan */
	mark: string;
	/** arrays of `{ line, cells, outcome, plan }` */
	batches: string[];
}
/** A file by which many are asked; its rows are JSON. */
export type SheetAsText = Omit<AskSheet, 'rows'> & { rows: string };
export interface ReadAndPlanned extends MarkedImportPlan {
	format: string;
	headingLine: number | null;
	header: string[];
	columns: (ImportColumn | null)[];
}

/** What runs in a thread of its own. */
export default function run(task: ListTask): Promise<ThreadAnswer<MarkedImportPlan | ReadAndPlanned | SheetAsText>> {
	return answerOf<MarkedImportPlan | ReadAndPlanned | SheetAsText>(() => {
		if (task.do === 'sheet') {
			const { rows, ...sheet } = readAskSheet(task.bytes, JSON.parse(task.fields) as Record<string, string>);
			return { ...sheet, rows: JSON.stringify(rows) };
		}
		const known = JSON.parse(task.known) as KnownWorld;
		if (task.do === 'read') {
			const { rows, ...file } = readClientFile(task.bytes, firmFacts(known.facts));
			return { ...file, ...inBatches(rows, planImport(rowsBelow(rows, file.headingLine), file.columns, known, new Map())) };
		}
		const rows = JSON.parse(task.rows) as (FileRow & { decision: Decision | null })[];
		const decisions = new Map(rows.flatMap((row) => (row.decision ? [[row.line, row.decision] as const] : [])));
		return inBatches(rows, planImport(rowsBelow(rows, task.headingLine), task.columns, known, decisions));
	});
}

function inBatches(rows: readonly FileRow[], plan: ImportPlan): MarkedImportPlan {
	const batches: string[] = [];
	const hash = createHash('sha256');
	const above = rows.length - plan.rows.length;
	for (let at = 0; at < rows.length; at += BATCH) {
		const batch = rows.slice(at, at + BATCH).map(({ line, cells }, i) => {
			// the headings and what stands above them are planned as nothing
			const planned = plan.rows[at + i - above];
			return { line, cells, outcome: planned?.outcome ?? 'above', plan: planned ?? {} };
		});
		batches.push(JSON.stringify(batch));
		hash.update(batches.at(-1)!);
	}
	return { counts: plan.counts, mark: hash.digest('base64'), batches };
}
