import { deskRequest } from '$lib/web/desk-request';
import { idParam } from '$lib/web/form-errors';
import { takeInFile } from '$lib/web/take-in-file';
import { givenTo } from '$lib/web/uploads-into';

/** Takes one file that somebody of the firm adds to the papers of a client; see `takeInFile`. */
export const POST = async (event) => {
	const desk = await deskRequest(event);
	const into = givenTo(desk, idParam(event.params.client));
	return takeInFile(event, 'en', 'Choose a file first.', (file) => into.take({ ...file, slot: event.url.searchParams.get('slot') }));
};
