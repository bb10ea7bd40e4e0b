import iconv from 'iconv-lite';

/** The words of a file in UTF-8, UTF-16 or Windows-1252. @returns null for one that is no text */
export function decodeText(bytes: Uint8Array): { text: string; encoding: string } | null {
	const begins = (...signs: number[]) => signs.every((sign, i) => bytes[i] === sign);
	if (begins(0xef, 0xbb, 0xbf)) return { text: new TextDecoder('utf-8').decode(bytes), encoding: 'UTF-8' };
	if (begins(0xff, 0xfe)) return { text: new TextDecoder('utf-16le').decode(bytes), encoding: 'UTF-16' };
	if (begins(0xfe, 0xff)) return { text: new TextDecoder('utf-16be').decode(bytes), encoding: 'UTF-16' };
	// without a mark, every second byte of Latin text in UTF-16 is zero
	const head = bytes.subarray(0, 2000);
	const zeros = [0, 1].map((start) => head.filter((byte, i) => i % 2 === start && byte === 0).length / Math.max(1, head.length / 2));
	if (zeros[1] > 0.6 && zeros[0] < 0.1) return { text: new TextDecoder('utf-16le').decode(bytes), encoding: 'UTF-16' };
	if (zeros[0] > 0.6 && zeros[1] < 0.1) return { text: new TextDecoder('utf-16be').decode(bytes), encoding: 'UTF-16' };
	if (bytes.includes(0)) return null;
	try {
		return { text: new TextDecoder('utf-8', { fatal: true }).decode(bytes), encoding: 'UTF-8' };
	} catch {
		// Node.js reads Windows-1252 as Latin-1, which has other signs at 0x80 to 0x9f
		return { text: iconv.decode(bytes as Buffer, 'windows-1252'), encoding: 'Windows-1252' };
	}
}
