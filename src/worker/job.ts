import type pg from 'pg';
import type { JobName, JobPayload } from '$lib/core/jobs';
import type { AppContext } from '$lib/server/context/app-context';
import type { SendingPlace } from '$lib/server/messages/send-message';

/** What a job of the worker has at hand. */
export interface JobTools {
	context: AppContext;
	place: SendingPlace;
	/** how the queue's role signs in: for locks that last as long as a job */
	asQueue: pg.ClientConfig;
}

/** Does one job; what it throws makes the queue try again later. */
export type Job<Name extends JobName> = (payload: JobPayload<Name>, tools: JobTools) => Promise<void>;
