import { makeAnswerCode } from '../../public-pages/answer-page';
import { codeInWords } from '../../platform/tokens';
import { withoutCode, type MessageKindDefinition } from '../message-kind';

/** The code for a copy of what was answered on a public page: none of the words that somebody wrote there. */
export const answerCode: MessageKindDefinition = {
	byItself: false,
	address: 'as planned',
	async mail(tx, { firm, message: { recipient }, say, finish }) {
		const code = codeInWords(await makeAnswerCode(tx, recipient.id));
		const paragraphs = say('mail.answerCode.body', { code, firm: firm.name }).split(/\n{2,}/);
		return withoutCode(finish(say('mail.answerCode.subject', { firm: firm.name }), { paragraphs }), code);
	}
};
