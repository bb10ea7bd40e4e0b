import { readPaper } from '$lib/server/statements/read-paper';
import type { Job } from '../job';

export const readPaperJob: Job<'read_paper'> = ({ firmId, paperId }, { context }) => readPaper(context, firmId, paperId);
