import type { CheckService } from './identity-check';

/**
 * How somebody of the client comes to a letter: signed in to their portal; or without a sign-in by a link of their own, alone, or with a
 * code that goes to their address or their phone before it is shown, or with a code and questions of a service that checks identities.
 */
export const SIGNING_WAYS = ['portal', 'link_mail', 'link_text', 'link_check', 'link'] as const;
export type SigningWay = (typeof SIGNING_WAYS)[number];

/** Minutes for which a code that opens a letter is good. */
export const LETTER_CODE_MINUTES = 10;
/** Wrong codes after which another one has to be sent. */
export const LETTER_CODE_TRIES = 5;
/** Hours for which a browser that was let in to a letter stays in. */
export const LETTER_VISIT_HOURS = 8;
/** Days for which the sealed letter is found by the link with which it was signed. */
export const SEALED_BY_LINK_DAYS = 30;

/** Whether a code is sent before the letter is shown. */
export const asksCode = (way: SigningWay): boolean => way === 'link_mail' || way === 'link_text' || way === 'link_check';

/** How somebody comes to a letter, as it stands at the desk after “signs” or “has signed”. */
export function wayWords(way: Exclude<SigningWay, 'portal'>): string {
	switch (way) {
		case 'link':
			return 'by a link of their own alone';
		case 'link_mail':
			return 'by a link of their own and a code by e-mail';
		case 'link_text':
			return 'by a link of their own and a code by text message';
		case 'link_check':
			return 'by a link of their own, a code by e-mail and an identity check';
	}
}

/** The same where it is chosen, with what it costs. @param check the service that checks identities; null where none is set up */
export const wayChoice = (way: SigningWay, check: CheckService | null): string =>
	way === 'portal'
		? 'on their page, signed in'
		: way === 'link_check'
			? `${wayWords(way)} (${check ? `costs ${check.costs}` : 'not set up'})`
			: wayWords(way);

/**
 * The ways that can be chosen for somebody.
 * @param now the way that is chosen, which stays among them
 */
export const waysFor = (who: { outside: boolean; check: CheckService | null; now: SigningWay }): SigningWay[] =>
	SIGNING_WAYS.filter((way) => way === who.now || (way === 'portal' ? !who.outside : way === 'link_check' ? who.check !== null : true));

/**
 * An address or a number as it is shown to somebody who may not be its owner: enough for the owner to know which it is.
 * @param to an e-mail address, or a phone number (E.164)
 */
export function hinted(to: string): string {
	const [name, domain] = to.split('@');
	return domain ? `${name.slice(0, 1)}***@${domain}` : `*** ${to.slice(-3)}`;
}
