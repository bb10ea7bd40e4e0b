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

interface Kind {
	/** whether a browser may show it; the others are only ever handed on as they came */
	how: 'view' | 'download';
	/** the endings its name may have; a name with another one gets the first */
	endings: readonly string[];
	/** a file with another ending is not taken at all */
	otherEnding?: 'refused';
}
const ZIPPED = new Map([
	['docx', 'application/vnd.openxmlformats-officedocument.wordprocessingml.document'],
	['xlsx', 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet'],
	['pptx', 'application/vnd.openxmlformats-officedocument.presentationml.presentation'],
	['odt', 'application/vnd.oasis.opendocument.text'],
	['ods', 'application/vnd.oasis.opendocument.spreadsheet']
]);
/** What a paper may be, by what its bytes say. Others are refused. */
const ACCEPTED = new Map<string, Kind>([
	['application/pdf', { how: 'view', endings: ['pdf'] }],
	['image/png', { how: 'view', endings: ['png'] }],
	['image/jpeg', { how: 'view', endings: ['jpg', 'jpeg', 'jpe', 'jfif'] }],
	['image/webp', { how: 'view', endings: ['webp'] }],
	['image/gif', { how: 'view', endings: ['gif'] }],
	['image/heic', { how: 'download', endings: ['heic', 'heif'] }],
	['image/heif', { how: 'download', endings: ['heif', 'heic', 'hif'] }],
	['image/tiff', { how: 'download', endings: ['tif', 'tiff'] }],
	['application/zip', { how: 'download', endings: ['zip'] }],
	...[...ZIPPED].map(([ending, type]): [string, Kind] => [type, { how: 'download', endings: [ending] }]),
	// the files of older office programs; but installers are of this kind too, and only the name tells them apart
	['application/x-cfb', { how: 'download', endings: ['xls', 'doc', 'ppt', 'msg'], otherEnding: 'refused' }],
	[
		'text/plain',
		{
			how: 'download',
			endings: ['txt', 'csv', 'tsv', 'ofx', 'qfx', 'qbo', 'qif', 'xml', 'sta', '940', 'asc', 'md', 'json', 'log', 'eml', 'ics', 'vcf']
		}
	]
]);
const KNOWN_ENDINGS = new Set([...ACCEPTED.values()].flatMap(({ endings }) => endings));

/**
 * The name and the type under which a file is kept, by what its bytes say it is: its ending always fits them, so that whoever opens
 * it on their own machine gets what was looked at, and nothing that runs.
 * @returns null if it is nothing that is taken
 */
export function asPaper(fileName: string, contentType: string): { name: string; contentType: string } | null {
	const kind = ACCEPTED.get(contentType);
	if (!kind) return null;
	const name = safeFileName(fileName);
	const ending = /\.([a-z0-9]{1,9})$/i.exec(name)?.[1].toLowerCase() ?? '';
	// documents of office programs are archives, and the first bytes do not always tell more
	const zipped = contentType === 'application/zip' ? ZIPPED.get(ending) : undefined;
	if (zipped) return { name, contentType: zipped };
	if (kind.endings.includes(ending)) return { name, contentType };
	if (kind.otherEnding === 'refused') return null;
	const stem = KNOWN_ENDINGS.has(ending) ? name.slice(0, -ending.length - 1) : name;
	return { name: safeFileName(`${stem}.${kind.endings[0]}`), contentType };
}

/** Types of files that have pages: those of a PDF, or one of a picture. */
export const PAGED_TYPES: readonly string[] = ['application/pdf', 'image/png', 'image/jpeg', 'image/webp', 'image/gif'];

/** True for the types a browser can show without running anything in them. */
export function isViewable(contentType: string): boolean {
	return ACCEPTED.get(contentType)?.how === 'view';
}

/** Pictures that few browsers show: they are handed to them as JPEG. */
export const isHeic = (contentType: string): boolean => /^image\/hei[cf]$/.test(contentType);

/** How a paper is shown beside what is said of it: as pages, or as what stands in it; null for what is only handed out. */
export const shownAs = (contentType: string): 'pages' | 'inside' | null =>
	isViewable(contentType) || isHeic(contentType) ? 'pages' : contentType === 'text/plain' ? 'inside' : null;

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
