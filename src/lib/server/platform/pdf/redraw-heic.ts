import { createCanvas } from '@napi-rs/canvas';
import decode from 'heic-decode';
import { DomainError } from '$lib/core/errors/domain-error';

/** Longer side of what is handed out in pixels; more is not seen on a screen. */
const SIDE_MOST = 2900;
/** A picture of more pixels is not unpacked into memory. */
const PIXELS_MOST = 120_000_000;

/**
 * Redraws a HEIC picture (ISO/IEC 23008-12), as telephones take them, as JPEG, which every browser shows; upright, as it says.
 * @throws DomainError unreadable_file if it cannot be read or has too many pixels
 */
export async function redrawHeic(heic: Uint8Array): Promise<Uint8Array> {
	const unreadable = () => new DomainError('unreadable_file', 'This picture cannot be shown here. Download it to look at it.');
	let images;
	try {
		images = await decode.all({ buffer: heic });
	} catch {
		throw unreadable();
	}
	try {
		const [first] = images;
		if (!first || first.width * first.height > PIXELS_MOST) throw unreadable();
		const { width, height, data } = await first.decode().catch(() => {
			throw unreadable();
		});
		const whole = createCanvas(width, height);
		const drawing = whole.getContext('2d');
		const pixels = drawing.createImageData(width, height);
		pixels.data.set(data);
		drawing.putImageData(pixels, 0, 0);
		const smaller = Math.min(1, SIDE_MOST / Math.max(width, height));
		if (smaller === 1) return new Uint8Array(await whole.encode('jpeg', 86));
		const small = createCanvas(Math.round(width * smaller), Math.round(height * smaller));
		small.getContext('2d').drawImage(whole, 0, 0, small.width, small.height);
		return new Uint8Array(await small.encode('jpeg', 86));
	} finally {
		images.dispose();
	}
}
