import { error } from '@sveltejs/kit';
import { firmOfPortal } from '$lib/server/desk-request';
import { readLogo } from '$lib/server/firms/logo';

/** The firm's logo; another picture has another address. */
export const GET = async (event) => {
	const { house, firm } = await firmOfPortal(event);
	const logo = firm.logoVersion === event.params.version ? await house.db.inFirm(firm.id, readLogo) : null;
	if (!logo) error(404, 'There is nothing here.');
	return new Response(new Uint8Array(logo.png), {
		headers: {
			'content-type': 'image/png',
			'content-length': String(logo.png.length),
			'content-security-policy': "default-src 'none'; sandbox",
			// mail programs and the firm's own website show it too
			'cross-origin-resource-policy': 'cross-origin',
			'cache-control': 'public, max-age=31536000, immutable'
		}
	});
};
