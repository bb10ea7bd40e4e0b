import { readWords } from '$lib/server/papers/arrivals';
import type { Job } from '../job';

export const readPaperJob: Job<'read_paper'> = ({ firmId, paperId }, { context }) => readWords(context, firmId, paperId);
