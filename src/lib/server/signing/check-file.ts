import { z } from 'zod';
import type { Actor } from '../actor';
import type { Database } from '../platform/db/database';
import type { RateLimits } from '../platform/rate-limits';

/** SHA-256 of a file, in hexadecimal: its digits alone say nothing of what it holds. */
export const digestSchema = z
	.string()
	.transform((typed) => typed.replace(/\s/g, '').toLowerCase())
	.pipe(z.string().regex(/^[0-9a-f]{64}$/, 'wrong.check.digest'));

/** What anybody who holds a sealed file learns of it: no more than stands in it. */
export interface SealedFile {
	title: string;
	sealedAt: string;
	/** on paper: by hand, and the pages were taken at that time */
	signers: { name: string; at: string; onPaper: boolean }[];
}

/**
 * Whether a file with this digest was sealed here, for anybody, signed in or not. There is no list: who does not hold the file does not
 * know its digest.
 * @throws DomainError too_many
 */
export async function findSealedFile(
	place: { db: Database; limits: RateLimits },
	firmId: string,
	actor: Actor,
	digest: string
): Promise<SealedFile | null> {
	await place.limits.fileChecked(actor.ip);
	const sha256 = Buffer.from(digestSchema.parse(digest), 'hex');
	return place.db.inFirm(firmId, (tx) =>
		tx.first<SealedFile>(
			`select i.title, l.sealed_at "sealedAt", (select json_agg(json_build_object('name', g.name, 'at', to_iso(g.signed_at), 'onPaper', g.mark ->> 'method' = 'paper') order by g.rank) from signature g where g.letter_id = l.id) signers
			from letter l join item i on i.id = l.item_id where l.firm_id = $1 and l.sealed_sha256 = $2
			union all select s.title, s.sealed_at, json_build_array(json_build_object('name', s.name, 'at', to_iso(s.signed_at), 'onPaper', false))
			from signed_answers s where s.firm_id = $1 and s.sealed_sha256 = $2 limit 1`,
			[firmId, sha256]
		)
	);
}
