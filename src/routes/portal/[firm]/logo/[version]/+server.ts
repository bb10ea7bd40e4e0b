import { error } from '@sveltejs/kit';
import { firmOfPortal } from '$lib/web/desk-request';
import { readPicture } from '$lib/server/firms/pictures';

/** A logo or welcome picture of the firm; another picture has another address. */
export const GET = async (event) => {
	const { context, firm } = await firmOfPortal(event);
	const picture = await context.db.inFirm(firm.id, (tx) => readPicture(tx, event.params.version));
	if (!picture) error(404, 'There is nothing here.');
	return new Response(new Uint8Array(picture.bytes), {
		headers: {
			'content-type': picture.mime,
			'content-length': String(picture.bytes.length),
			'content-security-policy': "default-src 'none'; sandbox",
			// mail programs and the firm's own website show it too
			'cross-origin-resource-policy': 'cross-origin',
			'cache-control': 'public, max-age=31536000, immutable'
		}
	});
};
