/** Most files that are taken out of one mail. */
export const MAIL_FILES_MOST = 30;
/** The largest mail that is taken, in bytes as it is sent: files become a third larger on the way. */
export const MAIL_MOST_BYTES = 50 * 1024 * 1024;
/** Servers that a mail may have gone through; one that goes in circles passes more. */
const HOPS_MOST = 50;
/** A picture that stands in the words of a mail and is smaller, in bytes, is part of a signature. */
const SIGNATURE_PICTURE = 24 * 1024;

/** What the head of a mail says of how it came. */
export interface MailHead {
	/** whom the envelope names as sender; empty for reports, which nobody must answer (RFC 5321, 4.5.5) */
	returnPath: string;
	/** Auto-Submitted (RFC 3834), empty if it is not there */
	autoSubmitted: string;
	/** Precedence, empty if it is not there */
	precedence: string;
	/** one of the headers by which programs say that they answer while somebody is out of office */
	outOfOffice: boolean;
	/** how many servers passed it on (Received) */
	hops: number;
	/** Authentication-Results (RFC 8601) of the last server before us; empty if it is not there */
	authentication: string;
}

/** The address of a client at which papers come in: its secret part and the domain. */
export const papersAddress = (key: string, domain: string): string => `papers-${key}@${domain}`;

/** The secret part of an address for papers; null if it is none of that form. */
export function keyOfAddress(address: string, domain: string): string | null {
	const [, key, at] = /^papers-([0-9a-f]{20})@(.+)$/.exec(address.toLowerCase()) ?? [];
	return key && at === domain.toLowerCase() ? key : null;
}

/** Whether a mail goes in circles. */
export const goesInCircles = ({ hops }: MailHead): boolean => hops > HOPS_MOST;

/**
 * Whether nobody wrote a mail to us: reports, answers of programs, and, where it brings no file, what is sent to lists or by
 * programs. A bank's program that sends a statement is none of these.
 * @param files how many files it brings
 */
export function writtenByNobody(head: MailHead, files: number): boolean {
	if (head.returnPath === '' || head.outOfOffice || /^auto-replied/i.test(head.autoSubmitted)) return true;
	return files === 0 && ((head.autoSubmitted !== '' && !/^no\b/i.test(head.autoSubmitted)) || /^(bulk|list|junk)\b/i.test(head.precedence));
}

/** What the servers on the way found out about the sender, by method. */
export type Authentication = Partial<Record<'spf' | 'dkim' | 'dmarc', string>>;

/** Reads what Authentication-Results (RFC 8601, 2.2) says of the three methods. Of a method named twice a pass counts. */
export function readAuthentication(header: string): Authentication {
	const found: Authentication = {};
	// what stands in brackets is a remark
	for (const [, method, result] of header.replace(/\([^)]*\)/g, ' ').matchAll(/(?:^|[;\s])(spf|dkim|dmarc)\s*=\s*([a-z]+)/gi)) {
		const name = method.toLowerCase() as keyof Authentication;
		if (found[name] !== 'pass') found[name] = result.toLowerCase();
	}
	return found;
}

/** Whether the servers on the way say that the mail is not from whom it names. Where they say nothing, nothing speaks against it. */
export function isContradicted({ spf, dkim, dmarc }: Authentication): boolean {
	if (dmarc === 'pass') return false;
	if (dmarc === 'fail') return true;
	return dkim !== 'pass' && (spf === 'fail' || spf === 'softfail' || dkim === 'fail');
}

/** Whether the servers on the way say that the mail is from whom it names: only then may what it brings find its place by itself. */
export const isConfirmed = (found: Authentication): boolean => !isContradicted(found) && Object.values(found).includes('pass');

/** A part of a mail that may be a file somebody sends. */
export interface MailPart {
	name: string;
	contentType: string;
	bytes: number;
	/** stands in the words of the mail, as a logo does */
	inWords: boolean;
}

/** Whether a part is what mail programs add by themselves: signatures of either kind, visiting cards, invitations to a meeting. */
export function isClutter({ contentType, bytes, inWords }: MailPart): boolean {
	if (inWords && contentType.startsWith('image/') && bytes < SIGNATURE_PICTURE) return true;
	return /^(application\/(x-)?pkcs7-signature|application\/pgp-(signature|keys)|text\/(x-)?vcard|text\/calendar|message\/delivery-status)$/.test(
		contentType
	);
}

/** Why a mail waits to be let in. */
export type Held = 'unknown' | 'contradicted';
/** Why a file of a mail was not kept. */
export type LeftOut = 'kind' | 'empty' | 'many';

/** Whether what a mail brings has to wait, and why. @param known whether its sender is somebody of the client or of the firm */
export function heldBecause(known: boolean, authentication: Authentication): Held | null {
	if (isContradicted(authentication)) return 'contradicted';
	return known ? null : 'unknown';
}
