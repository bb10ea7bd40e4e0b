import { createHash } from 'node:crypto';
import { DomainError } from '$lib/core/errors/domain-error';
import { checkTrail, trailFile, type KeptEntry, type Trail } from '$lib/core/signing/trail';
import { saying } from '$lib/words/sayings';
import { requireStaff, type Actor } from '../actor';
import type { Tx } from '../platform/db/database';

/** SHA-256 of a text, as chains are made of it. */
export const textDigest = (text: string): string => createHash('sha256').update(text, 'utf8').digest('hex');

export interface LetterTrail {
	title: string;
	clientId: string;
	itemId: string;
	client: string;
	/** SHA-256 of the letter as it was shown, with which the chain begins */
	document: string;
	sealed: {
		at: string;
		sha256: string;
		/** the entry at which it was sealed; null if it was sealed before there were trails */ end: string | null;
		stampedAt: string | null;
	} | null;
	entries: KeptEntry[];
	/** the entry at which the chain is broken, from 1; null as it should be */
	brokenAt: number | null;
}

/** Everything that happened to a letter, as a chain, checked as it is read. @throws DomainError not_found */
export async function readLetterTrail(tx: Tx, actor: Actor, itemId: string): Promise<LetterTrail> {
	requireStaff(actor, 'look');
	const letter = await tx.first<{
		id: string;
		title: string;
		item_id: string;
		client_id: string;
		client: string;
		document: string;
		sealed_at: string | null;
		sealed: string | null;
		trail_end: string | null;
		stamped_at: string | null;
	}>(
		`select l.id, i.title, l.item_id, l.client_id, c.name client, encode(l.sha256, 'hex') document, l.sealed_at, encode(l.sealed_sha256, 'hex') sealed, l.trail_end, l.stamped_at
		from letter_signer s join letter l on l.id = s.letter_id join item i on i.id = l.item_id join client c on c.id = l.client_id where s.item_id = $1`,
		[itemId]
	);
	if (!letter) throw new DomainError('not_found', saying('wrong.letter.unknown'));
	const entries = await tx.rows<KeptEntry>('select said, hash from letter_trail where letter_id = $1 order by number', [letter.id]);
	const finding = checkTrail(letter.document, entries, textDigest);
	return {
		title: letter.title,
		clientId: letter.client_id,
		itemId: letter.item_id,
		client: letter.client,
		document: letter.document,
		sealed: letter.sealed_at ? { at: letter.sealed_at, sha256: letter.sealed!, end: letter.trail_end, stampedAt: letter.stamped_at } : null,
		entries,
		brokenAt: finding.ok ? null : finding.at
	};
}

/** The trail of a letter as a file that anybody can check. @throws DomainError not_found */
export async function exportLetterTrail(tx: Tx, actor: Actor, itemId: string): Promise<{ name: string; trail: Trail }> {
	const { title, document, sealed, entries } = await readLetterTrail(tx, actor, itemId);
	return { name: `${title}, trail`, trail: trailFile({ title, document, sealed: sealed?.sha256 ?? null, entries }) };
}
