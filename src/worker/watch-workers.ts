import { createHash } from 'node:crypto';
import type { WorkerUtils } from 'graphile-worker';
import pg from 'pg';
import { errorForLog, log } from '$lib/server/platform/log';

function lockKey(what: string): string {
	return createHash('sha256').update(what).digest().readBigInt64BE(0).toString();
}
const ofWorker = (workerId: string) => lockKey(`worker ${workerId}`);

const AGAIN_MS = 250;

/**
 * Holds an advisory lock for the id under which jobs are locked: the sign that this worker is alive. It has a connection of its own; when
 * that breaks, the lock is taken again.
 */
export function holdLifeSign(config: pg.ClientConfig, workerId: string): { held(): Promise<void>; close(): Promise<void> } {
	let closed = false;
	let client: pg.Client | undefined;
	let tellHeld = () => {};
	let held = new Promise<void>((resolve) => (tellHeld = resolve));

	const hold = async () => {
		while (!closed) {
			const mine = new pg.Client({ ...config, keepAlive: true, connectionTimeoutMillis: 5000 });
			client = mine;
			mine.on('error', () => undefined);
			const ended = new Promise<void>((resolve) => mine.once('end', () => resolve()));
			try {
				await mine.connect();
				await mine.query('select pg_advisory_lock($1::bigint)', [ofWorker(workerId)]);
				tellHeld();
				await ended;
				// whoever waits for it from now on waits until it is taken again
				held = new Promise<void>((resolve) => (tellHeld = resolve));
			} catch (error) {
				log.warn(errorForLog(error), 'the sign of life is not held');
				void mine.end().catch(() => undefined);
			}
			await new Promise((resolve) => setTimeout(resolve, AGAIN_MS));
		}
	};
	void hold();
	return {
		held: () => held,
		async close() {
			closed = true;
			await client?.end().catch(() => undefined);
		}
	};
}

/** Seconds for which a worker must have shown no sign of life: one whose connection was cut takes its lock again sooner. */
export const SILENT_SECONDS = 3;

/**
 * Frees the jobs of workers that are gone: a killed worker's jobs would otherwise stay locked for four hours. A worker whose advisory lock
 * can be had, now and some seconds ago, is dead, since its connection ended with it.
 */
export class WorkerWatch {
	private readonly silentSince = new Map<string, number>();
	constructor(
		private readonly pool: pg.Pool,
		private readonly utils: Pick<WorkerUtils, 'forceUnlockWorkers'>,
		private readonly silentSeconds = SILENT_SECONDS
	) {}

	/** @returns the ids of those whose jobs were freed */
	async freeJobsOfTheDead(): Promise<string[]> {
		const { rows } = await this.pool.query<{ locked_by: string }>(
			`select locked_by from graphile_worker._private_jobs where locked_by is not null
			union select locked_by from graphile_worker._private_job_queues where locked_by is not null`
		);
		const silent = new Set<string>();
		for (const { locked_by } of rows) if (await this.isSilent(locked_by)) silent.add(locked_by);
		const dead: string[] = [];
		for (const id of silent) {
			const since = this.silentSince.get(id) ?? performance.now();
			if (performance.now() - since >= this.silentSeconds * 1000) dead.push(id);
			this.silentSince.set(id, since);
		}
		for (const id of this.silentSince.keys()) if (!silent.has(id) || dead.includes(id)) this.silentSince.delete(id);
		if (dead.length > 0) await this.utils.forceUnlockWorkers(dead);
		return dead;
	}

	private async isSilent(workerId: string): Promise<boolean> {
		// the lock is had for a moment only: within a transaction it goes with it
		const { rows } = await this.pool.query<{ got: boolean }>('select pg_try_advisory_xact_lock($1::bigint) got', [ofWorker(workerId)]);
		return rows[0].got;
	}
}

/** Frees jobs that are locked by this worker and that nobody here runs: their end could not be written when the database was gone. */
export async function freeLeftJobs(pool: pg.Pool, workerId: string, running: ReadonlySet<string>): Promise<number> {
	const { rowCount } = await pool.query(
		`update graphile_worker._private_jobs set locked_at = null, locked_by = null, run_at = greatest(run_at, now())
		where locked_by = $1 and locked_at < now() - interval '2 seconds' and id <> all ($2::bigint[])`,
		[workerId, [...running]]
	);
	return rowCount ?? 0;
}

/** A job that somebody else is doing already. */
export class RunsAlready extends Error {}

/**
 * Does a long job only if nobody else is doing the same, whatever the queue says: its lock is had as long as it runs.
 * @throws RunsAlready, so that the queue tries again later
 */
export async function onlyOnce<T>(config: pg.ClientConfig, job: string, work: () => Promise<T>): Promise<T> {
	const client = new pg.Client({ ...config, keepAlive: true });
	client.on('error', () => undefined);
	await client.connect();
	try {
		const { rows } = await client.query<{ got: boolean }>('select pg_try_advisory_lock($1::bigint) got', [lockKey(`job ${job}`)]);
		if (!rows[0].got) throw new RunsAlready(`${job} is being done already`);
		return await work();
	} finally {
		await client.end().catch(() => undefined);
	}
}
