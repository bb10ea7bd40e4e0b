import type { Readable } from 'node:stream';
import { ZipFile } from 'yazl';

/** A file that goes into an archive. */
export interface FileInZip {
	/** its name there, with folders before it */
	path: string;
	/** instant at which it came */
	at: string;
	open: () => Readable;
}

/**
 * An archive of files (ZIP, names in UTF-8, larger than 4 GB if need be), written while it is read: nothing of it lies on disk or, beyond a
 * few pieces, in memory. Files are stored as they are, since papers are packed already. Each is opened when its turn comes; whoever stops
 * reading closes the one that is open.
 */
export function zipOf(files: readonly FileInZip[]): Readable {
	const zip = new ZipFile();
	const out = zip.outputStream as Readable;
	let current: Readable | null = null;
	for (const { path, at, open } of files)
		zip.addReadStreamLazy(path, { compress: false, mtime: new Date(at) }, (take) => {
			if (out.destroyed) return;
			current = open();
			// what breaks in the middle must not look like a whole archive
			current.on('error', (error) => out.destroy(error));
			take(null, current);
		});
	zip.on('error', (error: Error) => out.destroy(error));
	out.on('close', () => current?.destroy());
	zip.end();
	return out;
}
