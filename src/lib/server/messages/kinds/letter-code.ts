import { codeInWords } from '../../platform/tokens';
import { makeLetterCode } from '../links';
import { withoutCode, type MessageKindDefinition } from '../message-kind';

/** The code that opens a letter to somebody who signs it by a link of their own. */
export const letterCode: MessageKindDefinition = {
	byItself: false,
	address: 'only theirs',
	async mail(tx, { firm, message: { content }, say, paragraphs, finish }) {
		const code = codeInWords(await makeLetterCode(tx, content.visitId!));
		const body = say('mail.letterCode.body', { code, title: content.itemTitle ?? '', firm: firm.name });
		return withoutCode(finish(say('mail.letterCode.subject', { firm: firm.name }), { paragraphs: paragraphs(body) }), code);
	},
	async text(tx, { firm, message: { content }, say, finish }) {
		const code = codeInWords(await makeLetterCode(tx, content.visitId!));
		return finish(say('mail.letterCode.subject', { firm: firm.name }), say('text.letterCode', { code: '{secret}', firm: firm.name }), code, '…');
	}
};
