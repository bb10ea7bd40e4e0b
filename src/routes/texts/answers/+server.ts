import { incomingTextSchema } from '$lib/core/messages/text-message';
import { takeInText } from '$lib/server/messages/incoming-texts';
import { signedBody } from '$lib/web/texts-request';

/** The text gateway hands on what a phone wrote to our number. */
export const POST = async (event) => {
	const { body, context } = await signedBody(event, incomingTextSchema);
	const { db, clock } = context;
	await takeInText(db, clock.now(), body);
	return new Response(null, { status: 204 });
};
