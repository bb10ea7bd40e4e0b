import { letterGoesOn } from '$lib/server/requests/letter-goes-on';
import type { Job } from '../job';

export const letterGoesOnJob: Job<'letter_goes_on'> = ({ firmId, letterId }, { context }) =>
	letterGoesOn({ ...context, secretKey: context.settings.SECRET_KEY, origin: context.settings.ORIGIN }, firmId, letterId, context.clock.now());
