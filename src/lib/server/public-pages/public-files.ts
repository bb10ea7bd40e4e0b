import { randomUUID } from 'node:crypto';
import type { Readable } from 'node:stream';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { answersOfFiles, type Answers, type Question } from '$lib/core/items/questions';
import { whichApply } from '$lib/core/items/which-apply';
import { isOfSlotType } from '$lib/core/papers/file-name';
import { PUBLIC_FILE_MAX_BYTES, PUBLIC_FILES_MOST } from '$lib/core/public-pages/public-page';
import { saying } from '$lib/words/sayings';
import { requireStaff, type Actor } from '../actor';
import type { OpenPaper } from '../attachments/attachments';
import { recordEvent } from '../audit/record-event';
import { loadFirm } from '../firms/firm';
import { keepFile } from '../papers/keep-file';
import type { PaperRow } from '../items/read-items';
import type { Database, Tx } from '../platform/db/database';
import type { PaperStore } from '../platform/files/paper-store';
import type { RateLimits } from '../platform/rate-limits';
import { lockReceipt, publicQuestions, type LockedReceipt } from './answer-page';

type FileQuestion = Question & { answer: { is: 'file' } };

/** The files of what somebody answered on a public page. */
export function readPublicFiles(tx: Tx, answerId: string): Promise<PaperRow[]> {
	return tx.rows<PaperRow>(
		`select id, name, bytes, content_type "contentType", added_at "uploadedAt", '' as "uploadedBy", slot, encode(sha256, 'hex') sha256
		from public_file where answer_id = $1 order by added_at, id`,
		[answerId]
	);
}

/** The questions that want files of whoever answered as they did. */
async function questionsForFiles(tx: Tx, actor: Actor, receipt: LockedReceipt, files: readonly PaperRow[]): Promise<FileQuestion[]> {
	const today = localDate(actor.now, (await loadFirm(tx)).calendar);
	const questions = await publicQuestions(tx, receipt.questions, today);
	const answers: Answers = { ...receipt.answers, ...answersOfFiles(questions, files) };
	const applies = whichApply(questions, answers, null, today);
	return questions.filter((question): question is FileQuestion => question.answer.is === 'file' && applies.get(question.key) === 'yes');
}

/** Which files whoever answered may add, and those that they have added. */
export interface PublicFiles {
	questions: FileQuestion[];
	files: PaperRow[];
	/** the firm has dealt with the answers: nothing is added any more */
	dealt: boolean;
}

/** @throws DomainError not_found as `readReceipt` does */
export async function readFilesWanted(tx: Tx, actor: Actor, token: string): Promise<PublicFiles> {
	const receipt = await lockReceipt(tx, actor, token);
	const files = await readPublicFiles(tx, receipt.id);
	const dealt = receipt.outcome !== null;
	// what was taken over are papers of a client by now
	return { questions: dealt ? [] : await questionsForFiles(tx, actor, receipt, files), files: dealt ? [] : files, dealt };
}

/**
 * Whoever answered may add files to it.
 * @throws DomainError not_allowed before the address is confirmed, changed_meanwhile once the firm has dealt with it
 */
export async function requireConfirmed(tx: Tx, actor: Actor, token: string): Promise<LockedReceipt> {
	const receipt = await lockReceipt(tx, actor, token);
	if (!receipt.confirmed) throw new DomainError('not_allowed', saying('wrong.public.confirmFirst'));
	if (receipt.outcome !== null) throw new DomainError('changed_meanwhile', saying('wrong.public.dealt'));
	return receipt;
}

/** @throws DomainError as `requireConfirmed` does, not_found, too_many */
async function requireRoom(tx: Tx, actor: Actor, token: string, slot: string): Promise<{ receipt: LockedReceipt; question: FileQuestion }> {
	const receipt = await requireConfirmed(tx, actor, token);
	const files = await readPublicFiles(tx, receipt.id);
	const question = (await questionsForFiles(tx, actor, receipt, files)).find(({ key }) => key === slot);
	if (!question) throw new DomainError('not_found', saying('wrong.line.unknown'));
	if (files.length >= PUBLIC_FILES_MOST) throw new DomainError('too_many', saying('wrong.public.files', { max: PUBLIC_FILES_MOST }));
	return { receipt, question };
}

/**
 * Takes in a file of somebody who answered on a public page and has shown by a code that their address is theirs. Until then nothing of it
 * is read.
 * @throws DomainError not_allowed, not_found, changed_meanwhile, too_many, unreadable_file, storage_full
 */
export async function takePublicFile(
	place: { db: Database; papers: PaperStore; limits: RateLimits },
	firmId: string,
	actor: Actor,
	input: { receipt: string; slot: string; name: string; content: Readable; signal?: AbortSignal }
): Promise<{ id: string }> {
	const allowed = (tx: Tx) => requireRoom(tx, actor, input.receipt, input.slot);
	await place.db.inFirm(firmId, allowed);
	await place.limits.publicFile(actor.ip);
	return keepFile(place.papers, input, PUBLIC_FILE_MAX_BYTES, async ({ name, contentType, stored }) => {
		return await place.db.inFirm(firmId, async (tx) => {
			const { receipt, question } = await allowed(tx);
			const { accepts } = question.answer as Extract<Question['answer'], { is: 'file' }>;
			if (!isOfSlotType(contentType, accepts))
				throw new DomainError('unreadable_file', saying('wrong.paper.slot', { name, slot: question.title, type: accepts }));
			const id = randomUUID();
			await tx.rows(
				`insert into public_file (id, firm_id, answer_id, slot, name, bytes, sha256, content_type, storage_key, added_at)
				values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)`,
				[id, firmId, receipt.id, question.key, name, stored.bytes, stored.sha256, contentType, stored.key, actor.now]
			);
			await recordEvent(tx, actor, { verb: 'public_file_added', details: { name, title: receipt.title } });
			return { id };
		});
	});
}

/** Takes a file out again, before the firm has dealt with the answers. @throws DomainError not_found, changed_meanwhile */
export async function removePublicFile(
	place: { db: Database; papers: Pick<PaperStore, 'remove'> },
	firmId: string,
	actor: Actor,
	input: { receipt: string; fileId: string }
): Promise<void> {
	const key = await place.db.inFirm(firmId, async (tx) => {
		const receipt = await lockReceipt(tx, actor, input.receipt);
		if (receipt.outcome !== null) throw new DomainError('changed_meanwhile', saying('wrong.public.dealt'));
		const gone = await tx.first<{ key: string }>('delete from public_file where id = $1 and answer_id = $2 returning storage_key as key', [
			input.fileId,
			receipt.id
		]);
		return gone?.key;
	});
	if (key) await place.papers.remove(key);
}

/** A file of what somebody answered, for a person of the firm. @throws DomainError not_found */
export async function openPublicFile(tx: Tx, actor: Actor, input: { answerId: string; fileId: string }): Promise<OpenPaper> {
	requireStaff(actor, 'look');
	const file = await tx.first<OpenPaper>(
		'select name, content_type "contentType", bytes, storage_key "storageKey" from public_file where id = $1 and answer_id = $2',
		[input.fileId, input.answerId]
	);
	if (!file) throw new DomainError('not_found', 'This file is not here any more. If the answers were taken over, it is in the client’s record.');
	return file;
}

/**
 * Makes the files of an answer papers of the client whose item it became.
 * @returns them as answers to their questions
 */
export async function moveFilesToItem(
	tx: Tx,
	answer: { id: string; questions: readonly Question[] },
	to: { clientId: string; itemId: string; contactId: string }
): Promise<Answers> {
	const files = await readPublicFiles(tx, answer.id);
	await tx.rows(
		`insert into paper (id, firm_id, client_id, item_id, name, bytes, sha256, content_type, storage_key, uploaded_by_contact_id, uploaded_at, slot)
		select id, firm_id, $2, $3, name, bytes, sha256, content_type, storage_key, $4, added_at, slot from public_file where answer_id = $1`,
		[answer.id, to.clientId, to.itemId, to.contactId]
	);
	await tx.rows('delete from public_file where answer_id = $1', [answer.id]);
	return answersOfFiles(answer.questions, files);
}
