/** Whether an enhanced status code (RFC 3463) says that a mailbox is full. */
export const isMailboxFull = (status: string | undefined): boolean => status === '5.2.2';

/** The enhanced status code in the answer of a mail server, where it gives one (RFC 2034). */
export const statusIn = (answer: string): string | undefined => /^\d{3}[ -](\d\.\d{1,3}\.\d{1,3})\b/m.exec(answer)?.[1];
