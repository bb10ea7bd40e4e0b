import { sendMessage } from '$lib/server/messages/send-message';
import { wallTime } from '$lib/server/platform/clock';
import { enqueue } from '$lib/server/platform/queue';
import type { Job } from '../job';

export const sendMessageJob: Job<'send_message'> = async (payload, { context, place }) => {
	const answer = await sendMessage(place, payload.firmId, payload.messageId);
	if (typeof answer === 'object') await enqueue(context.db, 'send_message', payload, { at: wallTime(context.clock, answer.at) });
};
