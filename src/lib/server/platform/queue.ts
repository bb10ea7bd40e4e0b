import type { JobName, JobPayload } from '$lib/core/jobs';

/** Where a statement can be run: in a transaction, so that the job is there with it or not at all, or by itself. */
type Runs =
	| { rows(sql: string, values: readonly unknown[]): Promise<unknown> }
	| { queryOutsideFirm(sql: string, values: readonly unknown[]): Promise<unknown> };

/**
 * Puts a job into the queue.
 * @param options.at not before this instant of wall time
 */
export async function enqueue<Name extends JobName>(to: Runs, name: Name, payload: JobPayload<Name>, options: { at?: string } = {}): Promise<void> {
	const [sql, values] = ['select enqueue_job($1, $2, null, $3)', [name, JSON.stringify(payload), options.at ?? null]] as const;
	await ('rows' in to ? to.rows(sql, values) : to.queryOutsideFirm(sql, values));
}
