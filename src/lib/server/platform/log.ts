import pino from 'pino';

/** JSON lines on standard output. Never give it names, addresses or texts of people: ids only. */
export const log = pino({
	level: process.env.LOG_LEVEL ?? 'info',
	base: null,
	timestamp: pino.stdTimeFunctions.isoTime
});

/** What may be logged of an error: its kind, message and place. A database error's row values stay out. */
export function errorForLog(error: unknown): Record<string, unknown> {
	if (!(error instanceof Error)) return { error: String(error) };
	const code = (error as { code?: unknown }).code;
	return { error: error.name, code, message: error.message, stack: error.stack };
}
