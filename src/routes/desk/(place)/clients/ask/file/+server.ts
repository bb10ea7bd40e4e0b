import { SHEET_BYTES_MAX } from '$lib/core/requests/ask-sheet';
import { keepAskSheet } from '$lib/server/requests/ask-sheets';
import { takeListFile } from '$lib/web/take-list-file';

/** Takes a file with a row for each request. Answers its id; nobody is asked yet. */
export const POST = (event) =>
	takeListFile(event, {
		right: 'send_request',
		bytesMost: SHEET_BYTES_MAX,
		advice: 'split it and use the parts one after another.',
		take: (desk, file) => keepAskSheet(desk.context, desk.firmId, desk.actor, file)
	});
