import { likenessInWords } from '$lib/core/clients/likeness';
import { phoneDigits } from '$lib/core/people/phone';
import { requireStaff, type Actor } from '../actor';
import type { Tx } from '../platform/db/database';

export interface FoundClient {
	id: string;
	name: string;
	state: 'active' | 'locked' | 'ended';
	/** what matched, if it was not the name */
	by: { what: 'contact' | 'email' | 'phone' | 'tax_number'; text: string } | null;
}

const REASONS = [null, null, 'contact', 'email', 'phone', 'tax_number'] as const;

const SEARCH_MAX = 100;

/** What is typed as a pattern of like; signs of patterns are taken as they are. */
export function searchPattern(typed: string): string {
	const wanted = typed.trim().toLowerCase().slice(0, SEARCH_MAX);
	return `%${wanted.replace(/[\\%_]/g, '\\$&')}%`;
}

/** What is typed, as the search takes it: its words, and the digits of a phone number. */
export function searchWords(typed: string): [words: string, digits: string] {
	const wanted = typed.trim().slice(0, SEARCH_MAX);
	return [wanted, phoneDigits(wanted)];
}

/**
 * Clients by parts of their name, a contact's name or address, the tax number, each word in whatever field, in any order and without
 * accents, or by a phone number; names that begin so come first. If there are none, by names that are written nearly so.
 */
export async function findClients(tx: Tx, actor: Actor, typed: string, most: number): Promise<FoundClient[]> {
	requireStaff(actor, 'look');
	const [wanted, digits] = searchWords(typed);
	if (wanted === '') return readRecent(tx, actor, most);
	const rows = await tx.rows<{ id: string; name: string; state: FoundClient['state']; reason: number; found: string }>(
		`select c.id, c.name, c.state, s.reason, s.found from search_clients($1, $2, $3) s join client c on c.id = s.client_id
		order by c.state = 'ended', s.reason, not starts_with(c.plain_name, plain($1)), lower(c.name), c.id limit $3`,
		[wanted, digits, most]
	);
	return rows.map(({ id, name, state, reason, found }) => {
		const what = REASONS[reason];
		return { id, name, state, by: what ? { what, text: found } : null };
	});
}

export interface LikelyClient {
	id: string;
	name: string;
	state: FoundClient['state'];
	/** "has the same name", "has a similar name" */
	why: string;
}

/** Clients that may be the one whose name is being typed, so that nobody is added twice. */
export async function findLikelySame(tx: Tx, actor: Actor, name: string): Promise<LikelyClient[]> {
	requireStaff(actor, 'look');
	const wanted = name.trim().toLowerCase().slice(0, SEARCH_MAX);
	if (wanted.length < 3) return [];
	const rows = await tx.rows<{ id: string; name: string; state: FoundClient['state']; likeness: number }>(
		'select c.id, c.name, c.state, s.likeness from similar_clients($1, 5) s join client c on c.id = s.client_id order by s.likeness desc, c.id',
		[wanted]
	);
	return rows.flatMap(({ likeness, ...client }) => {
		const why = likenessInWords(name, client.name, likeness);
		return why ? [{ ...client, why }] : [];
	});
}

/** The clients this person opened last. */
function readRecent(tx: Tx, actor: Actor, most: number): Promise<FoundClient[]> {
	return tx.rows(
		`select c.id, c.name, c.state, null as by from client_look l join client c on c.id = l.client_id where l.staff_id = $1 order by l.at desc limit $2`,
		[actor.id, most]
	);
}

/** Notes that somebody opened a client, for finding them again. */
export async function noteClientOpened(tx: Tx, actor: Actor, clientId: string): Promise<void> {
	requireStaff(actor, 'look');
	await tx.rows(
		`insert into client_look (firm_id, staff_id, client_id, at) values ($1, $2, $3, $4)
		on conflict (staff_id, client_id) do update set at = excluded.at where client_look.at < excluded.at - interval '1 minute'`,
		[tx.firmId, actor.id, clientId, actor.now]
	);
}
