import { log } from '$lib/server/platform/log';
import { sendDraftsOfRun } from '$lib/server/requests/ask-many';
import type { Job } from '../job';
import { onlyOnce } from '../watch-workers';

export const sendDraftsJob: Job<'send_drafts'> = async ({ firmId, runId, staffId }, { house, asQueue }) => {
	const { sent, left } = await onlyOnce(asQueue, `drafts ${runId}`, () =>
		sendDraftsOfRun(house, firmId, runId, staffId, house.clock.now(), house.settings.BULK_MAILS_PER_SECOND)
	);
	log.info({ sent, left }, 'drafts sent');
};
