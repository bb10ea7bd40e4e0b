import type { Database } from './db/database';

/** Tells the app that a worker is there. */
export async function noteBeat(db: Database, worker: string): Promise<void> {
	await db.queryOutsideFirm(
		'insert into worker_beat (worker, at) values ($1, clock_timestamp()) on conflict (worker) do update set at = excluded.at',
		[worker]
	);
}

/** A worker has ended of its own will. */
export async function forgetBeat(db: Database, worker: string): Promise<void> {
	await db.queryOutsideFirm('delete from worker_beat where worker = $1', [worker]);
}

/** Seconds since any worker was heard of; null if none ever was. */
export async function secondsSinceBeat(db: Database): Promise<number | null> {
	const [row] = await db.queryOutsideFirm<{ age: number | null }>(
		'select extract(epoch from clock_timestamp() - max(at))::float age from worker_beat'
	);
	return row.age;
}
