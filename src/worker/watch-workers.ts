import { createHash } from 'node:crypto';
import type { WorkerUtils } from 'graphile-worker';
import type pg from 'pg';

function lockKey(workerId: string): string {
	return createHash('sha256').update(`worker ${workerId}`).digest().readBigInt64BE(0).toString();
}

/** Holds an advisory lock for the id under which jobs are locked, as long as this connection lives: the sign that it is alive. */
export async function holdLifeSign(connection: pg.ClientBase, workerId: string): Promise<void> {
	await connection.query('select pg_advisory_lock($1::bigint)', [lockKey(workerId)]);
}

/**
 * Frees the jobs of workers that are gone: a killed worker's jobs would otherwise stay locked for four hours. A
 * worker whose advisory lock can be had is dead, since its connection ended with it.
 * @returns the ids of the dead
 */
export async function freeJobsOfDeadWorkers(pool: pg.Pool, utils: Pick<WorkerUtils, 'forceUnlockWorkers'>): Promise<string[]> {
	const { rows } = await pool.query<{ locked_by: string }>(
		'select distinct locked_by from graphile_worker._private_jobs where locked_by is not null union select locked_by from graphile_worker._private_job_queues where locked_by is not null'
	);
	const dead: string[] = [];
	for (const { locked_by } of rows) {
		const connection = await pool.connect();
		try {
			const key = lockKey(locked_by);
			const got = (await connection.query<{ got: boolean }>('select pg_try_advisory_lock($1::bigint) got', [key])).rows[0].got;
			if (got) {
				dead.push(locked_by);
				await connection.query('select pg_advisory_unlock($1::bigint)', [key]);
			}
		} finally {
			connection.release();
		}
	}
	if (dead.length > 0) await utils.forceUnlockWorkers(dead);
	return dead;
}
