import { makeMailedCode } from '../../people/door-mail';
import { makeFactorCode } from '../../people/text-codes';
import type { MessageKindDefinition } from '../message-kind';

const spaced = (code: string): string => `${code.slice(0, 4)} ${code.slice(4)}`;

export const signInCode: MessageKindDefinition = {
	byItself: false,
	address: 'only theirs',
	async mail(tx, { firm, message: { content }, say, paragraphs, finish }) {
		const code = spaced(await makeMailedCode(tx, content.stepId!));
		const written = finish(say('mail.code.subject', { firm: firm.name }), { paragraphs: paragraphs(say('mail.code.body', { code })) });
		const blot = (text: string) => text.replaceAll(code, '…');
		return { ...written, keptText: blot(written.keptText), keptHtml: blot(written.keptHtml) };
	},
	async text(tx, { firm, message: { content }, say, finish }) {
		const code = content.factorId ? await makeFactorCode(tx, content.factorId) : await makeMailedCode(tx, content.stepId!);
		return finish(say('mail.code.subject', { firm: firm.name }), say('text.code', { code: '{secret}', firm: firm.name }), spaced(code), '…');
	}
};
