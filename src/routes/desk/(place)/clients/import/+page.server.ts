import { columnLabel, exportColumns } from '$lib/core/clients/import/columns';
import { IMPORT_ROWS_MAX } from '$lib/core/clients/import/list-file';
import { IMPORT_BYTES_MAX } from '$lib/core/clients/import/read-file';
import { readImports } from '$lib/server/clients/import/prepare-import';
import { loadFacts } from '$lib/server/facts/firm-facts';
import { deskRequest } from '$lib/web/desk-request';
import { inPage } from '$lib/web/form-errors';
import { timeWords } from '$lib/words/dates';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	return inPage(() =>
		desk.read(async (tx, firm) => {
			const facts = await loadFacts(tx);
			return {
				columns: exportColumns(facts).map((column) => columnLabel(column, facts)),
				rowsMost: IMPORT_ROWS_MAX,
				bytesMost: IMPORT_BYTES_MAX,
				lists: (await readImports(tx, desk.actor)).map((list) => ({
					id: list.id,
					fileName: list.fileName,
					state: list.state,
					counts: list.counts,
					by: list.doneBy ?? list.begunBy,
					at: timeWords(firm.locale, list.undoneAt ?? list.doneAt ?? list.begunAt, firm.calendar.timeZone),
					undoneBy: list.undoneBy
				}))
			};
		})
	);
};
