/** The address at which an answer to a message of ours comes in: which message, signed, and the domain. At most 64 characters before the @ (RFC 5321, 4.5.3.1.1). */
export const replyAddress = (messageId: string, signature: string, domain: string): string =>
	`re-${messageId.replaceAll('-', '')}-${signature}@${domain}`;

/** Which message an address is for, and the signature by which we know that we gave it out; null if it is none of that form. */
export function readReplyAddress(address: string, domain: string): { messageId: string; signature: string } | null {
	const [, a, b, c, d, e, signature, at] =
		/^re-([0-9a-f]{8})([0-9a-f]{4})([0-9a-f]{4})([0-9a-f]{4})([0-9a-f]{12})-([0-9a-f]{16})@(.+)$/.exec(address.toLowerCase()) ?? [];
	return signature && at === domain.toLowerCase() ? { messageId: [a, b, c, d, e].join('-'), signature } : null;
}
