import { log } from '$lib/server/platform/log';
import { sendDraftsOfRun } from '$lib/server/requests/ask-many';
import type { Job } from '../job';
import { onlyOnce } from '../watch-workers';

export const sendDraftsJob: Job<'send_drafts'> = async ({ firmId, runId, staffId }, { context, asQueue }) => {
	const { sent, left } = await onlyOnce(asQueue, `drafts ${runId}`, () =>
		sendDraftsOfRun(context, firmId, runId, staffId, context.clock.now(), context.settings.BULK_MAILS_PER_SECOND)
	);
	log.info({ sent, left }, 'drafts sent');
};
