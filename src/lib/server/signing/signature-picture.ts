import { crc32, inflateSync } from 'node:zlib';
import { DomainError } from '$lib/core/errors/domain-error';
import type { Signature } from '$lib/core/signing/signature';
import { saying } from '$lib/words/sayings';

const MAGIC = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
/** Bytes of a pixel by the colour type: colours, and colours with what shines through (PNG, 11.2.2). */
const PIXEL_BYTES: Readonly<Record<number, number>> = { 2: 3, 6: 4 };

/**
 * Holds the picture of a signature to what browsers make: a PNG (ISO/IEC 15948) of the size it says, eight bits a colour, not interlaced,
 * whole to the last chunk and line. What is not could not be put on the pages once all have signed.
 * @throws DomainError invalid
 */
export function requirePicture(mark: Signature): void {
	if (mark.method === 'picture' && !isWhole(Buffer.from(mark.png, 'base64'), mark.width, mark.height))
		throw new DomainError('invalid', saying('wrong.signature.picture'));
}

function isWhole(png: Buffer, width: number, height: number): boolean {
	if (!png.subarray(0, 8).equals(MAGIC)) return false;
	const data: Buffer[] = [];
	let lineBytes = 0;
	for (let at = 8; at + 12 <= png.length;) {
		const length = png.readUInt32BE(at);
		const type = png.toString('latin1', at + 4, at + 8);
		const body = png.subarray(at + 8, at + 8 + length);
		if (body.length !== length || at + 12 + length > png.length || png.readUInt32BE(at + 8 + length) !== crc32(png.subarray(at + 4, at + 8 + length)))
			return false;
		if (at === 8) {
			const bytes = PIXEL_BYTES[body[9]];
			if (type !== 'IHDR' || length !== 13 || !bytes || body[8] !== 8 || body[10] !== 0 || body[11] !== 0 || body[12] !== 0) return false;
			if (body.readUInt32BE(0) !== width || body.readUInt32BE(4) !== height) return false;
			lineBytes = width * bytes + 1;
		}
		if (type === 'IDAT') data.push(body);
		if (type === 'IEND') return length === 0 && at + 12 === png.length && linesAreWhole(Buffer.concat(data), lineBytes, height);
		at += 12 + length;
	}
	return false;
}

/** Whether so many lines are packed there, each with a filter that there is. */
function linesAreWhole(packed: Buffer, lineBytes: number, height: number): boolean {
	try {
		const lines = inflateSync(packed, { maxOutputLength: lineBytes * height + 1 });
		return lines.length === lineBytes * height && Array.from({ length: height }, (_, line) => lines[line * lineBytes]).every((filter) => filter <= 4);
	} catch {
		return false;
	}
}
