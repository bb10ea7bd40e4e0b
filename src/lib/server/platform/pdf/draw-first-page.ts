import { createCanvas } from '@napi-rs/canvas';
import { openPdf } from './open-pdf';

/** Width of the picture in pixels: a phone's width at two pixels each. */
const WIDTH = 780;
/** A page more than this many times as high as it is wide is not drawn. */
const RATIO_MOST = 6;

/**
 * Draws the first page of a PDF (ISO 32000). No script of the document runs.
 * @returns a WebP picture, or null if the file cannot be read, is locked, or its page is of an odd shape
 */
export async function drawFirstPage(pdf: Uint8Array): Promise<Uint8Array | null> {
	const loading = openPdf(pdf);
	try {
		const page = await (await loading.promise).getPage(1);
		const viewport = page.getViewport({ scale: WIDTH / page.getViewport({ scale: 1 }).width });
		if (!(viewport.height > 0 && viewport.height <= WIDTH * RATIO_MOST)) return null;
		const canvas = createCanvas(WIDTH, Math.ceil(viewport.height));
		await page.render({ canvas: canvas as unknown as HTMLCanvasElement, viewport }).promise;
		return new Uint8Array(await canvas.encode('webp', 72));
	} catch {
		return null;
	} finally {
		await loading.destroy();
	}
}
