import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import pg from 'pg';
import { timeWords } from '$lib/words/dates';
import { checkSeal } from '../platform/pdf/seal';
import { settings } from '../platform/settings';

/** Says whether a PDF is one of ours, unchanged, and who signed it when. Exit code 0 if so, otherwise 1. */
const file = process.argv[2];
if (!file) {
	console.error('Usage: npm run verify -- FILE.pdf');
	process.exit(1);
}
const bytes = await readFile(file).catch((error: NodeJS.ErrnoException) => {
	console.error(`${file} cannot be read (${error.code}).`);
	process.exit(1);
});
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
		}>(
			`select i.title, c.name client, f.name firm, f.time_zone, l.sealed_at,
				(select json_agg(json_build_object('name', s.name, 'email', s.email, 'at', to_iso(s.signed_at)) order by s.rank) from signature s where s.letter_id = l.id) signers
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
			console.log(`  SHA-256 ${digest.toString('hex')}`);
		}
	}
} finally {
	await client.end();
}
