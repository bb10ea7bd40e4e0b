import { textMessageReportSchema } from '$lib/core/messages/text-message';
import { takeInReport } from '$lib/server/messages/settle-message';
import { signedBody } from '$lib/web/texts-request';

/** The text gateway reports what became of a message. The same report twice changes nothing. */
export const POST = async (event) => {
	const { body, context } = await signedBody(event, textMessageReportSchema);
	const { db, clock } = context;
	const { reference, status, reason } = body;
	await takeInReport(db, clock.now(), { messageId: reference, action: status, reason: reason ?? 'the text gateway reported a failure' });
	return new Response(null, { status: 204 });
};
