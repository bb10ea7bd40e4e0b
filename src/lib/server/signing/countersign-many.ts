import { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import { fieldsOf, placesSchema, type Place } from '$lib/core/signing/places';
import { inWords } from '$lib/words/sayings';
import { requireStaff, type Actor } from '../actor';
import { requirePassword } from '../people/change-password';
import type { SignInPlace } from '../people/sign-in';
import type { Tx } from '../platform/db/database';
import { countersignLetter } from './countersign-letter';

/** A letter that waits for the firm. */
export interface LetterToCountersign {
	itemId: string;
	title: string;
	clientName: string;
	signedBy: string;
	/** when the last of the client signed; an instant */
	since: string;
	pages: number;
	/** of what was shown to those who signed, in hexadecimal */
	sha256: string;
	/** why it cannot be signed together with others; null where it can */
	apart: string | null;
}

/** Most letters that are signed in one go. */
export const TOGETHER_MOST = 60;

/** The letters that wait for the firm's signature, longest first. */
export async function readToCountersign(tx: Tx, actor: Actor): Promise<LetterToCountersign[]> {
	requireStaff(actor, 'countersign');
	const rows = await tx.rows<Omit<LetterToCountersign, 'apart'> & { places: Place[]; own: string; named: string }>(
		`select i.id "itemId", i.title, c.name "clientName", i.state_at since, l.pages, encode(l.sha256, 'hex') sha256, l.places,
			coalesce((select string_agg(o.name, ', ' order by o.position) from letter_signer o where o.letter_id = l.id and o.side = 'client' and o.state = 'signed'), '') "signedBy",
			coalesce(f.key, '') own, case when f.staff_id is distinct from $2 and f.staff_id is not null then f.name else '' end named
		from letter l join letter_signer s on s.letter_id = l.id join item i on i.id = s.item_id join client c on c.id = l.client_id
			left join lateral (select o.key, o.staff_id, o.name from letter_signer o where o.letter_id = l.id and o.side = 'firm' and not o.copy and o.state in ('waits', 'asked')
				order by o.rank, o.staff_id is distinct from $2, o.position limit 1) f on true
		where l.firm_id = $1 and l.state = 'signed' and i.state = 'handed_in' order by i.state_at, i.id limit $3`,
		[tx.firmId, actor.id, TOGETHER_MOST]
	);
	return rows.map(({ places, own, named, ...row }) => ({
		...row,
		apart: named
			? `${named} is named to sign it.`
			: fieldsOf(placesSchema.parse(places), own).length > 0
				? 'It has something for us to fill in: sign it by itself.'
				: null
	}));
}

export const countersignManySchema = z.object({
	letters: z
		.array(z.object({ itemId: z.uuid(), sha256: z.string().regex(/^[0-9a-f]{64}$/) }))
		.min(1, 'Choose at least one letter.')
		.max(TOGETHER_MOST),
	password: z.string().max(400)
});

/** What became of one of several letters. */
export interface CountersignResult {
	itemId: string;
	/** why not; null where it is signed */
	why: string | null;
}

/**
 * Countersigns several letters, each by itself: what stands in the way of one is told, and holds up no other.
 * @throws DomainError invalid, if it is not their password
 */
export async function countersignMany(
	place: SignInPlace,
	firmId: string,
	actor: Actor,
	input: z.output<typeof countersignManySchema>
): Promise<CountersignResult[]> {
	requireStaff(actor, 'countersign');
	const { letters, password } = input;
	const { db } = place;
	await db.inFirm(firmId, (tx) => requirePassword(place, tx, actor, { kind: 'staff', id: actor.id }, password));
	const results: CountersignResult[] = [];
	for (const { itemId, sha256 } of letters) {
		try {
			await db.inFirm(firmId, (tx) => countersignLetter(tx, actor, { itemId, sha256, signature: { method: 'typed', name: actor.name } }));
			results.push({ itemId, why: null });
		} catch (error) {
			if (!(error instanceof DomainError)) throw error;
			results.push({ itemId, why: inWords('en', error.what) });
		}
	}
	return results;
}
