import { contentDisposition } from '$lib/core/papers/file-name';

/** A PDF that was just made, to be looked at in the browser. */
export const pdfAnswer = (pdf: Uint8Array, name: string): Response =>
	new Response(pdf as Uint8Array<ArrayBuffer>, {
		headers: {
			'content-type': 'application/pdf',
			'content-disposition': contentDisposition('inline', `${name}.pdf`),
			'cache-control': 'private, no-store'
		}
	});
