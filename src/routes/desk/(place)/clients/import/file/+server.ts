import { IMPORT_BYTES_MAX } from '$lib/core/clients/import/read-file';
import { beginImport } from '$lib/server/clients/import/prepare-import';
import { takeListFile } from '$lib/web/take-list-file';

/** Takes a list of clients. Answers the id of the import. */
export const POST = (event) =>
	takeListFile(event, {
		right: 'import_clients',
		bytesMost: IMPORT_BYTES_MAX,
		advice: 'split it and import the parts.',
		take: (desk, file) => beginImport(desk.context, desk.firmId, desk.actor, file)
	});
