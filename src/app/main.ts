import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import { prepareStart, StartRefused } from '$lib/server/platform/before-start';
import { errorForLog, log } from '$lib/server/platform/log';
import { settings, SettingsRefused } from '$lib/server/platform/settings';

type Handler = (request: IncomingMessage, response: ServerResponse, next: () => void) => void;

/** Seconds that requests under way have when the app is stopped. */
const STOP_SECONDS = 10;
/** How much of a refused body is still taken from whoever sends it, in bytes and in seconds. */
const READ_OFF = { bytes: 16 * 1024 * 1024, seconds: 10 };

/**
 * Takes what is left of a body after its answer, and throws it away: whoever is cut off while they still send never hears
 * the answer. The connection ends when that is more, or takes longer, than an honest mistake would.
 */
function readOff(request: IncomingMessage): void {
	if (request.complete || request.destroyed) return;
	let left = READ_OFF.bytes;
	const late = setTimeout(() => request.destroy(), READ_OFF.seconds * 1000).unref();
	request.once('close', () => clearTimeout(late));
	request.removeAllListeners('data');
	request.on('data', (chunk: Buffer) => (left -= chunk.length) < 0 && request.destroy());
	request.resume();
}

/** What every answer carries, also files, redirects and errors. */
function headers(origin: string): [string, string][] {
	return [
		['x-content-type-options', 'nosniff'],
		['referrer-policy', 'same-origin'],
		['cross-origin-opener-policy', 'same-origin'],
		['cross-origin-resource-policy', 'same-origin'],
		['permissions-policy', 'camera=(), microphone=(), geolocation=()'],
		...(origin.startsWith('https:') ? [['strict-transport-security', 'max-age=31536000'] as [string, string]] : [])
	];
}

/** The app process: looks at its settings, then serves the desk and the portals until it is told to stop. */
async function main(): Promise<void> {
	const given = settings();
	await prepareStart(given, 'app');
	// what a body may hold is ours to say, by route: the adapter's own limit ends the process when it is passed
	process.env.BODY_SIZE_LIMIT = 'Infinity';
	const { handler } = (await import(/* @vite-ignore */ new URL('../handler.js', import.meta.url).href)) as { handler: Handler };

	const onEach = headers(given.ORIGIN);
	let warned = !!given.ADDRESS_HEADER;
	const server = createServer((request, response) => {
		for (const [name, value] of onEach) response.setHeader(name, value);
		// what somebody signed in is shown, or refused, stays in no cache
		if (/^\/(desk|portal)\b/.test(request.url ?? '')) response.setHeader('cache-control', 'private, no-store');
		response.once('finish', () => readOff(request));
		if (!warned && request.headers['x-forwarded-for']) {
			warned = true;
			log.warn('a proxy stands before the app and ADDRESS_HEADER is not set: everybody seems to come from one address, and is limited together');
		}
		handler(request, response, () => {
			response.statusCode = 404;
			response.end();
		});
	});
	let stopping = false;
	const stop = (code: number) => {
		if (stopping) return;
		stopping = true;
		process.exitCode = code;
		// streams would go on for as long as somebody looks: they end first, and come again elsewhere
		process.emit('lantern:stopping' as 'disconnect');
		server.close(() => process.emit('sveltekit:shutdown' as 'disconnect'));
		server.closeIdleConnections();
		setTimeout(() => server.closeAllConnections(), STOP_SECONDS * 1000).unref();
		setTimeout(() => process.exit(), (STOP_SECONDS + 5) * 1000).unref();
	};
	server.on('request', (_, response) => response.on('close', () => stopping && server.closeIdleConnections()));
	process.on('SIGTERM', () => stop(0));
	process.on('SIGINT', () => stop(0));
	process.on('unhandledRejection', (reason) => log.error(errorForLog(reason), 'a promise failed that nobody waited for'));
	// nobody knows what still holds after this: a supervisor starts the app anew
	process.on('uncaughtException', (error) => {
		log.fatal(errorForLog(error), 'the app cannot go on');
		stop(1);
	});

	await new Promise<void>((resolve, reject) => {
		server.once('error', reject);
		server.listen({ port: given.PORT, host: given.HOST }, resolve);
	});
	if (given.ORIGIN.startsWith('https:') && !given.ADDRESS_HEADER)
		log.warn('ORIGIN is https, so a proxy stands before the app: set ADDRESS_HEADER to the header in which it says who asks');
	log.info({ port: given.PORT, host: given.HOST }, 'app ready');
}

main().catch((error: unknown) => {
	if (error instanceof StartRefused || error instanceof SettingsRefused) console.error(error.message);
	else log.fatal(errorForLog(error), 'the app cannot start');
	process.exit(1);
});
