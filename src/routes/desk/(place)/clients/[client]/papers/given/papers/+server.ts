import { z } from 'zod';
import { folderChoiceSchema } from '$lib/core/papers/folders';
import { givePaper, SHOWING } from '$lib/server/papers/shared-papers';
import { deskRequest } from '$lib/web/desk-request';
import { idParam } from '$lib/web/form-errors';
import { takeInFile } from '$lib/web/take-in-file';

const wanted = z.object({
	folder: folderChoiceSchema.catch(null),
	showing: z.enum(SHOWING).catch('no'),
	versionOf: z.uuid().nullable().catch(null)
});

/** Takes one file that somebody of the firm adds to the papers of a client; see `takeInFile`. Where it goes stands where an item's named file would. */
export const POST = async (event) => {
	const desk = await deskRequest(event);
	const clientId = idParam(event.params.client);
	const asked = new URLSearchParams(event.url.searchParams.get('slot') ?? '');
	const to = wanted.parse({ folder: asked.get('folder') ?? '', showing: asked.get('showing'), versionOf: asked.get('versionOf') });
	return takeInFile(event, 'en', 'Choose a file first.', (file) => givePaper(desk.context, desk.firmId, desk.actor, { clientId, ...to, ...file }));
};
