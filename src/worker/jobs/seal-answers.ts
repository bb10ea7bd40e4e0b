import { sealAnswers } from '$lib/server/signing/sign-answers';
import type { Job } from '../job';

export const sealAnswersJob: Job<'seal_answers'> = ({ firmId, id }, { context }) =>
	sealAnswers({ ...context, secretKey: context.settings.SECRET_KEY }, firmId, id, context.clock.now());
