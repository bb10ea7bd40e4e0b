import { json } from '@sveltejs/kit';
import { actForClient, findDestinations, type Destined } from '$lib/core/desk/find-or-do';
import { phoneInWords } from '$lib/core/people/phone';
import { ITEM_STATE_SHORT } from '$lib/core/requests/item-states';
import { findClients, type FoundClient } from '$lib/server/clients/find-clients';
import { findThings, type FoundThing } from '$lib/server/clients/find-things';
import { deskRequest } from '$lib/web/desk-request';
import type { Firm } from '$lib/server/firms/firm';

const CLIENTS = 6;
const THINGS = 5;
const DESTINATIONS = 4;

interface Option {
	group: 'clients' | 'things' | 'places';
	path: string;
	words: string;
	aside: string | null;
	/** a file, not a page */
	download?: true;
}

const place = ({ name, path, download }: Destined): Option => ({ group: 'places', path, words: name, aside: null, download });

function client({ id, name, state, by }: FoundClient, firm: Firm): Option {
	const told = by && (by.what === 'phone' ? phoneInWords(by.text, firm.country) : by.what === 'tax_number' ? `tax number ${by.text}` : by.text);
	return {
		group: 'clients',
		path: `/desk/clients/${id}`,
		words: name,
		aside: [told, state === 'active' ? null : state].filter((part) => part).join(', ') || null
	};
}

function thing({ kind, id, clientId, clientName, title, state }: FoundThing): Option {
	return {
		group: 'things',
		path: { request: `/desk/clients/${clientId}`, paper: `/desk/clients/${clientId}/papers/${id}`, item: `/desk/clients/${clientId}/item/${id}` }[
			kind
		],
		words: title,
		aside: [clientName, kind === 'paper' ? 'a paper' : kind === 'request' ? 'a request' : state && ITEM_STATE_SHORT[state]].join(', ')
	};
}

/** What can be opened or done while somebody types; without a word the clients they opened last. */
export const GET = async (event) => {
	const desk = await deskRequest(event);
	const typed = event.url.searchParams.get('q') ?? '';
	const { role } = desk.actor;
	return json(
		await desk.inFirm(async (tx, firm) => {
			const toDo = actForClient(typed, role);
			const [first] = toDo ? await findClients(tx, desk.actor, toDo.client, 1) : [];
			return [
				...(toDo && first?.state === 'active' ? [place(toDo.act(first))] : []),
				...(await findClients(tx, desk.actor, typed, CLIENTS)).map((found) => client(found, firm)),
				...(await findThings(tx, desk.actor, typed, THINGS)).map(thing),
				...findDestinations(typed, role, DESTINATIONS).map(place)
			];
		})
	);
};
