import { plainLetters } from '../people/plain-letters';
import { may, type Act, type Role } from '../people/roles';

/** A page of the desk, or something that begins on one. */
interface Destination {
	name: string;
	path: string;
	/** other words people look for it by */
	also: string;
	/** what it takes to use it */
	act: Act;
	/** a file, not a page */
	download?: true;
}

/** Where a person of the firm can go, and what they can begin, wherever they are. */
const DESTINATIONS: readonly Destination[] = [
	{ name: 'Add a client', path: '/desk/clients/new', also: 'new create', act: 'add_client' },
	{ name: 'Import a list of clients', path: '/desk/clients/import', also: 'csv excel spreadsheet vcard upload', act: 'import_clients' },
	{
		name: 'Payment authorisations',
		path: '/desk/firm/authorisations',
		also: 'bank accounts direct debit collect fees',
		act: 'hand_on_accounts'
	},
	{ name: 'Export clients as CSV', path: '/desk/clients/export', also: 'download spreadsheet', act: 'import_clients', download: true },
	{ name: 'Invite many clients', path: '/desk/clients/invite', also: 'invitations portal access', act: 'invite' },
	{ name: 'Ask many clients for something', path: '/desk/clients/ask', also: 'request list send bulk', act: 'send_request' },
	{ name: 'Rounds', path: '/desk/rounds', also: 'today inbox to do home', act: 'look' },
	{ name: 'Clients', path: '/desk/clients', also: 'list customers', act: 'look' },
	{ name: 'Former clients', path: '/desk/clients?ended=1', also: 'ended left archive', act: 'look' },
	{ name: 'Everything asked for', path: '/desk/clients/asked', also: 'open late items lines due dates requests', act: 'look' },
	{ name: 'People of all clients', path: '/desk/clients/people', also: 'contacts addresses phones', act: 'look' },
	{ name: 'Arrivals', path: '/desk/arrivals', also: 'files papers filed inbox', act: 'look' },
	{ name: 'Almanac', path: '/desk/almanac', also: 'calendar reminders chases forecast', act: 'look' },
	{ name: 'Library', path: '/desk/library', also: 'texts messages templates', act: 'look' },
	{ name: 'Request lists', path: '/desk/library/lists', also: 'library templates ready-made', act: 'look' },
	{ name: 'Questionnaires', path: '/desk/library/questionnaires', also: 'library questions ready-made', act: 'look' },
	{ name: 'Forms that clients begin', path: '/desk/library/forms', also: 'library templates', act: 'look' },
	{ name: 'Facts about clients', path: '/desk/library/facts', also: 'library fields definitions what we know', act: 'look' },
	{ name: 'Postroom', path: '/desk/postroom', also: 'sent mail messages e-mail texts', act: 'look' },
	{ name: 'Firm', path: '/desk/firm', also: 'settings address calendar holidays hours services', act: 'look' },
	{ name: 'People, roles and security', path: '/desk/firm/people', also: 'staff team users permissions groups', act: 'look' },
	{ name: 'Brands', path: '/desk/firm/brands', also: 'logo colour welcome', act: 'look' },
	{ name: 'You', path: '/desk/you', also: 'password second step passkey sign-in sessions devices', act: 'look' },
	{ name: 'Practice workspace', path: '/desk/practice', also: 'try train demo', act: 'practise' }
];

/** What can be begun for one client, by the verb that is typed before the client's name. */
const FOR_A_CLIENT: readonly { verbs: string; words: (client: string) => string; path: (id: string) => string; act: Act }[] = [
	{ verbs: 'ask request', words: (client) => `Ask ${client} for something`, path: (id) => `/desk/clients/${id}/ask`, act: 'send_request' },
	{
		verbs: 'repeat standing',
		words: (client) => `Set up a standing request for ${client}`,
		path: (id) => `/desk/clients/${id}/standing`,
		act: 'send_request'
	},
	{
		verbs: 'transactions bank',
		words: (client) => `Questions about transactions of ${client}`,
		path: (id) => `/desk/clients/${id}/transactions`,
		act: 'look'
	},
	{ verbs: 'invite people', words: (client) => `People of ${client}`, path: (id) => `/desk/clients/${id}#people`, act: 'look' },
	{ verbs: 'note talk', words: (client) => `Notes about ${client}`, path: (id) => `/desk/clients/${id}#talk`, act: 'look' },
	{ verbs: 'history', words: (client) => `History of ${client}`, path: (id) => `/desk/clients/${id}/history`, act: 'look' },
	{ verbs: 'merge', words: (client) => `Merge ${client} with another client`, path: (id) => `/desk/clients/${id}/merge`, act: 'close_client' }
];

export interface Destined {
	name: string;
	path: string;
	/** a file, not a page */
	download?: true;
}

/** Small letters without accents, in words. */
const wordsOf = (typed: string) =>
	plainLetters(typed)
		.split(/[^\p{L}\p{N}]+/u)
		.filter((word) => word !== '');

const LETTERS_MIN = 2;

/** Pages and acts whose words begin with each word typed; those named so come before those that are only looked for by it. */
export function findDestinations(typed: string, role: Role | null, most: number): Destined[] {
	const wanted = wordsOf(typed.slice(0, 100));
	if (wanted.join('').length < LETTERS_MIN) return [];
	const holds = (words: string[]) => wanted.every((word) => words.some((one) => one.startsWith(word)));
	const fit = DESTINATIONS.filter(({ act, name, also }) => may(role, act) && holds(wordsOf(`${name} ${also}`)));
	const named = (one: Destination) => Number(holds(wordsOf(one.name)));
	return fit
		.toSorted((a, b) => named(b) - named(a))
		.slice(0, most)
		.map(({ name, path, download }) => ({ name, path, download }));
}

/**
 * What is to be done for a client, if the first word says so: "ask gull" is asking, for whoever "gull" finds.
 * @returns null if it does not, or the role does none of it
 */
export function actForClient(typed: string, role: Role | null): { client: string; act: (client: { id: string; name: string }) => Destined } | null {
	const [, verb, client] = /^\s*(\S{3,})\s+(\S.*)$/.exec(typed.slice(0, 100)) ?? [];
	if (!verb) return null;
	const one = FOR_A_CLIENT.find(({ verbs, act }) => may(role, act) && verbs.split(' ').some((known) => known.startsWith(verb.toLowerCase())));
	return one ? { client, act: ({ id, name }) => ({ name: one.words(name), path: one.path(id) }) } : null;
}
