/** Why somebody cannot be asked for anything; the column `contact.not_asked` has it. */
export const NOT_ASKED = ['suspended', 'no_address', 'bounced'] as const;
export type NotAsked = (typeof NOT_ASKED)[number];

/** Why, and what to do, in one or two sentences. @param person with the address that mail came back from */
export function notAskedWords(why: NotAsked, person: { name: string; email: string | null }): string {
	switch (why) {
		case 'suspended':
			return `${person.name} is suspended and cannot answer. Let them in again first, or ask somebody else`;
		case 'no_address':
			return `${person.name} has no e-mail address yet. Add one first, or ask somebody else`;
		case 'bounced':
			return `Mail to ${person.email} came back. Put the address right first, or ask somebody else`;
	}
}
