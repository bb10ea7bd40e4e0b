import { log, errorForLog } from '../log';

/** What tells that the connection to the database was lost, or that it takes none just now (SQLSTATE classes 08 and 57P). */
export function isConnectionLost(error: unknown): boolean {
	const { code = '', message = '' } = error as { code?: string; message?: string };
	return (
		/^(08|57P)/.test(code) ||
		['ECONNRESET', 'ECONNREFUSED', 'EPIPE', 'ETIMEDOUT', 'ENOTFOUND', 'EAI_AGAIN'].includes(code) ||
		/^Connection terminated|^Client has encountered a connection error|timeout exceeded when trying to connect/.test(message)
	);
}

const PAUSE_MS = 500;
const TRIES = 240;

/** Does what must be written, if need be over two minutes, until the database is back. @throws whatever else goes wrong */
export async function untilWritten<T>(work: () => Promise<T>): Promise<T> {
	for (let tries = 1; ; tries++) {
		try {
			return await work();
		} catch (error) {
			if (tries >= TRIES || !isConnectionLost(error)) throw error;
			if (tries === 1) log.warn(errorForLog(error), 'the database is gone; what must be written waits for it');
			await new Promise((resolve) => setTimeout(resolve, PAUSE_MS));
		}
	}
}
