import { Readable } from 'node:stream';
import { z } from 'zod';
import { contentDisposition, safeFileName } from '$lib/core/papers/file-name';
import { namesInArchive } from '$lib/core/papers/name-pattern';
import { readClient } from '$lib/server/clients/read-clients';
import { takeOutPapers } from '$lib/server/papers/shared-papers';
import { ZIP_PIECE_BYTES, zipOf } from '$lib/server/platform/files/zip';
import { deskRequest } from '$lib/web/desk-request';
import { idParam, inPage } from '$lib/web/form-errors';

/** Hands out the papers that are named, or all of the client, as one archive. */
export const GET = async (event) => {
	const desk = await deskRequest(event);
	const clientId = idParam(event.params.client);
	const named = z.array(z.uuid()).max(200).catch([]).parse(event.url.searchParams.getAll('paper'));
	const { papers, name } = await inPage(() =>
		desk.inFirm(async (tx) => ({
			papers: await takeOutPapers(
				tx,
				desk.actor,
				{ clientId, paperIds: event.url.searchParams.has('all') ? 'all' : named },
				Boolean(desk.context.settings.CLAMD)
			),
			name: (await readClient(tx, desk.actor, clientId)).name
		}))
	);
	const paths = namesInArchive(papers);
	const zip = zipOf(
		papers.map(({ storageKey, at }, index) => ({
			path: paths[index],
			at,
			open: () => desk.context.papers.read(storageKey, undefined, ZIP_PIECE_BYTES)
		}))
	);
	return new Response(Readable.toWeb(zip) as ReadableStream, {
		headers: {
			'content-type': 'application/zip',
			'content-disposition': contentDisposition('attachment', safeFileName(`${name}.zip`)),
			'x-content-type-options': 'nosniff'
		}
	});
};
