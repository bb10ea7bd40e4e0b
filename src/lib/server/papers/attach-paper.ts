import { DomainError } from '$lib/core/errors/domain-error';
import { requireStaff, type Actor } from '../actor';
import { takeInAttachment, type AttachmentRow } from '../attachments/attachments';
import type { Database, Tx } from '../platform/db/database';
import type { PaperStore } from '../platform/files/paper-store';
import { readPapers } from './client-papers';
import { openPaperOf } from './papers';

/** A PDF among the papers of a client. */
export interface ClientPdf {
	id: string;
	name: string;
	at: string;
	folder: string | null;
}

/** The PDFs of a client that could be signed, the newest first, or those in which some words are found. @throws DomainError not_found */
export async function findPdfs(tx: Tx, actor: Actor, input: { clientId: string; typed: string }): Promise<{ pdfs: ClientPdf[]; more: boolean }> {
	requireStaff(actor, 'send_request');
	if (!(await tx.first('select 1 from client where id = $1', [input.clientId]))) throw new DomainError('not_found', 'There is no such client.');
	const { papers, more } = await readPapers(tx, actor, { clientId: input.clientId, typed: input.typed, kind: 'pdf' });
	return { pdfs: papers.filter(({ keptApart }) => keptApart === null).map(({ id, name, at, folder }) => ({ id, name, at, folder })), more };
}

/**
 * Takes a copy of a client's paper as a file of the firm, to be signed by that client: what becomes of the paper later changes nothing of it.
 * @param input.scanning whether a scanner for harmful content is set up
 * @throws DomainError not_found, also for a paper of another client; what `openPaper` and `takeInAttachment` throw
 */
export async function attachPaper(
	place: { db: Database; papers: PaperStore },
	firmId: string,
	actor: Actor,
	input: { clientId: string; paperId: string; scanning: boolean }
): Promise<AttachmentRow> {
	requireStaff(actor, 'send_request');
	const { clientId, paperId, scanning } = input;
	const paper = await place.db.inFirm(firmId, (tx) => openPaperOf(tx, actor, { clientId, paperId }, { scanning }));
	return takeInAttachment(place, firmId, actor, { name: paper.name, content: place.papers.read(paper.storageKey) });
}
