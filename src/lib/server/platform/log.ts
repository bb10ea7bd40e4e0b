import { createHmac } from 'node:crypto';
import pino from 'pino';
import { settings } from './settings';
import { keysOf } from './tokens';

/** JSON lines on standard output. Never give it names, addresses or texts of people: ids only. */
export const log = pino({
	// a level that does not exist is named by the settings, before anything starts
	level: ['debug', 'info', 'warn', 'error', 'silent'].find((level) => level === process.env.LOG_LEVEL) ?? 'info',
	base: null,
	timestamp: pino.stdTimeFunctions.isoTime
});

/** What may be logged of an error: its kind, message and place. A database error's row values stay out. */
export function errorForLog(error: unknown): Record<string, unknown> {
	if (!(error instanceof Error)) return { error: String(error) };
	const code = (error as { code?: unknown }).code;
	return { error: error.name, code, message: error.message, stack: error.stack };
}

/** Where a request came from, so that what comes from one address can be told to do so, and the address itself stands nowhere. */
export function placeForLog(ip: string): string {
	return createHmac('sha256', keysOf(settings().SECRET_KEY)[0]).update(`place ${ip}`).digest('hex').slice(0, 12);
}
