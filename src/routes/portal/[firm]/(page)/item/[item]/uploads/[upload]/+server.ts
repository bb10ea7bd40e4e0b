import { idParam } from '$lib/web/form-errors';
import { answerUpload } from '$lib/web/portal-uploads';

/** How far an upload came, its next part, or its end; see `ResumableUploads`. */
const answer = (event: Parameters<typeof answerUpload>[0] & { params: { upload: string } }) => answerUpload(event, idParam(event.params.upload));
export const HEAD = answer;
export const PATCH = answer;
export const DELETE = answer;
