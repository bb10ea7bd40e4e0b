import { makeAnswerCode } from '../../public-pages/answer-page';
import type { MessageKindDefinition } from '../message-kind';

/** The code for a copy of what was answered on a public page: none of the words that somebody wrote there. */
export const answerCode: MessageKindDefinition = {
	byItself: false,
	address: 'as planned',
	async mail(tx, { firm, message: { recipient }, say, finish }) {
		const code = await makeAnswerCode(tx, recipient.id);
		const shown = `${code.slice(0, 4)} ${code.slice(4)}`;
		const written = finish(say('mail.answerCode.subject', { firm: firm.name }), {
			paragraphs: say('mail.answerCode.body', { code: shown, firm: firm.name }).split(/\n{2,}/)
		});
		const blot = (text: string) => text.replaceAll(shown, '…');
		return { ...written, keptText: blot(written.keptText), keptHtml: blot(written.keptHtml) };
	}
};
