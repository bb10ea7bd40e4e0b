import { secondsSinceBeat } from '$lib/server/platform/worker-beat';
import { webContext } from '$lib/web/web-context';

/** Seconds after which a worker that has not been heard of counts as gone. */
const WORKER_SILENT_SECONDS = 60;

/** Milliseconds in which a part answers, or counts as gone. */
const ANSWER_MS = 800;
const within = <T>(answer: Promise<T>, late: T): Promise<T> => {
	let timer: NodeJS.Timeout;
	const tooLate = new Promise<T>((resolve) => (timer = setTimeout(() => resolve(late), ANSWER_MS)));
	return Promise.race([answer, tooLate]).finally(() => clearTimeout(timer));
};

/** Whether work can be done: the database answers, a worker is there, the mail server answers. */
export const GET = async () => {
	const { db, mailer } = await webContext();
	const [worker, mail] = await Promise.all([
		within(
			secondsSinceBeat(db)
				.then((age) => ({ database: true, worker: age !== null && age < WORKER_SILENT_SECONDS }))
				.catch(() => ({ database: false, worker: false })),
			{ database: false, worker: false }
		),
		within(mailer.reachable(), false)
	]);
	const ready = worker.database && worker.worker && mail;
	return Response.json({ ready, ...worker, mail }, { status: ready ? 200 : 503 });
};
