import { deviceInWords } from '$lib/core/people/device-words';
import { timeWords } from '$lib/words/dates';
import type { MessageKindDefinition } from '../message-kind';

export const newDevice: MessageKindDefinition = {
	byItself: false,
	address: 'as planned',
	mail(_tx, { firm, message: { content, recipient }, place, say, you, paragraphs, act, finish }) {
		const device = deviceInWords(content.device ?? '');
		return finish(say('mail.newDevice.subject', { firm: firm.name }), {
			paragraphs: paragraphs(
				say('mail.newDevice.body', {
					at: timeWords(recipient.locale, content.at ?? place.now, firm.calendar.timeZone),
					device: device ? say('you.device', device) : say('you.device.unknown')
				})
			),
			act: act(say('mail.you.act'), you)
		});
	}
};
