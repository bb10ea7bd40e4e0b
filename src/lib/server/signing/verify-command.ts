import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import pg from 'pg';
import { timeWords } from '$lib/words/dates';
import { checkTrail, trailFile, trailSchema, type KeptEntry, type Trail } from '$lib/core/signing/trail';
import { checkSeal } from '../platform/pdf/seal';
import { trailEndOf } from '../platform/pdf/seal-letter';
import { settings } from '../platform/settings';
import { textDigest } from './letter-trail';

/**
 * Says whether a PDF is one of ours, unchanged, and who signed it when; with a trail that was handed out also whether that is whole and
 * belongs to it. Exit code 0 if so, otherwise 1.
 */
const [file, trailPath] = process.argv.slice(2);
/** Far more than any trail that is handed out. */
const TRAIL_MOST_BYTES = 50_000_000;
if (!file) {
	console.error('Usage: npm run verify -- FILE.pdf [TRAIL.json]');
	process.exit(1);
}
const read = (path: string) =>
	readFile(path).catch((error: NodeJS.ErrnoException) => {
		console.error(`${path} cannot be read (${error.code}).`);
		process.exit(1);
	});
const bytes = await read(file);
const client = new pg.Client({ connectionString: settings().DATABASE_URL });
await client.connect();
try {
	const pinned = (await client.query<{ leaf_pem: string }>('select leaf_pem from seal_certificate')).rows.map((r) => r.leaf_pem);
	const seal = await checkSeal(bytes, pinned);
	if (!seal.ok) {
		console.log(`NOT VALID: ${seal.why}.`);
		process.exitCode = 1;
	} else {
		const digest = createHash('sha256').update(bytes).digest();
		const { rows } = await client.query<{
			title: string;
			client: string;
			firm: string;
			time_zone: string;
			sealed_at: string;
			signers: { name: string; email: string; at: string }[];
			document: string;
			trail: KeptEntry[] | null;
		}>(
			`select i.title, c.name client, f.name firm, f.time_zone, l.sealed_at,
				(select json_agg(json_build_object('name', s.name, 'email', s.email, 'at', to_iso(s.signed_at)) order by s.rank) from signature s where s.letter_id = l.id) signers,
				encode(l.sha256, 'hex') document,
				(select json_agg(json_build_object('said', t.said, 'hash', t.hash) order by t.number) from letter_trail t where t.letter_id = l.id) trail
			from letter l join item i on i.id = l.item_id join client c on c.id = l.client_id join firm f on f.id = l.firm_id where l.sealed_sha256 = $1`,
			[digest]
		);
		if (!rows[0]) {
			console.log('NOT VALID: the seal is ours, but this file is not among the letters that were sealed here.');
			process.exitCode = 1;
		} else {
			const letter = rows[0];
			console.log(`VALID: “${letter.title}” for ${letter.client}, sealed by ${letter.firm}, unchanged.`);
			for (const s of letter.signers) console.log(`  signed by ${s.name} <${s.email}> on ${timeWords('en', s.at, letter.time_zone, 'stamp')}`);
			if (seal.stampedAt) console.log(`  time stamp of ${timeWords('en', seal.stampedAt, letter.time_zone, 'stamp')}`);
			console.log(`  SHA-256 ${digest.toString('hex')}`);
			const end = await trailEndOf(bytes);
			const kept = trailFile({ title: letter.title, document: letter.document, sealed: digest.toString('hex'), entries: letter.trail ?? [] });
			sayOfTrail('the trail that is kept here', kept, letter.document, end, digest.toString('hex'));
			if (trailPath) {
				const given = await readTrail(trailPath);
				if (given) sayOfTrail(trailPath, given, letter.document, end, digest.toString('hex'));
			}
		}
	}
} finally {
	await client.end();
}

async function readTrail(path: string): Promise<Trail | null> {
	const text = await read(path);
	let given: unknown = null;
	try {
		if (text.length <= TRAIL_MOST_BYTES) given = JSON.parse(text.toString('utf8'));
	} catch {
		// said below
	}
	const trail = trailSchema.safeParse(given);
	if (trail.success) return trail.data;
	console.log(`NOT VALID: ${path} is no trail of a letter.`);
	process.exitCode = 1;
	return null;
}

function sayOfTrail(name: string, trail: Trail, document: string, end: string | null, sealed: string): void {
	const no = (why: string) => {
		console.log(`NOT VALID: ${name} ${why}.`);
		process.exitCode = 1;
	};
	const finding = checkTrail(trail.document, trail.entries, textDigest);
	if (!finding.ok) return no(`is broken at entry ${finding.at}: something was changed, left out or put in there`);
	if (trail.document !== document || (trail.sealed !== null && trail.sealed !== sealed)) return no('is that of another letter');
	const counted = trail.entries.length === 1 ? 'one entry' : `${trail.entries.length} entries`;
	if (end === null) return console.log(`  ${name}: ${counted}, unbroken; the letter was sealed before trails were kept`);
	const at = trail.entries.findIndex(({ hash }) => hash === end);
	if (at < 0) return no('does not hold the entry at which the letter was sealed');
	console.log(`  ${name}: ${counted}, unbroken; sealed after entry ${at + 1}`);
}
