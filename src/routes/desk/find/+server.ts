import { json } from '@sveltejs/kit';
import { phoneInWords } from '$lib/core/people/phone';
import { findClients } from '$lib/server/clients/find-clients';
import { deskRequest } from '$lib/server/desk-request';

const SHOWN = 8;

/** Clients while somebody types; without a word the ones they opened last. */
export const GET = async (event) => {
	const desk = await deskRequest(event);
	const typed = event.url.searchParams.get('q') ?? '';
	return json(
		await desk.inFirm(async (tx, firm) => {
			const found = await findClients(tx, desk.actor, typed, SHOWN);
			return found.map(({ by, ...client }) => ({
				...client,
				by: by && (by.what === 'phone' ? phoneInWords(by.text, firm.country) : by.what === 'tax_number' ? `tax number ${by.text}` : by.text)
			}));
		})
	);
};
