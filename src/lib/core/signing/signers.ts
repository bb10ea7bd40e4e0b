import { z } from 'zod';
import { AUTOMATIC_FIELDS, mergeFieldsInText } from '../letters/merge-fields';
import type { CheckService } from './identity-check';
import { SIGNING_WAYS, wayWords, type SigningWay } from './ways';

/**
 * Who signs, or gets a copy: filled in when it is sent. `asked` is whoever gets the request, `first` and `second` are by their rank at the
 * client, `contact` is one of its people or somebody outside who signs for it, `outside` is such a one who is not known yet; of the firm,
 * nobody named is anyone who may.
 */
const whoSchema = z.discriminatedUnion('as', [
	z.object({ as: z.literal('asked') }),
	z.object({ as: z.literal('first') }),
	z.object({ as: z.literal('second') }),
	z.object({ as: z.literal('contact'), contactId: z.uuid('Choose who it is.') }),
	z.object({ as: z.literal('outside') }),
	z.object({ as: z.literal('firm'), staffId: z.uuid().nullable() })
]);
export type Who = z.output<typeof whoSchema>;

/** Ranks count from 1; whoever has the same one is asked at the same time. Somebody who gets a copy has none that counts. */
export const signerSchema = z.object({
	key: z.string().min(1).max(20),
	who: whoSchema,
	does: z.enum(['signs', 'copy']),
	rank: z.number().int().min(1).max(12),
	/** how somebody of the client comes to it; signed in to their portal if nothing is said */
	by: z.enum(SIGNING_WAYS).optional(),
	/** what the message says to them when it is their turn, in words of its own; else it names those who have signed */
	words: z
		.string()
		.max(2000, 'At most 2,000 characters.')
		.refine(
			(words) => mergeFieldsInText(words).every((name) => (AUTOMATIC_FIELDS as readonly string[]).includes(name)),
			'In the words for one of those who sign only names, the firm and today’s date can be put in.'
		)
		.optional()
});
export type Signer = z.output<typeof signerSchema>;
/** As many signatures as fit on the page that is added for them. */
export const SIGNERS_MOST = 8;

/** As most letters are signed: the client first, then anyone of the firm who may. */
export const usualSigners = (): Signer[] => [
	{ key: 'a', who: { as: 'asked' }, does: 'signs', rank: 1 },
	{ key: 'b', who: { as: 'firm', staffId: null }, does: 'signs', rank: 2 }
];

/** A key that no other signer has. */
export function newSignerKey(signers: readonly Signer[]): string {
	for (let n = 0; ; n++) {
		const key = n < 26 ? String.fromCharCode(97 + n) : `s${n}`;
		if (!signers.some((signer) => signer.key === key)) return key;
	}
}

/** How a signer comes to the letter: somebody of the firm, or who gets a copy, by no link. */
export const wayOf = (signer: Pick<Signer, 'who' | 'does' | 'by'>): SigningWay =>
	isOfFirm(signer) || signer.does === 'copy' ? 'portal' : (signer.by ?? (signer.who.as === 'outside' ? 'link_mail' : 'portal'));

export const isOfFirm = ({ who }: Pick<Signer, 'who'>): boolean => who.as === 'firm';

/** Ranks without gaps, in the order they had: 1, 1, 4 becomes 1, 1, 2. Whoever gets a copy comes last and keeps no rank of their own. */
export function closeRanks(signers: readonly Signer[]): Signer[] {
	const ranks = [...new Set(signers.filter(({ does }) => does === 'signs').map(({ rank }) => rank))].sort((a, b) => a - b);
	const closed = signers.map((signer) => ({ ...signer, rank: signer.does === 'copy' ? ranks.length + 1 : ranks.indexOf(signer.rank) + 1 }));
	return closed
		.map((signer, at) => ({ signer, at }))
		.sort((a, b) => a.signer.rank - b.signer.rank || a.at - b.at)
		.map(({ signer }) => signer);
}

/** Somebody who may be named as a signer. */
export interface Nameable {
	id: string;
	name: string;
	email: string | null;
	/** E.164; left out where no code goes to it */
	phone?: string | null;
}
/** Whom the signers can be: the client's people in their rank, where the client is known, and the firm's. */
export interface SigningPeople {
	/** null where a letter is written for whoever it will be */
	clientId: string | null;
	/** null where a letter is written for whoever it will be */
	contacts: readonly Nameable[] | null;
	/** who signs for the client without being of it */
	outside: readonly Nameable[];
	/** `maySign`: they may countersign letters */
	staff: readonly (Nameable & { maySign: boolean })[];
	/** the service that checks identities; null where none is set up */
	check: CheckService | null;
}

/** Who a signer is. @returns null where it is not known yet, or nobody */
export function personOf({ who }: Pick<Signer, 'who'>, people: SigningPeople): Nameable | null {
	switch (who.as) {
		case 'asked':
		case 'outside':
			return null;
		case 'first':
			return people.contacts?.[0] ?? null;
		case 'second':
			return people.contacts?.[1] ?? null;
		case 'contact':
			return [...(people.contacts ?? []), ...people.outside].find(({ id }) => id === who.contactId) ?? null;
		case 'firm':
			return people.staff.find(({ id }) => id === who.staffId) ?? null;
	}
}

/** Whether a signer is neither of the client nor of the firm. */
export const isOutside = ({ who }: Pick<Signer, 'who'>, people: Pick<SigningPeople, 'outside'>): boolean =>
	who.as === 'outside' || (who.as === 'contact' && people.outside.some(({ id }) => id === who.contactId));

/**
 * How somebody of the client comes to a letter.
 * @param askedId who gets the request
 * @returns null for whoever does not sign it
 */
export function wayOfContact(signers: readonly Signer[], contactId: string, askedId: string, people: SigningPeople): SigningWay | null {
	const own = signers.find((signer) =>
		signer.does === 'signs' && signer.who.as === 'asked' ? contactId === askedId : personOf(signer, people)?.id === contactId
	);
	return own && own.does === 'signs' && !isOfFirm(own) ? wayOf(own) : null;
}

/** A signer in words, as they stand in a sentence. */
export function signerWords(signer: Pick<Signer, 'who'>, people: SigningPeople): string {
	const known = personOf(signer, people);
	if (known) return known.name;
	switch (signer.who.as) {
		case 'asked':
			return 'whoever gets this request';
		case 'first':
			return 'the first of the client';
		case 'second':
			return 'the second of the client';
		case 'contact':
			return 'somebody who is not there any more';
		case 'outside':
			return 'somebody outside the client';
		case 'firm':
			return signer.who.staffId ? 'somebody who is not there any more' : 'anyone of us who may';
	}
}

const joined = new Intl.ListFormat('en');

/** The order in sentences: a step each for those who sign, who of them does so without signing in, and what happens at the end. */
export function orderInSentences(signers: readonly Signer[], people: SigningPeople): { steps: string[]; ways: string[]; end: string } {
	const closed = closeRanks(signers);
	const signing = closed.filter(({ does }) => does === 'signs');
	const ranks = [...new Set(signing.map(({ rank }) => rank))];
	const steps = ranks.map((rank, at) => {
		const together = signing.filter((signer) => signer.rank === rank);
		const names = joined.format(together.map((signer) => signerWords(signer, people)));
		const verb = together.length > 1 ? 'sign, in whichever order they like' : together.every(isOfFirm) ? 'signs for us' : 'signs';
		const words = `${at > 0 ? 'then ' : ''}${names} ${verb}`;
		return words[0].toUpperCase() + words.slice(1);
	});
	const copies = closed.filter(({ does }) => does === 'copy').map((signer) => signerWords(signer, people));
	const when = signing.length === 1 ? 'When it is signed' : signing.length === 2 ? 'When both have signed' : 'When all have signed';
	const gets = copies.length > 0 ? `, and ${joined.format(copies)} ${copies.length > 1 ? 'get' : 'gets'} a copy` : '';
	const ways = signing.flatMap((signer) => {
		const way = wayOf(signer);
		const words = `${signerWords(signer, people)}${isOutside(signer, people) && personOf(signer, people) ? ', who is not of the client,' : ''}`;
		return way === 'portal'
			? []
			: [
					`${words[0].toUpperCase()}${words.slice(1)} signs ${wayWords(way)}${way === 'link' ? ': whoever has the link can sign' : way === 'link_check' && people.check ? ` by ${people.check.name}, which costs ${people.check.costs}` : ''}.`
				];
	});
	return { steps, ways, end: signing.length === 0 ? '' : `${when}, it is sealed and everybody who signed has it${gets}.` };
}

/** What is wrong with an order, and how it is put right where that is one press. */
export interface OrderMistake {
	words: string;
	mend?: { words: string; signers: Signer[] };
}

/**
 * What would go wrong if it were sent so.
 * @param placed keys of the signers that each place on the pages belongs to; null where there are no places
 */
export function orderMistakes(signers: readonly Signer[], people: SigningPeople, placed: readonly string[] | null): OrderMistake[] {
	const mistakes: OrderMistake[] = [];
	const signing = signers.filter(({ does }) => does === 'signs');
	const ofClient = signing.filter((signer) => !isOfFirm(signer));
	if (ofClient.length === 0) mistakes.push({ words: 'Nobody of the client signs. Add who does.' });
	const lastOfClient = Math.max(0, ...ofClient.map(({ rank }) => rank));
	const early = signing.filter((signer) => isOfFirm(signer) && signer.rank <= lastOfClient);
	if (early.length > 0 && ofClient.length > 0)
		mistakes.push({
			words: 'We would sign before the client has. What they then do not sign would carry our name already.',
			mend: {
				words: 'Put us last',
				signers: closeRanks(signers.map((signer) => (early.includes(signer) ? { ...signer, rank: lastOfClient + 1 } : signer)))
			}
		});
	for (const signer of signers) {
		if (signer.who.as === 'second' && people.contacts && !people.contacts[1])
			mistakes.push({ words: 'The client has no second person. Add them to the client, or take them out here.' });
		if (signer.who.as === 'contact' && people.contacts && !personOf(signer, people))
			mistakes.push({ words: 'Somebody who is named here does not belong to the client any more. Choose again.' });
		if (signer.who.as === 'outside' && people.contacts) mistakes.push({ words: 'Somebody outside the client has no name yet. Say who it is.' });
		if (signer.does === 'signs' && isOutside(signer, people) && wayOf(signer) === 'portal')
			mistakes.push({
				words: `${signerWords(signer, people)} is not of the client and has no page here. They can sign by a link of their own.`,
				mend: {
					words: 'By a link and a code by e-mail',
					signers: signers.map((one) => (one === signer ? { ...one, by: 'link_mail' as const } : one))
				}
			});
		if (signer.who.as === 'firm' && signer.who.staffId && !personOf(signer, people))
			mistakes.push({ words: 'Somebody of ours who is named here is not there any more. Choose again.' });
	}
	for (const signer of signing) {
		const one = signer.who.as === 'firm' ? people.staff.find(({ id }) => signer.who.as === 'firm' && id === signer.who.staffId) : undefined;
		if (one && !one.maySign) mistakes.push({ words: `${one.name} may not sign for us. Choose somebody who may, or have them get a copy.` });
	}
	for (const signer of signing) {
		const person = personOf(signer, people);
		if (person && wayOf(signer) === 'link_text' && !person.phone)
			mistakes.push({
				words: `${person.name} has no phone number that a code could go to. Add it to the client, or choose another way for them.`,
				mend: {
					words: 'A code by e-mail instead',
					signers: signers.map((one) => (one === signer ? { ...one, by: 'link_mail' as const } : one))
				}
			});
	}
	const checked = signing.find((signer) => wayOf(signer) === 'link_check');
	if (checked && !people.check)
		mistakes.push({
			words: 'No service that checks identities is set up here. Choose another way to come to it.',
			mend: {
				words: 'A code by e-mail alone',
				signers: signers.map((one) => (one.by === 'link_check' ? { ...one, by: 'link_mail' as const } : one))
			}
		});
	const known = signers.flatMap((signer) => {
		const person = personOf(signer, people);
		return person ? [{ signer, person }] : [];
	});
	for (const [at, one] of known.entries()) {
		const again = known.slice(at + 1).find(({ person }) => person.id === one.person.id);
		if (again)
			mistakes.push({
				words: `${one.person.name} is named twice.`,
				mend: { words: 'Take the second one out', signers: closeRanks(signers.filter((signer) => signer !== again.signer)) }
			});
		const shares = known
			.slice(at + 1)
			.find(({ person }) => person.id !== one.person.id && person.email && person.email.toLowerCase() === one.person.email?.toLowerCase());
		if (shares)
			mistakes.push({
				words: `${one.person.name} and ${shares.person.name} share the address ${one.person.email}. Each needs their own: nobody could say later who of the two signed.`
			});
	}
	if (placed) {
		for (const signer of signing)
			if (!placed.includes(signer.key)) mistakes.push({ words: `There is no place on the pages for ${signerWords(signer, people)}.` });
		if (placed.some((key) => !signing.some((signer) => signer.key === key)))
			mistakes.push({ words: 'A place on the pages belongs to nobody who signs. Give it to somebody, or take it away.' });
	}
	return mistakes;
}
