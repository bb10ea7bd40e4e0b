import { incomingTextMessageSchema } from '$lib/core/messages/text-message';
import { takeInTextMessage } from '$lib/server/messages/incoming-texts';
import { signedBody } from '$lib/web/texts-request';

/** The text gateway hands on what a phone wrote to our number. */
export const POST = async (event) => {
	const { body, context } = await signedBody(event, incomingTextMessageSchema);
	const { db, clock } = context;
	await takeInTextMessage(db, clock.now(), body);
	return new Response(null, { status: 204 });
};
