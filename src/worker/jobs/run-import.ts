import { runImport } from '$lib/server/clients/import/run-import';
import type { Job } from '../job';
import { onlyOnce } from '../watch-workers';

export const runImportJob: Job<'run_import'> = async ({ firmId, importId, staffId }, { context, asQueue }) => {
	await onlyOnce(asQueue, `import ${importId}`, () => runImport(context, firmId, importId, staffId, context.clock.now()));
};
