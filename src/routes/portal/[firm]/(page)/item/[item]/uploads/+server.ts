import { answerUpload } from '$lib/web/portal-uploads';

/** Begins an upload that can be gone on with; see `ResumableUploads`. */
export const POST = (event) => answerUpload(event, null);
