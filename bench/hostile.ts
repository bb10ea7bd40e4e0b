import { Readable } from 'node:stream';
import { setImmediate } from 'node:timers/promises';
import type { RunningApp } from './running';

const origin = process.env.ORIGIN!;
/** How long an answer is waited for. */
const PATIENCE_MS = 20_000;
const FORM = 'application/x-www-form-urlencoded';

/** What is sent: from whom, where to, and how much of it. */
interface Hostile {
	name: string;
	path: string;
	cookie?: string;
	type?: string;
	headers?: Record<string, string>;
	body?: () => string | Uint8Array | ReadableStream | FormData;
}

const times = (n: number, text: string) => text.repeat(n);
const nested = (depth: number) => `${times(depth, '[')}${times(depth, ']')}`;
function form(fields: Record<string, string | Blob>): FormData {
	const data = new FormData();
	for (const [name, value] of Object.entries(fields)) data.set(name, value);
	return data;
}
async function* unannounced(): AsyncGenerator<Uint8Array> {
	for (let i = 0; i < 640; i++) {
		yield new Uint8Array(64 * 1024).fill(38);
		await setImmediate();
	}
}
/** A calendar in which each of many events happens on every day for as long as there are days. */
const calendar = `BEGIN:VCALENDAR\r\n${times(20, 'BEGIN:VEVENT\r\nUID:x\r\nDTSTART;VALUE=DATE:20000101\r\nRRULE:FREQ=DAILY;COUNT=20000\r\nSUMMARY:x\r\nEND:VEVENT\r\n')}END:VCALENDAR\r\n`;

/** What somebody may send who wants the app to stop answering everybody else, or who has a very odd file. */
function inputs(of: { desk: string; portal: string; client: string; item: string }): Hostile[] {
	const { desk, portal } = of;
	const item = `/portal/bench/item/${of.item}`;
	return [
		{ name: 'nobody: 16 kB of fields at the sign-in', path: '/desk/sign-in', type: FORM, body: () => times(5000, 'a=&') },
		{ name: 'nobody: 2 MB of fields, announced', path: '/desk/sign-in', type: FORM, body: () => times(1_000_000, '&a') },
		{
			name: 'nobody: 40 MB that were not announced',
			path: '/portal/bench/sign-in',
			type: FORM,
			body: () => Readable.toWeb(Readable.from(unannounced())) as ReadableStream
		},
		{ name: 'nobody: 16 kB of nested JSON as a passkey', path: '/desk/sign-in/passkey', type: 'application/json', body: () => nested(8000) },
		{ name: 'nobody: a search of 12 kB', path: `/desk/sign-in?to=${times(12_000, '%')}` },
		{ name: 'the desk: a form of a million fields', path: '/desk/clients/new?/add', cookie: desk, type: FORM, body: () => times(1_000_000, '&a') },
		{
			name: 'the desk: 19,000 fields of one name',
			path: '/desk/clients/new',
			cookie: desk,
			type: FORM,
			body: () => times(19_000, 'emailemailemail=aaaa&')
		},
		{ name: 'the desk: 2 MB in one field', path: '/desk/clients/new?/add', cookie: desk, type: FORM, body: () => `name=${times(2_000_000, 'a')}` },
		{
			name: 'the desk: 2 MB of spaces in one field',
			path: '/desk/clients/new',
			cookie: desk,
			type: FORM,
			body: () => `name=a${times(2_000_000, '+')}b`
		},
		{
			name: 'the desk: 1.5 MB of nested JSON as a draft',
			path: `/desk/clients/${of.client}/ask?/keep`,
			cookie: desk,
			body: () => form({ draftId: crypto.randomUUID(), list: 'null', request: nested(700_000) })
		},
		{
			name: 'the desk: a draft of 300,000 lines',
			path: `/desk/clients/${of.client}/ask?/keep`,
			cookie: desk,
			body: () => form({ draftId: crypto.randomUUID(), list: 'null', request: `{"lines":[${times(300_000, '{},')}{}]}` })
		},
		{
			name: 'the desk: a draft of one line whose text is 1.4 MB',
			path: `/desk/clients/${of.client}/ask?/keep`,
			cookie: desk,
			body: () =>
				form({ draftId: crypto.randomUUID(), list: 'null', request: JSON.stringify({ title: times(1_400_000, 'é ') }).slice(0, 1_400_000) + '"}' })
		},
		{
			name: 'the desk: a calendar of 2 kB with 400,000 days',
			path: '/desk/firm?/importHolidays',
			cookie: desk,
			body: () => form({ calendar: new Blob([calendar], { type: 'text/calendar' }) })
		},
		{
			name: 'the desk: a picture of 1.9 MB that is none',
			path: '/desk/firm?/addPicture',
			cookie: desk,
			body: () => form({ what: 'logo', brandId: '', picture: new Blob(['\x89PNG\r\n\x1a\n', new Uint8Array(1_900_000).fill(65)]) })
		},
		{ name: 'the desk: six words searched for', path: `/desk/find?q=${encodeURIComponent(times(20, 'e a ').slice(0, 100))}`, cookie: desk },
		{
			name: 'the desk: a list of 20 MB in one line of quotes',
			path: '/desk/clients/import/file',
			cookie: desk,
			headers: { 'x-file-name': 'a.csv' },
			body: () => times(10_000_000, '""')
		},
		{
			name: 'the desk: a bank file of 20 MB of opening tags',
			path: `/desk/clients/${of.client}/transactions/file`,
			cookie: desk,
			headers: { 'x-file-name': 'a.ofx' },
			body: () => `OFXHEADER:100\n<OFX>${times(4_000_000, '<STMT')}`
		},
		{
			name: 'the portal: 700 kB of nested JSON as typed',
			path: `${item}?/keep`,
			cookie: portal,
			body: () => form({ typed: nested(340_000) })
		},
		{
			name: 'the portal: 20,000 typed fields',
			path: `${item}?/keep`,
			cookie: portal,
			body: () =>
				form({ typed: JSON.stringify({ version: 1, fields: Object.fromEntries(Array.from({ length: 20_000 }, (_, i) => [`f${i}`, 'aaaa'])) }) })
		},
		{
			name: 'the portal: a signature of 400 kB',
			path: `${item}?/sign`,
			cookie: portal,
			body: () => form({ consent: 'yes', signature: JSON.stringify({ method: 'drawn', strokes: Array.from({ length: 30_000 }, () => [1, 2, 3]) }) })
		},
		{
			name: 'the portal: 25 MB of files in one form, that are none',
			path: `${item}?/add`,
			cookie: portal,
			body: () => form({ files: new Blob([new Uint8Array(24_000_000)]) })
		}
	];
}

/** The same requests, each alone, and for how long each holds the event loop of the app. @param who signed in, and what is theirs */
export async function sendHostile(
	app: RunningApp,
	who: Parameters<typeof inputs>[0],
	tell: (what: string, value: string, bound: string) => void
): Promise<void> {
	const send = async ({ path, cookie, type, headers, body }: Hostile) => {
		const made = body?.();
		const answer = await fetch(origin + path, {
			method: made === undefined ? 'GET' : 'POST',
			redirect: 'manual',
			headers: { origin, accept: 'application/json', ...(cookie ? { cookie } : {}), ...(type ? { 'content-type': type } : {}), ...headers },
			signal: AbortSignal.timeout(PATIENCE_MS),
			...(made === undefined ? {} : { body: made, duplex: 'half' })
		} as RequestInit).catch(() => null);
		await answer?.text().catch(() => undefined);
		return answer?.status ?? 0;
	};
	const all = inputs(who);
	// what runs for the first time is compiled: that is nobody's request
	for (const one of all) await send(one);
	for (const one of all) {
		let status = 0;
		const held: number[] = [];
		for (let i = 0; i < 3; i++) held.push(await app.heldDuring(async () => (status = await send(one))));
		// whatever else runs on the machine holds up one of three
		tell(
			one.name,
			`${Math.min(...held).toFixed(0)} ms, most ${Math.max(...held).toFixed(0)} ms${status === 0 ? ' (cut off)' : ` (${status})`}`,
			'under 50 ms'
		);
	}
}
