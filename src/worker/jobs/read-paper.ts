import { DomainError } from '$lib/core/errors/domain-error';
import { machine } from '$lib/server/actor';
import { fileByItself } from '$lib/server/papers/arrivals';
import { readPaper } from '$lib/server/statements/read-paper';
import type { Job } from '../job';

export const readPaperJob: Job<'read_paper'> = async ({ firmId, paperId }, { context }) => {
	await readPaper(context, firmId, paperId);
	try {
		await context.db.inFirm(firmId, (tx) => fileByItself(tx, machine(context.clock.now()), paperId));
	} catch (error) {
		// whatever stands against it, it waits for a person
		if (!(error instanceof DomainError)) throw error;
	}
};
