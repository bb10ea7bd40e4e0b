import type { Signer, SigningPeople, Who } from '$lib/core/signing/signers';

/** Who can be chosen as a signer, as a menu has it. */
export function choicesOf(people: SigningPeople): { value: string; words: string; who: Who }[] {
	return [
		{ value: 'asked', words: 'whoever gets this request', who: { as: 'asked' } },
		{ value: 'first', words: people.contacts?.[0] ? `${people.contacts[0].name}, first in rank` : 'the first of the client', who: { as: 'first' } },
		{
			value: 'second',
			words: people.contacts?.[1] ? `${people.contacts[1].name}, second in rank` : 'the second of the client',
			who: { as: 'second' }
		},
		...(people.contacts ?? []).slice(2).map(({ id, name }) => ({ value: id, words: name, who: { as: 'contact', contactId: id } as const })),
		...people.outside.map(({ id, name }) => ({ value: id, words: `${name}, not of the client`, who: { as: 'contact', contactId: id } as const })),
		{ value: 'outside', words: 'somebody outside the client …', who: { as: 'outside' } },
		{ value: 'firm', words: 'anyone of us who may', who: { as: 'firm', staffId: null } },
		...people.staff.map(({ id, name }) => ({ value: id, words: `${name}, of us`, who: { as: 'firm', staffId: id } as const }))
	];
}

/** The value of a signer in that menu. */
export function choiceOf({ who }: Pick<Signer, 'who'>): string {
	switch (who.as) {
		case 'contact':
			return who.contactId;
		case 'firm':
			return who.staffId ?? 'firm';
		default:
			return who.as;
	}
}
