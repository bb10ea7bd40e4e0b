import type { AttachmentRow } from '$lib/server/attachments/attachments';

/** Sends a file of the firm, to stand beside a line or to be signed. @returns what it is kept as, or what was wrong, in a sentence */
export async function addAttachment(file: File): Promise<AttachmentRow | string> {
	const answer = await fetch('/desk/attachments', {
		method: 'POST',
		body: file,
		headers: { 'content-type': 'application/octet-stream', 'x-file-name': encodeURIComponent(file.name) }
	}).catch(() => null);
	const body = answer && ((await answer.json().catch(() => null)) as (AttachmentRow & { message?: string }) | null);
	return answer?.ok && body ? body : (body?.message ?? `${file.name} did not arrive. Please try again.`);
}
