import { MAY, type Act } from '$lib/core/people/roles';
import type { Actor } from '../actor';
import { readActs } from '../clients/client-rights';
import type { Firm } from '../firms/firm';
import type { Tx } from '../platform/db/database';
import type { LeafReader } from './section';
import { SECTIONS, type Leaf } from './sections';

const LEAVES = new Map(Object.values(SECTIONS).map(({ leaf }) => [leaf.key, leaf as LeafReader<Leaf>]));

/** What a row of Rounds can be about, as it stands in its address. */
export const LEAF_KEYS = [...LEAVES.keys()];

/**
 * What lies beside the list when a row of Rounds is opened, and what whoever reads it may do about it: by their role, and by whether they
 * may only see its client.
 * @param key the first part of the row's key
 * @throws DomainError not_found
 */
export async function readLeaf(tx: Tx, actor: Actor, firm: Firm, key: string, id: string): Promise<{ leaf: Leaf; acts: readonly Act[] }> {
	const reader = LEAVES.get(key)!;
	const leaf = await reader.read(tx, actor, firm, id);
	if (leaf.kind === 'item') return { leaf, acts: leaf.acts };
	const clientId = reader.clientOf(leaf);
	return { leaf, acts: clientId ? await readActs(tx, actor, clientId) : actor.role ? MAY[actor.role] : [] };
}
