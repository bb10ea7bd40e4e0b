import { z } from 'zod';

const port = z.coerce.number().int().min(1).max(65535);
const folder = z.string().min(1);

/** Whether an address leads to this machine, where nobody else listens on the way. */
export function isLoopback(host: string): boolean {
	return host === '' || host === 'localhost' || host === '[::1]' || /^127\.\d+\.\d+\.\d+$/.test(host);
}

/** What goes over a network to the database is encrypted, and the database proves who it is, unless the address itself says otherwise. */
function withSafeConnection(address: string): string {
	const url = new URL(address);
	if (!isLoopback(url.hostname) && !url.searchParams.has('sslmode')) url.searchParams.set('sslmode', 'verify-full');
	return url.href;
}
const databaseAddress = z.url({ protocol: /^postgres(ql)?$/, error: 'must be a postgres:// address' }).transform(withSafeConnection);
/** What links in mail are made with: a path or a slash at the end would make them lead nowhere. */
const origin = z
	.url({ protocol: /^https?$/, error: 'must be an address as https://portal.firm.example' })
	.refine((address) => URL.canParse(address) && new URL(address).origin === address, 'must be without a path, and without a slash at its end');

const settingsSchema = z
	.object({
		/** owner of the schema: migrations, and the roles the app and the queue step down to */
		DATABASE_URL: databaseAddress,
		/** sign-in of a role that is a member of lantern_app only; without it the owner steps down */
		APP_DATABASE_URL: databaseAddress.optional(),
		/** where people reach the app, without a slash at the end */
		ORIGIN: origin.default('http://localhost:3000'),
		/** with a proxy before the app: the header in which it says who asks; the adapter reads it */
		ADDRESS_HEADER: z.string().min(1).optional(),
		SMTP_URL: z.url({ protocol: /^smtps?$/, error: 'must be smtp:// or smtps://' }),
		/** whether a mail server that offers no encryption gets mail all the same; one on this machine always does */
		SMTP_TLS: z.enum(['required', 'if_offered']).default('required'),
		/** address the bounces come back to; the part before @ gets the message's id */
		BOUNCE_DOMAIN: z.string().min(1).default('bounces.localhost'),
		/** port on which the worker receives bounce reports by SMTP; 0 turns it off */
		BOUNCE_SMTP_PORT: z.coerce.number().int().min(0).max(65535).default(0),
		/** with both, clients can send papers by mail: what stands behind the @ of their addresses, and the port on which the worker receives it */
		PAPERS_MAIL_DOMAIN: z
			.string()
			.regex(/^[a-z0-9.-]+\.[a-z0-9-]+$/i, 'must be a domain as papers.firm.example')
			.optional(),
		PAPERS_SMTP_PORT: port.optional(),
		/** ClamAV's daemon, as `host:port` or the path of its socket: no paper is handed out before it was looked through */
		CLAMD: z
			.string()
			.regex(/^(\/.+|[^/\s]+:\d{1,5})$/, 'must be host:port or the path of a socket')
			.optional(),
		/** with these three outgoing mail is signed (DKIM, RFC 6376): domain, selector, and a file with the private key as PEM */
		DKIM_DOMAIN: z.string().min(1).optional(),
		DKIM_SELECTOR: z.string().min(1).optional(),
		DKIM_KEY_FILE: z.string().min(1).optional(),
		/** who is asked whether a domain takes mail: the domain name system, a stand-in, or nobody */
		MAIL_DOMAINS: z.enum(['dns', 'standin', 'off']).default('dns'),
		/** the mail stand-in's folder; only set when there is no real mail server */
		MAIL_STANDIN_FOLDER: folder.optional(),
		/** how many of the messages of one sending to many may leave in a second; 0 for no limit */
		BULK_MAILS_PER_SECOND: z.coerce.number().int().min(0).max(1000).default(10),
		/** with these three text messages can be sent: the gateway's address, the key shared with it, and our number (E.164) */
		TEXT_GATEWAY_URL: z.url({ protocol: /^https?$/ }).optional(),
		TEXT_GATEWAY_KEY: z.string().min(16, 'must have at least 16 characters').optional(),
		TEXT_FROM: z
			.string()
			.regex(/^\+[1-9][0-9]{6,14}$/, 'must be a number as +19025550100')
			.optional(),
		/** the text stand-in's folder; only set when there is no real gateway */
		TEXT_STANDIN_FOLDER: folder.optional(),
		/** with it people can be told on their devices: the private key (VAPID, RFC 8292) with which that is signed, 32 bytes as base64url */
		PUSH_KEY: z
			.string()
			.regex(/^[\w-]{43}$/, 'must be 32 bytes as base64url')
			.optional(),
		/** the push services of browsers that are spoken to, with spaces between: hosts, `*.` before one for any part, or whole origins */
		PUSH_SERVICES: z
			.string()
			.regex(/^\S+( \S+)*$/, 'must be hosts with a space between')
			.default('fcm.googleapis.com *.push.services.mozilla.com *.notify.windows.com *.push.apple.com'),
		/** where papers are, unless they are in a store; uploads that are not finished are here in any case */
		PAPERS_FOLDER: folder.default('.lantern/papers'),
		/** with these four papers are in a bucket of an S3-compatible store: its address, the bucket, and the sign-in to it */
		S3_ENDPOINT: z.url({ protocol: /^https?$/ }).optional(),
		S3_BUCKET: z
			.string()
			.regex(/^[a-z0-9][a-z0-9.-]{1,61}[a-z0-9]$/, 'must be the name of a bucket')
			.optional(),
		S3_ACCESS_KEY: z.string().min(1).optional(),
		S3_SECRET_KEY: z.string().min(1).optional(),
		/** what such a store calls the place of the bucket; most that are one's own do not care */
		S3_REGION: z.string().min(1).default('us-east-1'),
		/** a service for time stamps (RFC 3161 over HTTP): with it what is sealed carries one (PAdES B-T) */
		TSA_URL: z.url({ protocol: /^https?$/ }).optional(),
		/** with both, somebody can be asked to show who they are before they sign: the service that asks, and the key shared with it */
		IDENTITY_CHECK_URL: z.url({ protocol: /^https?$/ }).optional(),
		IDENTITY_CHECK_KEY: z.string().min(16, 'must have at least 16 characters').optional(),
		/** 32 bytes in hex: encrypts what is secret in the database. While it is changed: the new one, a comma, the one before */
		SECRET_KEY: z
			.string()
			.regex(/^[0-9a-f]{64}(,[0-9a-f]{64})?$/, 'must be 64 hexadecimal digits (openssl rand -hex 32), or two such keys with a comma between'),
		DEMO: z
			.enum(['0', '1'])
			.default('0')
			.transform((v) => v === '1'),
		LOG_LEVEL: z.enum(['debug', 'info', 'warn', 'error', 'silent']).default('info'),
		/** seconds between two looks of the worker at what is due */
		WORKER_BEAT_SECONDS: z.coerce.number().min(0.2).max(60).default(10),
		/** where the app listens */
		HOST: z.string().min(1).default('0.0.0.0'),
		PORT: port.default(3000)
	})
	.refine(({ PAPERS_MAIL_DOMAIN, PAPERS_SMTP_PORT }) => (PAPERS_MAIL_DOMAIN === undefined) === (PAPERS_SMTP_PORT === undefined), {
		path: ['PAPERS_MAIL_DOMAIN'],
		message: 'PAPERS_MAIL_DOMAIN and PAPERS_SMTP_PORT belong together: set both or neither'
	})
	.refine(
		({ S3_ENDPOINT, S3_BUCKET, S3_ACCESS_KEY, S3_SECRET_KEY }) =>
			new Set([S3_ENDPOINT, S3_BUCKET, S3_ACCESS_KEY, S3_SECRET_KEY].map((given) => given === undefined)).size === 1,
		{
			path: ['S3_ENDPOINT'],
			message: 'S3_ENDPOINT, S3_BUCKET, S3_ACCESS_KEY and S3_SECRET_KEY belong together: set all four or none'
		}
	)
	.refine(
		({ DKIM_DOMAIN, DKIM_SELECTOR, DKIM_KEY_FILE }) =>
			new Set([DKIM_DOMAIN, DKIM_SELECTOR, DKIM_KEY_FILE].map((given) => given === undefined)).size === 1,
		{
			path: ['DKIM_DOMAIN'],
			message: 'DKIM_DOMAIN, DKIM_SELECTOR and DKIM_KEY_FILE belong together: set all three or none'
		}
	)
	.refine(
		({ TEXT_GATEWAY_URL, TEXT_GATEWAY_KEY, TEXT_FROM }) =>
			new Set([TEXT_GATEWAY_URL, TEXT_GATEWAY_KEY, TEXT_FROM].map((given) => given === undefined)).size === 1,
		{
			path: ['TEXT_GATEWAY_URL'],
			message: 'TEXT_GATEWAY_URL, TEXT_GATEWAY_KEY and TEXT_FROM belong together: set all three or none'
		}
	)
	.refine(({ IDENTITY_CHECK_URL, IDENTITY_CHECK_KEY }) => (IDENTITY_CHECK_URL === undefined) === (IDENTITY_CHECK_KEY === undefined), {
		path: ['IDENTITY_CHECK_URL'],
		message: 'IDENTITY_CHECK_URL and IDENTITY_CHECK_KEY belong together: set both or neither'
	});
export type Settings = z.infer<typeof settingsSchema>;

/** Settings that are wrong or missing; the message names each in one line. */
export class SettingsRefused extends Error {}

/**
 * Reads the settings from the environment.
 * @throws SettingsRefused naming each wrong or missing setting, one a line, without the values
 */
export function parseSettings(environment: Record<string, string | undefined>): Settings {
	const given = Object.fromEntries(Object.entries(environment).filter(([, v]) => v !== ''));
	const result = settingsSchema.safeParse(given);
	if (result.success) return result.data;
	throw new SettingsRefused(
		result.error.issues.map((issue) => `${issue.path.join('.')}: ${issue.code === 'invalid_type' ? 'is missing' : issue.message}`).join('\n')
	);
}

let parsed: Settings | undefined;

/** The settings of this process, parsed at first use. */
export function settings(): Settings {
	parsed ??= parseSettings(process.env);
	return parsed;
}
