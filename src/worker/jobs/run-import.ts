import { runImport } from '$lib/server/clients/import/run-import';
import type { Job } from '../job';
import { onlyOnce } from '../watch-workers';

export const runImportJob: Job<'run_import'> = async ({ firmId, importId, staffId }, { house, asQueue }) => {
	await onlyOnce(asQueue, `import ${importId}`, () => runImport(house, firmId, importId, staffId, house.clock.now()));
};
