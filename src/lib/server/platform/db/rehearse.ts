import type { Database, Tx } from './database';

/** Carries an answer out of a transaction that is not kept. */
class NotKept extends Error {
	constructor(readonly answer: unknown) {
		super('rehearsed, nothing kept');
	}
}

/** Does something within a firm to see what it would do, and keeps nothing of it: what is foreseen is what happens. */
export async function rehearse<T>(db: Database, firmId: string, work: (tx: Tx) => Promise<T>): Promise<T> {
	try {
		return await db.inFirm(firmId, async (tx) => {
			throw new NotKept(await work(tx));
		});
	} catch (cause) {
		if (cause instanceof NotKept) return cause.answer as T;
		throw cause;
	}
}
