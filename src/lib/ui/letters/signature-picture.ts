import { PICTURE_MOST } from '$lib/core/signing/signature';

/** How light paper is at least; what is darker is ink, the darker the more. */
const PAPER = 200;

/**
 * The picture of a signature as ink alone, on nothing: paper shines through, and what is around it is cut off.
 * @returns its PNG in base64, with its size in pixels; null if it is no picture that this browser reads, or nothing is written on it
 */
export async function inkOf(file: Blob): Promise<{ png: string; width: number; height: number } | null> {
	const picture = await createImageBitmap(file).catch(() => null);
	if (!picture) return null;
	const scale = Math.min(1, (PICTURE_MOST.width * 1.5) / picture.width, (PICTURE_MOST.height * 2) / picture.height);
	const [width, height] = [Math.max(1, Math.round(picture.width * scale)), Math.max(1, Math.round(picture.height * scale))];
	const canvas = new OffscreenCanvas(width, height);
	const drawing = canvas.getContext('2d', { willReadFrequently: true })!;
	drawing.fillStyle = '#fff';
	drawing.fillRect(0, 0, width, height);
	drawing.drawImage(picture, 0, 0, width, height);
	picture.close();
	const pixels = drawing.getImageData(0, 0, width, height);
	let [left, top, right, bottom] = [width, height, -1, -1];
	for (let at = 0; at < pixels.data.length; at += 4) {
		const light = 0.299 * pixels.data[at] + 0.587 * pixels.data[at + 1] + 0.114 * pixels.data[at + 2];
		const ink = Math.max(0, Math.min(255, Math.round(((PAPER - light) / PAPER) * 2 * 255)));
		pixels.data.set([0x1d, 0x25, 0x30, ink], at);
		if (ink < 40) continue;
		const [x, y] = [(at / 4) % width, Math.floor(at / 4 / width)];
		[left, top, right, bottom] = [Math.min(left, x), Math.min(top, y), Math.max(right, x), Math.max(bottom, y)];
	}
	if (right - left < 8 || bottom - top < 4) return null;
	drawing.putImageData(pixels, 0, 0);
	const cut = { width: right - left + 1, height: bottom - top + 1 };
	const fit = Math.min(1, PICTURE_MOST.width / cut.width, PICTURE_MOST.height / cut.height);
	const small = new OffscreenCanvas(Math.max(1, Math.round(cut.width * fit)), Math.max(1, Math.round(cut.height * fit)));
	small.getContext('2d')!.drawImage(canvas, left, top, cut.width, cut.height, 0, 0, small.width, small.height);
	const bytes = new Uint8Array(await (await small.convertToBlob({ type: 'image/png' })).arrayBuffer());
	const png = btoa(Array.from(bytes, (byte) => String.fromCharCode(byte)).join(''));
	return png.length > PICTURE_MOST.characters ? null : { png, width: small.width, height: small.height };
}
