import { DomainError } from '$lib/core/errors/domain-error';
import type { LetterSigning } from '$lib/core/items/kinds/letter';
import type { ItemKind, ItemSpec } from '$lib/core/items/item-kinds';
import { notAskedWords, type NotAsked } from '$lib/core/requests/who-may-be-asked';
import { may, ROLES } from '$lib/core/people/roles';
import {
	closeRanks,
	isOfFirm,
	isOutside,
	orderMistakes,
	personOf,
	wayOf,
	type Nameable,
	type Signer,
	type SigningPeople
} from '$lib/core/signing/signers';
import type { SigningWay } from '$lib/core/signing/ways';
import type { Firm } from '../firms/firm';
import type { Tx } from '../platform/db/database';
import { readCheckService } from '../platform/identity-checks/terms';
import { requireGlyphs } from '../platform/pdf/fonts';

/** Contacts `c` who sign for the client `$1` without being of it; once they are of it, they are so no more. */
export const SIGNS_FROM_OUTSIDE = `c.removed_at is null and c.id in (select contact_id from outside_signer where client_id = $1)
	and not exists (select from client_contact cc where cc.client_id = $1 and cc.contact_id = c.id)`;

/** Who signs for a client without being of it, by name. */
export const readOutsidePeople = (tx: Tx, clientId: string): Promise<Nameable[]> =>
	tx.rows<Nameable>(
		`select c.id, c.name, c.email::text, case when c.text_problem is null then c.phone end phone from contact c
		where ${SIGNS_FROM_OUTSIDE} order by lower(c.name), c.id`,
		[clientId]
	);

/** Whom the signers of a client's letters can be. @param clientId null where it is not known yet */
export async function readSigningPeople(tx: Tx, clientId: string | null): Promise<SigningPeople> {
	return {
		clientId,
		contacts: clientId
			? await tx.rows<Nameable>(
					`select c.id, c.name, c.email::text, case when c.text_problem is null then c.phone end phone from client_contact cc join contact c on c.id = cc.contact_id
					where cc.client_id = $1 and c.removed_at is null order by cc.rank`,
					[clientId]
				)
			: null,
		outside: clientId ? await readOutsidePeople(tx, clientId) : [],
		staff: await tx.rows<Nameable & { maySign: boolean }>(
			'select id, name, email::text, coalesce(role = any ($2), false) "maySign" from staff where firm_id = $1 and suspended_at is null order by lower(name), id',
			[tx.firmId, ROLES.filter((role) => may(role, 'countersign'))]
		),
		check: await readCheckService(tx)
	};
}

/** A signer of a letter that is sent: who it is for certain. */
export interface LetterSigner {
	key: string;
	rank: number;
	side: 'client' | 'firm';
	copy: boolean;
	contactId: string | null;
	staffId: string | null;
	name: string;
	/** how they come to it */
	by: SigningWay;
	/** they are not of the client */
	outside: boolean;
	/** what the message says to them when it is their turn */
	words?: string;
}

/** Who signs a letter when nothing else is said: whoever gets it, then anyone of the firm who may. */
export const bothSides = (to: { id: string; contactName: string }, firm: Pick<Firm, 'name'>): LetterSigner[] => [
	{ key: 'a', rank: 1, side: 'client', copy: false, contactId: to.id, staffId: null, name: to.contactName, by: 'portal', outside: false },
	{ key: 'b', rank: 2, side: 'firm', copy: false, contactId: null, staffId: null, name: firm.name, by: 'portal', outside: false }
];

/**
 * Who signs a letter, for certain, in the order in which they are asked.
 * @param to who gets the request: they are among the first
 * @throws DomainError invalid, naming what would go wrong
 */
export async function requireSigners(
	tx: Tx,
	firm: Pick<Firm, 'name'>,
	clientId: string,
	signing: Pick<LetterSigning, 'signers' | 'places'>,
	to: { id: string; contactName: string }
): Promise<LetterSigner[]> {
	const people = await readSigningPeople(tx, clientId);
	const signers = closeRanks(
		signing.signers.map((signer) => (signer.who.as === 'asked' ? { ...signer, who: { as: 'contact', contactId: to.id } } : signer))
	);
	const [mistake] = orderMistakes(signers, people, signing.places.length > 0 ? signing.places.map(({ of }) => of) : null);
	if (mistake) throw new DomainError('invalid', `The letter cannot go yet. ${mistake.words}`);
	const resolved = signers.map((signer): LetterSigner => {
		const person = personOf(signer, people);
		const name = person?.name ?? firm.name;
		requireGlyphs(name, 'serifItalic', `The name ${name}`);
		return {
			key: signer.key,
			rank: signer.rank,
			side: isOfFirm(signer) ? 'firm' : 'client',
			copy: signer.does === 'copy',
			contactId: isOfFirm(signer) ? null : person!.id,
			staffId: isOfFirm(signer) ? (person?.id ?? null) : null,
			name,
			by: wayOf(signer),
			outside: isOutside(signer, people),
			words: signer.words
		};
	});
	const asked = resolved.flatMap(({ contactId }) => contactId ?? []);
	const unreachable = await tx.rows<{ name: string; email: string | null; why: NotAsked }>(
		`select name, coalesce(email::text, '') email, coalesce(not_asked, '') why from contact where id = any ($1::uuid[]) and not_asked is not null order by name, id`,
		[asked]
	);
	if (unreachable[0]) throw new DomainError('invalid', `${notAskedWords(unreachable[0].why, unreachable[0])}; what you wrote here stays.`);
	const first = resolved.filter(({ rank, copy }) => rank === 1 && !copy);
	if (!first.some(({ contactId }) => contactId === to.id))
		throw new DomainError(
			'invalid',
			`${to.contactName} gets this request, and ${first.map(({ name }) => name).join(' or ')} signs first. Send it to whoever signs first, or change the order.`
		);
	return resolved;
}

/** The same signers, named for certain: what is kept with what was sent. */
export const named = (signers: readonly LetterSigner[]): Signer[] =>
	signers.map(({ key, rank, copy, contactId, staffId, by, words }) => ({
		key,
		rank,
		by,
		words,
		does: copy ? 'copy' : 'signs',
		who: contactId ? { as: 'contact', contactId } : { as: 'firm', staffId }
	}));

/** The ids of files that a line has signed. */
export const documentsOf = (line: { kind: ItemKind; spec: object }): string[] =>
	line.kind === 'letter' ? ((line.spec as ItemSpec<'letter'>).signing?.documents ?? []).map(({ id }) => id) : [];
