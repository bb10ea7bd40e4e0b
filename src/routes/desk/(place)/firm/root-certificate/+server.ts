import { error } from '@sveltejs/kit';
import { deskRequest } from '$lib/web/desk-request';
import { readRootCertificate } from '$lib/server/signing/firm-seal';

export const GET = async (event) => {
	const desk = await deskRequest(event);
	const pem = await desk.inFirm((tx) => readRootCertificate(tx));
	if (!pem) error(404, 'The firm has no certificate yet.');
	return new Response(pem, {
		headers: { 'content-type': 'application/x-pem-file', 'content-disposition': 'attachment; filename="root-certificate.pem"' }
	});
};
