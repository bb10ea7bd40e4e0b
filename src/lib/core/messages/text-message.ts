import { plainLetters } from '../people/plain-letters';
import { z } from 'zod';

/** GSM 7-bit default alphabet (3GPP TS 23.038, 6.2.1); those of the extension table take two places. */
const BASIC = new Set(
	'@£$¥èéùìòÇ\nØø\rÅåΔ_ΦΓΛΩΠΨΣΘΞÆæßÉ !"#¤%&\'()*+,-./0123456789:;<=>?¡ABCDEFGHIJKLMNOPQRSTUVWXYZÄÖÑÜ§¿abcdefghijklmnopqrstuvwxyzäöñüà'
);
const EXTENDED = new Set('^{}\\[~]|€\f');

/**
 * How many messages the network makes of a text (3GPP TS 23.040, 9.2.3.24.1): 160 places of the GSM alphabet, or 70 of
 * UCS-2 if one sign is outside it; in parts of 153 or 67 when it is longer.
 */
export function textMessageParts(words: string): { parts: number; places: number; alphabet: 'gsm' | 'ucs2' } {
	const signs = [...words];
	const gsm = signs.every((sign) => BASIC.has(sign) || EXTENDED.has(sign));
	const places = gsm ? signs.reduce((sum, sign) => sum + (EXTENDED.has(sign) ? 2 : 1), 0) : words.length;
	const [single, part] = gsm ? [160, 153] : [70, 67];
	return { parts: places <= single ? 1 : Math.ceil(places / part), places, alphabet: gsm ? 'gsm' : 'ucs2' };
}

/** Signs that word processors put in and the GSM alphabet lacks, by plain ones that mean the same: a text stays short. */
export function plainSigns(words: string): string {
	return words
		.replace(/[‘’‚‛]/g, "'")
		.replace(/[“”„]/g, '"')
		.replace(/[–—]/g, '-')
		.replace(/…/g, '...')
		.replace(/\u00a0/g, ' ');
}

/** The words a person writes into a text message; the link follows them. */
export const TEXT_MESSAGE_MAX = 300;

/** What an answer by text means to a machine: the words that mobile networks reserve, in English and French. */
export function meaningOfAnswer(words: string): 'stop' | 'start' | null {
	const bare = plainLetters(words.trim().replace(/[.!"']/g, ''));
	if (['stop', 'stopall', 'stop all', 'unsubscribe', 'cancel', 'end', 'quit', 'arret'].includes(bare)) return 'stop';
	return ['start', 'unstop', 'yes start'].includes(bare) ? 'start' : null;
}

/** What a text gateway reports about a message it took. */
export const textMessageReportSchema = z.object({
	reference: z.uuid(),
	status: z.enum(['delivered', 'failed']),
	reason: z.string().max(200).optional()
});

/** What a gateway hands on when a phone writes to our number. */
export const incomingTextMessageSchema = z.object({
	id: z.string().min(1).max(100),
	from: z.string().regex(/^\+[1-9][0-9]{6,14}$/),
	text: z.string().max(2000)
});
