import { bringAbout } from '$lib/server/tasks/bring-about';
import type { Job } from '../job';

export const bringAboutJob: Job<'bring_about'> = ({ firmId, itemId }, { context }) =>
	context.db.inFirm(firmId, (tx) => bringAbout(tx, context.clock.now(), itemId));
