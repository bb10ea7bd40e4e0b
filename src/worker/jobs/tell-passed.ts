import { tellPassed } from '$lib/server/items/passing-on';
import type { Job } from '../job';

export const tellPassedJob: Job<'tell_passed'> = ({ firmId, ...passed }, { context }) =>
	context.db.inFirm(firmId, (tx) => tellPassed(tx, context.clock.now(), passed));
