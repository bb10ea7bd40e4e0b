import { untrack } from 'svelte';
import { on } from 'svelte/events';
import { invalidateAll } from '$app/navigation';
import type { WordKey } from '$lib/words/words';
import { uploadPaper, type GoingUpload } from './upload-paper';

/** A file on its way to an item, also while its sender looks at another page. */
export interface Upload {
	key: string;
	/** address of the item on the portal */
	at: string;
	title: string;
	file: File;
	slot: string | null;
	/** it can go on where it stopped, if the line is lost */
	resumable: boolean;
	state: 'waiting' | 'going' | 'failed' | 'cancelled';
	percent: number;
	/** what is said of it: a sentence of the catalogue, or the server's */
	says: { key: WordKey; values?: Record<string, string> } | string | null;
	going: GoingUpload | null;
}
/** A phone's line is thin. */
const AT_ONCE = 2;
/** Files up to this size are compared with what is there; hashing more would hold up a phone. */
const COMPARED_BYTES = 40 * 1024 * 1024;

let all = $state<Upload[]>([]);

export const uploadsOf = (at: string): Upload[] => all.filter((upload) => upload.at === at);
export const underway = (): Upload[] => all.filter(({ state }) => state === 'waiting' || state === 'going');

async function sha256(file: File): Promise<string | null> {
	// only pages that came safely may hash
	if (!crypto.subtle || file.size > COMPARED_BYTES) return null;
	const digest = await crypto.subtle.digest('SHA-256', await file.arrayBuffer()).catch(() => null);
	return digest && [...new Uint8Array(digest)].map((byte) => byte.toString(16).padStart(2, '0')).join('');
}

/** Takes files to be sent. @param there what the item has already, by the hash of its bytes */
export async function addUploads(
	{ mostBytes = Infinity, ...to }: { at: string; title: string; slot: string | null; resumable?: boolean; mostBytes?: number },
	files: Iterable<File>,
	there: readonly { name: string; sha256: string }[]
): Promise<void> {
	for (const file of files) {
		all.push({ key: crypto.randomUUID(), resumable: true, ...to, file, state: 'waiting', percent: 0, says: null, going: null });
		// as it is in the list, so that what happens to it is seen
		const upload = all[all.length - 1];
		const digest = file.size > 0 ? await sha256(file) : null;
		const same = digest && there.find((paper) => paper.sha256 === digest);
		if (file.size === 0) Object.assign(upload, { state: 'failed', says: { key: 'item.paper.empty' } });
		else if (file.size > mostBytes)
			Object.assign(upload, { state: 'failed', says: { key: 'wrong.paper.large', values: { max: String(mostBytes / 1024 ** 2) } } });
		else if (same) Object.assign(upload, { state: 'failed', says: { key: 'item.paper.same', values: { name: same.name } } });
	}
	pump();
}

/** Starts waiting files, a few at a time. */
function pump(): void {
	const free = AT_ONCE - all.filter(({ state }) => state === 'going').length;
	for (const upload of all.filter(({ state }) => state === 'waiting').slice(0, Math.max(0, free))) startUpload(upload);
}

export function startUpload(upload: Upload): void {
	Object.assign(upload, { state: 'going', percent: 0, says: null });
	upload.going = uploadPaper(upload.at, upload.file, upload.slot, {
		resumable: upload.resumable,
		onProgress: (percent) => (upload.percent = percent),
		onWaiting: (waiting) => (upload.says = waiting ? { key: 'item.paper.goesOn' } : null)
	});
	void upload.going.done.then(async (refused) => {
		if (refused) Object.assign(upload, { state: 'failed', says: refused.problem || { key: 'item.paper.lost' } });
		else {
			await invalidateAll();
			all = all.filter((other) => other.key !== upload.key);
		}
		pump();
	});
}

/** Stops a file that is on its way, or takes it off the list. */
export function cancelUpload(upload: Upload): void {
	if (upload.going && upload.state === 'going') {
		upload.going.cancel();
		Object.assign(upload, { state: 'cancelled', says: { key: 'item.paper.cancelled' } });
		pump();
	} else all = all.filter((other) => other.key !== upload.key);
}

/** Takes the files that are chosen in a field, also those that were while the scripts of the page were still on their way, as they are on a slow phone. */
export const takesFiles = (take: (files: FileList) => void) => (input: HTMLInputElement) => {
	const chosen = () => {
		if (!input.files?.length) return;
		take(input.files);
		input.value = '';
	};
	untrack(chosen);
	return on(input, 'change', chosen);
};
