import { DomainError } from '$lib/core/errors/domain-error';
import { machine } from '$lib/server/actor';
import { fileByItself } from '$lib/server/papers/arrivals';
import { scanPaper } from '$lib/server/papers/scanning';
import { readPaper } from '$lib/server/statements/read-paper';
import { pairArrived } from '$lib/server/transactions/find-pairs';
import type { Job } from '../job';

export const readPaperJob: Job<'read_paper'> = async ({ firmId, paperId }, { context }) => {
	const { scanner } = context;
	// what is harmful, or waits for the scanner, is not opened here either
	if (scanner && (await scanPaper({ ...context, scanner }, firmId, paperId, context.clock.now())) !== 'clean') return;
	await readPaper(context, firmId, paperId);
	try {
		await context.db.inFirm(firmId, (tx) => fileByItself(tx, machine(context.clock.now()), paperId));
	} catch (error) {
		// whatever stands against it, it waits for a person
		if (!(error instanceof DomainError)) throw error;
	}
	await pairArrived(context, firmId, machine(context.clock.now()), paperId);
};
