import type { PDFDocumentProxy, RenderTask } from 'pdfjs-dist';

/** Pages of a file that are shown, and looked through. */
export const PAGES_MOST = 60;

/**
 * Draws a page of a PDF on a canvas, as wide as this is, once it comes near the sight.
 * @param pdf asked for when it is drawn: another file may be shown by then
 * @param turned how far the page is turned to the right, in degrees
 */
export const drawPage =
	(pdf: () => PDFDocumentProxy | undefined, number: number, turned = 0) =>
	(canvas: HTMLCanvasElement): (() => void) => {
		let task: RenderTask | undefined;
		const observer = new IntersectionObserver(
			(entries) => {
				if (!entries.some((entry) => entry.isIntersecting)) return;
				observer.disconnect();
				void (async () => {
					try {
						const page = await pdf()!.getPage(number);
						const rotation = (page.rotate + turned) % 360;
						const scale = (canvas.clientWidth / page.getViewport({ scale: 1, rotation }).width) * Math.min(2, devicePixelRatio || 1);
						const viewport = page.getViewport({ scale, rotation });
						canvas.width = viewport.width;
						canvas.height = viewport.height;
						task = page.render({ canvas, viewport });
						await task.promise;
						canvas.dataset.drawn = 'yes';
					} catch {
						// another file is shown by now, or this page is damaged: it stays empty, the others are there
					}
				})();
			},
			{ rootMargin: '400px' }
		);
		observer.observe(canvas);
		return () => {
			observer.disconnect();
			task?.cancel();
		};
	};
