/** Largest file a client may hand in: 200 MiB. */
export const PAPER_MAX_BYTES = 200 * 1024 * 1024;
const NAME_MAX = 180;

/**
 * A name under which a file can be shown and stored in any file system: no folders, no control or
 * reordering characters, none that Windows forbids, not too long, its ending kept.
 */
export function safeFileName(name: string): string {
	const last = name.normalize('NFC').split(/[/\\]/).at(-1) ?? '';
	const clean = last
		.replace(/[\u0000-\u001f\u007f\u200b-\u200f\u202a-\u202e\u2060-\u2069\ufeff]/g, '')
		.replace(/[<>:"|?*]/g, '_')
		.replace(/\s+/g, ' ')
		.replace(/^[. ]+|[. ]+$/g, '');
	if (!clean) return 'paper';
	const dot = clean.lastIndexOf('.');
	const ending = dot > 0 && clean.length - dot <= 10 ? clean.slice(dot) : '';
	const stem = ending ? clean.slice(0, dot) : clean;
	return [...stem].slice(0, NAME_MAX - ending.length).join('') + ending;
}

/** Content types a paper may have, by what its bytes say. Others are refused. */
const ACCEPTED = new Map<string, 'view' | 'download'>([
	['application/pdf', 'view'],
	['image/png', 'view'],
	['image/jpeg', 'view'],
	['image/webp', 'view'],
	['image/gif', 'view'],
	['image/heic', 'download'],
	['image/heif', 'download'],
	['image/tiff', 'download'],
	['application/zip', 'download'],
	['application/vnd.openxmlformats-officedocument.wordprocessingml.document', 'download'],
	['application/vnd.openxmlformats-officedocument.spreadsheetml.sheet', 'download'],
	['application/vnd.openxmlformats-officedocument.presentationml.presentation', 'download'],
	['application/vnd.oasis.opendocument.text', 'download'],
	['application/vnd.oasis.opendocument.spreadsheet', 'download'],
	['application/x-cfb', 'download'],
	['text/plain', 'download']
]);

export function isAcceptedType(contentType: string): boolean {
	return ACCEPTED.has(contentType);
}

/** True for the types a browser can show without running anything in them. */
export function isViewable(contentType: string): boolean {
	return ACCEPTED.get(contentType) === 'view';
}

/**
 * `Content-Disposition` by RFC 6266, with an ASCII name for old readers and the whole name in UTF-8.
 */
export function contentDisposition(kind: 'inline' | 'attachment', fileName: string): string {
	const ascii = fileName.replace(/[^\x20-\x7e]|["\\%]/g, '_');
	const utf8 = encodeURIComponent(fileName).replace(/['()*]/g, (c) => `%${c.charCodeAt(0).toString(16).toUpperCase()}`);
	return `${kind}; filename="${ascii}"; filename*=UTF-8''${utf8}`;
}

/** Whether a type of content fits what a named file may be. Spreadsheets arrive as text too. */
export function isOfSlotType(contentType: string, slot: 'any' | 'pdf' | 'picture' | 'sheet'): boolean {
	if (slot === 'any') return true;
	if (slot === 'pdf') return contentType === 'application/pdf';
	if (slot === 'picture') return contentType.startsWith('image/');
	return /spreadsheet|x-cfb|^text\/plain$/.test(contentType);
}
