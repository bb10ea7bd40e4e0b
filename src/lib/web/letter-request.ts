import type { RequestEvent } from '@sveltejs/kit';
import { DomainError } from '$lib/core/errors/domain-error';
import type { Firm } from '$lib/server/firms/firm';
import type { Tx } from '$lib/server/platform/db/database';
import { findLetterVisitor, type LetterVisitor } from '$lib/server/signing/letter-links';
import { saying } from '$lib/words/sayings';
import { readLetterCookie } from './cookies';
import { firmOfPortal } from './desk-request';
import type { WebContext } from './web-context';

type LetterEvent = Pick<RequestEvent, 'locals' | 'cookies' | 'request'> & { params: { firm: string; link: string } };

/** What a route works with by which somebody signs a letter without signing in. */
export interface LetterRequest {
	context: WebContext;
	firm: Firm;
	locale: string;
	/** what this browser was given at the door of the letter */
	token: string | undefined;
	/**
	 * Who is in, with a transaction for the one letter; null for a browser that was not let in. Of whoever is of the client it sees no more than
	 * they may. Somebody outside may see nothing of the client by rows: theirs is the firm's, and what is read or done with it is of the item
	 * that their link leads to, never of one that is named in what they send.
	 */
	visitor: (LetterVisitor & { inFirm<T>(work: (tx: Tx) => Promise<T>): Promise<T> }) | null;
}

/** @param portal the firm, as `firmOfPortal` read it @throws DomainError not_found for a link that leads nowhere */
export async function letterRequest(event: LetterEvent, { context, firm, locale }: Awaited<ReturnType<typeof firmOfPortal>>): Promise<LetterRequest> {
	const token = readLetterCookie(event.cookies, event.params.link);
	const visitor = await findLetterVisitor(context.db, firm.id, event.locals.actor, event.params.link, token);
	return {
		context,
		firm,
		locale,
		token,
		visitor: visitor && { ...visitor, inFirm: (work) => context.db.inFirm(firm.id, work, visitor.outside ? undefined : visitor.actor.id) }
	};
}

/** Who is in. @throws DomainError changed_meanwhile if the letter was closed to this browser meanwhile */
export function requireVisitor({ visitor }: LetterRequest): NonNullable<LetterRequest['visitor']> {
	if (!visitor) throw new DomainError('changed_meanwhile', saying('wrong.letterLink.out'));
	return visitor;
}
