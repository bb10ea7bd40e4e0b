import { z } from 'zod';
import { deskRequest } from '$lib/web/desk-request';
import { idParam } from '$lib/web/form-errors';
import { readHistory } from '$lib/server/clients/read-clients';

const PAGE = 200;
const before = z.coerce.number().int().positive().nullable().catch(null);

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const from = before.parse(event.url.searchParams.get('before'));
	const history = await desk.read((tx) => readHistory(tx, desk.actor, idParam(event.params.client), from, PAGE + 1));
	return { history: history.slice(0, PAGE), more: history.length > PAGE };
};
