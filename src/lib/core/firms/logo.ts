/** A logo is drawn at most this large; a browser makes it so before it is sent. */
export const LOGO_MAX = { width: 960, height: 320, bytes: 300_000 } as const;

const PNG_SIGNATURE = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a];

/** Width and height of a PNG by its header (ISO/IEC 15948, 11.2.2), or null if it is none. */
export function pngSize(bytes: Uint8Array): { width: number; height: number } | null {
	if (bytes.length < 33 || PNG_SIGNATURE.some((byte, i) => bytes[i] !== byte)) return null;
	const view = new DataView(bytes.buffer, bytes.byteOffset);
	if (view.getUint32(8) !== 13 || view.getUint32(12) !== 0x49484452) return null;
	return { width: view.getUint32(16), height: view.getUint32(20) };
}

/** The size at which a picture of any size is drawn as a logo: as large as fits, never larger than it is, unless it has no size of its own. */
export function logoSize(picture: { width: number; height: number }): { width: number; height: number } {
	const { width, height } = picture.width > 0 && picture.height > 0 ? picture : { width: LOGO_MAX.width, height: LOGO_MAX.height };
	const scale = Math.min(1, LOGO_MAX.width / width, LOGO_MAX.height / height);
	return { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) };
}

/** A picture beside the welcome, drawn at most this large. */
export const WELCOME_PICTURE_MAX = { width: 960, height: 640, bytes: 400_000 } as const;

/** The largest size within bounds that keeps a picture's shape; never larger than it is. */
export function fitWithin(picture: { width: number; height: number }, max: { width: number; height: number }): { width: number; height: number } {
	const scale = Math.min(1, max.width / Math.max(1, picture.width), max.height / Math.max(1, picture.height));
	return { width: Math.max(1, Math.round(picture.width * scale)), height: Math.max(1, Math.round(picture.height * scale)) };
}
