import { learnFrom } from '$lib/server/statements/put-right';
import type { Job } from '../job';

export const learnStatementJob: Job<'learn_statement'> = ({ firmId, statementId }, { context }) => learnFrom(context, firmId, statementId);
