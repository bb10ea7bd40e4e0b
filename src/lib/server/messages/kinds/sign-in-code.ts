import { makeMailedCode } from '../../people/door-mail';
import { makeFactorCode } from '../../people/text-codes';
import { codeInWords } from '../../platform/tokens';
import { withoutCode, type MessageKindDefinition } from '../message-kind';

export const signInCode: MessageKindDefinition = {
	byItself: false,
	address: 'only theirs',
	async mail(tx, { firm, message: { content }, say, paragraphs, finish }) {
		const code = codeInWords(await makeMailedCode(tx, content.stepId!));
		return withoutCode(finish(say('mail.code.subject', { firm: firm.name }), { paragraphs: paragraphs(say('mail.code.body', { code })) }), code);
	},
	async text(tx, { firm, message: { content }, say, finish }) {
		const code = content.factorId ? await makeFactorCode(tx, content.factorId) : await makeMailedCode(tx, content.stepId!);
		return finish(say('mail.code.subject', { firm: firm.name }), say('text.code', { code: '{secret}', firm: firm.name }), codeInWords(code), '…');
	}
};
