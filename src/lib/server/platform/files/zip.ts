import { createRequire } from 'node:module';
import type { Readable } from 'node:stream';
import { crc32 } from 'node:zlib';
import { ZipFile } from 'yazl';

// The package computes checksums in JavaScript, at a twentieth of the speed at which zlib does: the same function of Node.js takes its place.
const ofPackage = createRequire(createRequire(import.meta.url).resolve('yazl'));
(ofPackage('buffer-crc32') as { unsigned: (bytes: Buffer, before?: number) => number }).unsigned = (bytes, before) => crc32(bytes, before ?? 0);

/** Bytes that are read of a file at once for an archive: each piece has its price on the way through it. */
export const ZIP_PIECE_BYTES = 256 * 1024;

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
