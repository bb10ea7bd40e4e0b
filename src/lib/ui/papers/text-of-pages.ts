import type { PDFDocumentProxy } from 'pdfjs-dist';
import type { LyingText } from '$lib/core/papers/find-in-pages';

/** The text of pages as it lies on them, in shares of each page; a page that cannot be read has none. @param most pages that are read */
export async function textOfPages(pdf: PDFDocumentProxy, most: number): Promise<LyingText[][]> {
	const { Util } = await import('pdfjs-dist');
	const pages: LyingText[][] = [];
	for (let number = 1; number <= Math.min(most, pdf.numPages); number++) {
		const page = await pdf.getPage(number);
		const { width, height, transform } = page.getViewport({ scale: 1 });
		const content = await page.getTextContent().catch(() => ({ items: [] }));
		pages.push(
			content.items.flatMap((item) => {
				if (!('str' in item) || item.str === '') return [];
				const [a, b, c, d, e, f] = Util.transform(transform, item.transform) as number[];
				const [line, letter] = [Math.hypot(a, b) || 1, Math.hypot(c, d) || 1];
				return [
					{
						text: item.str,
						x: e / width,
						y: f / height,
						along: [((a / line) * item.width) / width, ((b / line) * item.width) / height] as const,
						up: [((c / letter) * item.height) / width, ((d / letter) * item.height) / height] as const
					}
				];
			})
		);
	}
	return pages;
}
