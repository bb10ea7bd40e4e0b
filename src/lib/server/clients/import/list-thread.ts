import { createHash } from 'node:crypto';
import { DomainError } from '$lib/core/errors/domain-error';
import type { ImportColumn } from '$lib/core/clients/import/columns';
import { planImport, type Decision, type ImportPlan, type KnownWorld } from '$lib/core/clients/import/plan-import';
import { readClientFile, type FileRow, type ReadFile } from '$lib/core/clients/import/read-file';

export interface ListToPlan {
	rows: FileRow[];
	columns: (ImportColumn | null)[];
	known: KnownWorld;
	decisions: [line: number, decision: Decision][];
}
export type ListTask = { do: 'read'; bytes: Uint8Array } | ({ do: 'plan' } & ListToPlan);

export interface MarkedPlan extends ImportPlan {
	/** the same only for the same plan */
	mark: string;
}

/** What runs in a thread of its own. A person's mistake crosses back as a value: classes do not survive the way. */
export default function run(task: ListTask): { result: ReadFile | MarkedPlan } | { mistake: { code: DomainError['code']; message: string } } {
	try {
		if (task.do === 'read') return { result: readClientFile(task.bytes) };
		const plan = planImport(task.rows, task.columns, task.known, new Map(task.decisions));
		return { result: { ...plan, mark: createHash('sha256').update(JSON.stringify(plan)).digest('base64') } };
	} catch (error) {
		if (error instanceof DomainError) return { mistake: { code: error.code, message: error.message } };
		throw error;
	}
}
