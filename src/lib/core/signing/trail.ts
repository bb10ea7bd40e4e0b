import { z } from 'zod';

/** What happened to a letter, as it is kept and handed out: the text that was hashed, and the hash. */
export interface KeptEntry {
	said: string;
	/** SHA-256, hexadecimal */
	hash: string;
}

/** One thing that happened, read from its text. */
export interface TrailEntry {
	at: string;
	by: 'staff' | 'contact' | 'machine' | 'nobody';
	who: string;
	what: string;
	address: string;
	/** the address that a message went to */
	to: string;
	ip: string;
	/** what the browser said of itself */
	device: string;
	details: Record<string, string>;
}

const hash = z.string().regex(/^[0-9a-f]{64}$/);
export const TRAIL_FORMAT = 'letter trail 1';
/** How somebody who holds the file checks it, with any program that works out SHA-256. */
const HOW =
	'The hash of an entry is the SHA-256, in hexadecimal, of the hash before it (for the first entry: of “document”, the SHA-256 of the letter as it was shown), a line feed (U+000A) and the text in “said”. The hash at which the letter was sealed stands on its certificate page and in its document information as LetterTrailEnd.';
const LONGEST_ENTRY = 20_000;

/** The file in which a trail is handed out. */
export const trailSchema = z.object({
	format: z.literal(TRAIL_FORMAT),
	how: z.string().max(2000),
	title: z.string().max(1000),
	document: hash,
	/** SHA-256 of the sealed file; null where it is not sealed */
	sealed: hash.nullable(),
	entries: z.array(z.object({ said: z.string().max(LONGEST_ENTRY), hash })).max(100_000)
});
export type Trail = z.infer<typeof trailSchema>;

/** A trail as it is handed out. */
export const trailFile = (of: Omit<Trail, 'format' | 'how'>): Trail => ({ format: TRAIL_FORMAT, how: HOW, ...of });

export type TrailFinding = { ok: true; end: string; entries: number } | { ok: false; /** from 1 */ at: number };

/**
 * Whether a chain is unbroken: each hash is that of the one before and its own text.
 * @param document SHA-256 of the letter, hexadecimal: with it the chain begins
 * @param sha256 of a text in UTF-8, in hexadecimal
 * @returns where it breaks: something was changed, left out or put in between there
 */
export function checkTrail(document: string, entries: readonly KeptEntry[], sha256: (text: string) => string): TrailFinding {
	let end = document;
	for (const [at, entry] of entries.entries()) {
		end = sha256(`${end}\n${entry.said}`);
		if (end !== entry.hash) return { ok: false, at: at + 1 };
	}
	return { ok: true, end, entries: entries.length };
}

/** An entry from its text. @throws SyntaxError if it is none */
export function readEntry(said: string): TrailEntry {
	const texts = z.record(z.string(), z.string()).parse(JSON.parse(said));
	return {
		at: texts.at ?? '',
		by: z.enum(['staff', 'contact', 'machine', 'nobody']).catch('nobody').parse(texts.by),
		who: texts.who ?? '',
		what: texts.what ?? '',
		address: texts.address ?? '',
		to: texts.to ?? '',
		ip: texts.ip ?? '',
		device: texts.device ?? '',
		details: Object.fromEntries(Object.entries(texts).flatMap(([key, value]) => (key.startsWith('detail.') ? [[key.slice(7), value]] : [])))
	};
}
