import { EventEmitter } from 'node:events';
import { Logger, makeWorkerUtils, run, type Runner, type TaskList, type WorkerEvents } from 'graphile-worker';
import pg from 'pg';
import { WAIT_FOR_DATABASE_MS } from '$lib/server/platform/db/database';
import { errorForLog, log } from '$lib/server/platform/log';
import { freeLeftJobs, holdLifeSign, WorkerWatch } from './watch-workers';

/** The queue as this process works at it. */
export interface Queue {
	/** Looks after it: holds its sign of life, frees the jobs of dead workers and those that were left, begins anew if it is stuck. */
	look(): Promise<void>;
	/** Lets jobs under way come to their end. */
	stop(): Promise<void>;
}

/** Failures to fetch a job, one after another, after which the queue is stuck although the database answers. */
const STUCK_AFTER = 12;

/** The queue ends a worker that could not write the end of a job, and all others with it: instead, another takes its place. */
const goesOnWithoutDatabase: GraphileConfig.Plugin = {
	name: 'goes-on-without-database',
	version: '1',
	worker: { middleware: { poolWorkerPrematureExit: (_, event) => event.replaceWithNewWorker() } }
};

/** Works at the queue, over whatever becomes of the database meanwhile. @param config how the queue's role signs in */
export async function runQueue(config: pg.PoolConfig, taskList: TaskList): Promise<Queue> {
	const pool = new pg.Pool({ ...config, max: 8, connectionTimeoutMillis: WAIT_FOR_DATABASE_MS });
	const onError = (error: Error) => log.warn(errorForLog(error), 'queue connection failed');
	pool.on('error', onError);
	pool.on('connect', (connection) => connection.on('error', onError));
	const utils = await makeWorkerUtils({ pgPool: pool });
	const watch = new WorkerWatch(pool, utils);
	const running = new Set<string>();
	let failures = 0;
	let stopping = false;
	let workerId = '';
	let lifeSign: ReturnType<typeof holdLifeSign> | undefined;

	const begin = async (): Promise<Runner> => {
		// jobs are locked under the id of the pool, which is told before it fetches the first one
		const events: WorkerEvents = new EventEmitter();
		events.on('pool:create', ({ workerPool }) => {
			workerId = workerPool.id;
			lifeSign = holdLifeSign(config, workerId);
		});
		events.on('job:start', ({ job }) => {
			running.add(job.id);
			failures = 0;
		});
		events.on('job:complete', ({ job }) => running.delete(job.id));
		events.on('worker:getJob:empty', () => (failures = 0));
		events.on('worker:getJob:error', () => failures++);
		const runner = await run({
			pgPool: pool,
			concurrency: 4,
			noHandleSignals: true,
			pollInterval: 2000,
			logger: new Logger(() => (level, message) => {
				if (level === 'error' || level === 'warning') log.warn({ from: 'queue' }, message);
			}),
			events,
			preset: { plugins: [goesOnWithoutDatabase] },
			taskList
		});
		runner.promise.catch((error: unknown) => {
			log.error(errorForLog(error), 'the queue has ended');
			failures = STUCK_AFTER;
		});
		return runner;
	};
	let runner = await begin();

	return {
		async look() {
			await lifeSign?.held();
			const left = await freeLeftJobs(pool, workerId, running);
			if (left > 0) log.warn({ left }, 'jobs whose end could not be written are taken up again');
			const dead = await watch.freeJobsOfTheDead();
			if (dead.length > 0) log.warn({ dead: dead.length }, 'took over the jobs of dead workers');
			if (failures < STUCK_AFTER || stopping) return;
			// the database answers, as was just seen: what the queue remembers of a bad moment keeps it from fetching anything
			log.warn({ failures }, 'the queue is stuck, and is begun anew');
			const [stuck, sign] = [runner, lifeSign];
			failures = 0;
			runner = await begin();
			await stuck.stop().catch((error: unknown) => log.warn(errorForLog(error), 'the stuck queue did not stop'));
			await sign?.close();
		},
		async stop() {
			stopping = true;
			await runner.stop().catch((error: unknown) => log.warn(errorForLog(error), 'the queue did not stop'));
			await lifeSign?.close();
			await utils.release();
			await pool.end();
		}
	};
}
