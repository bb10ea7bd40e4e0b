/** What is to blame where mail fails at a mailbox that there is, or was: it is full just now, or its owner has moved. */
export type MailboxTrouble = 'full' | 'moved';

/** What an enhanced status code (RFC 3463) says of a mailbox; undefined where it says neither. */
export const troubleOf = (status: string | undefined): MailboxTrouble | undefined =>
	status === '5.2.2' ? 'full' : status === '5.1.6' ? 'moved' : undefined;

/** What is said of it, after what happened. */
export const TROUBLE_WORDS: Record<MailboxTrouble, string> = { full: 'the mailbox is full', moved: 'the mailbox has moved' };

/** The enhanced status code in the answer of a mail server, where it gives one (RFC 2034). */
export const statusIn = (answer: string): string | undefined => /^\d{3}[ -](\d\.\d{1,3}\.\d{1,3})\b/m.exec(answer)?.[1];
