import { requireStaff, type Actor } from '../actor';
import type { Tx } from '../platform/db/database';

/** What a scan of a signed letter comes as. */
export const SCAN_TYPES: readonly string[] = ['application/pdf', 'image/jpeg', 'image/png'];

/** A paper that could be what somebody signed by hand. */
export interface PossibleScan {
	id: string;
	name: string;
	at: string;
	/** the signer who added it to the letter itself */
	ofSigner: string | null;
}

/** Papers of a client that could be pages signed by hand: those added to the letter, then the newest others. */
export async function readPossibleScans(tx: Tx, actor: Actor, input: { clientId: string; letterId: string }): Promise<PossibleScan[]> {
	requireStaff(actor, 'look');
	return tx.rows<PossibleScan>(
		`select p.id, p.name, p.uploaded_at at, (select s.key from letter_signer s where s.letter_id = $2 and s.item_id = p.item_id) as "ofSigner" from paper p left join item i on i.id = p.item_id
		where p.client_id = $1 and p.removed_at is null
			-- what a client has not handed in yet is theirs
			and (p.item_id is null or p.unasked or i.state not in ('asked', 'seen', 'started') or exists (select from paper_signer s where s.item_id = i.id))
			and p.content_type = any ($3)
		order by "ofSigner" nulls last, p.uploaded_at desc, p.id limit 30`,
		[input.clientId, input.letterId, SCAN_TYPES]
	);
}
