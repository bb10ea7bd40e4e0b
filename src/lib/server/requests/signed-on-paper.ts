import { buffer } from 'node:stream/consumers';
import { z } from 'zod';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { SIGNED_MOST_BYTES } from '$lib/core/items/kinds/letter';
import { asksForAccount } from '$lib/core/signing/places';
import { saying } from '$lib/words/sayings';
import { requireContact, requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { loadFirm } from '../firms/firm';
import { eventAbout, lockItem, moveItem } from '../items/change-item';
import { holdReminders, writeRemark } from '../items/remarks';
import { SCAN_TYPES } from '../papers/possible-scans';
import { openPaperOf, type OpenPaper } from '../papers/papers';
import type { Database, Tx } from '../platform/db/database';
import type { PaperStore } from '../platform/files/paper-store';
import type { FileToArrange, PageSource } from '../platform/pdf/arrange-pages';
import type { PdfWork } from '../platform/pdf/pdf-work';
import { lockOwnLetter, opensAfterCheck, requireOpen, writeSignature } from '../signing/sign-letter';
import { lockSigner } from './replace-signer';

/** Most pages of a letter that was signed by hand. */
const SIGNED_PAGES_MOST = 100;
/** Most files that they came as. */
const SIGNED_FILES_MOST = 20;

/**
 * Says that the pages are there which somebody signed by hand. Until somebody of the firm has looked at them nobody reminds them.
 * @throws DomainError invalid if no file was added or the letter cannot be signed on paper, not_allowed, changed_meanwhile
 */
export async function sendSignedPaper(tx: Tx, actor: Actor, itemId: string): Promise<void> {
	requireContact(actor);
	const { item, letter, own } = await lockOwnLetter(tx, actor, itemId);
	requireOpen(letter, own, 'sign');
	if (await opensAfterCheck(tx, actor, itemId)) throw new DomainError('not_allowed', saying('wrong.check.byLink'));
	// a number of an account is kept encrypted; on paper everybody would read it
	if (asksForAccount(letter.places, own.key)) throw new DomainError('invalid', saying('wrong.paper.account'));
	if (!(await tx.first('select 1 from paper where item_id = $1 and removed_at is null', [itemId])))
		throw new DomainError('invalid', saying('wrong.item.noFile'));
	if (own.on_paper_at) return;
	await tx.rows('update letter_signer set on_paper_at = $2 where id = $1', [own.id, actor.now]);
	await holdReminders(tx, actor, itemId);
	await recordEvent(tx, actor, { verb: 'letter_paper_sent', ...eventAbout(item), details: { title: item.title } });
}

export const takeSignedPaperSchema = z.object({
	signer: z.string().min(1).max(20),
	paperIds: z.array(z.uuid()).min(1, 'Choose the paper that they signed.').max(SIGNED_FILES_MOST, `At most ${SIGNED_FILES_MOST} files.`),
	signedOn: z.iso.date('On which day did they sign?'),
	looked: z.literal('yes', 'Look at it first, and say that it is this letter, whole and signed.')
});

interface Taking extends z.output<typeof takeSignedPaperSchema> {
	itemId: string;
	/** whether a scanner for harmful content is set up */ scanning: boolean;
}

async function requireTakeable(tx: Tx, actor: Actor, input: Taking) {
	requireStaff(actor, 'judge_item');
	const { letter, first, signers, own } = await lockSigner(tx, input);
	if (own.copy) throw new DomainError('invalid', `${own.name} only gets a copy.`);
	requireOpen(letter, own, 'sign');
	if (asksForAccount(letter.places, own.key))
		throw new DomainError(
			'invalid',
			`This letter asks ${own.name} for the number of an account, which is kept encrypted. It cannot be signed on paper.`
		);
	const firm = await loadFirm(tx);
	const [today, sent] = [localDate(actor.now, firm.calendar), localDate(await sentAt(tx, letter.id), firm.calendar)];
	if (input.signedOn > today || input.signedOn < sent)
		throw new DomainError('invalid', 'They signed between the day on which it was sent and today. Put the day right.', {
			signedOn: 'Between the day of sending and today.'
		});
	return { letter, first, signers, own, firm };
}

async function sentAt(tx: Tx, letterId: string): Promise<string> {
	const row = await tx.first<{ at: string }>(
		'select r.sent_at at from letter l join item i on i.id = l.item_id join request r on r.id = i.request_id where l.id = $1',
		[letterId]
	);
	return row!.at;
}

/**
 * Takes pages that somebody of the client signed by hand as their signature. They stand in the sealed file behind the letter, and the
 * certificate says who looked at them. The letter goes on as after any signature.
 * @throws DomainError not_found for a paper of another client, invalid, unreadable_file, changed_meanwhile
 */
export async function takeSignedPaper(
	place: { db: Database; papers: PaperStore; pdf: PdfWork },
	firmId: string,
	actor: Actor,
	input: Taking
): Promise<void> {
	const papers = await place.db.inFirm(firmId, async (tx) => {
		const { letter } = await requireTakeable(tx, actor, input);
		const scans: OpenPaper[] = [];
		for (const paperId of input.paperIds)
			scans.push(await openPaperOf(tx, actor, { clientId: letter.client_id, paperId }, { scanning: input.scanning }));
		return scans;
	});
	const pages = await pagesOf(place, papers);
	const files = papers.map(({ name, sha256 }) => ({ name, sha256 }));
	const stored = await place.papers.putBuffer(pages.pdf);
	let kept = false;
	try {
		await place.db.inFirm(firmId, async (tx) => {
			const { letter, first, signers, own, firm } = await requireTakeable(tx, actor, input);
			const person = (await tx.first<{ email: string | null }>('select email::text from contact where id = $1', [own.contact_id]))!;
			await writeSignature(tx, actor, letter, signers, own, {
				signature: {
					method: 'paper',
					name: own.name,
					on: input.signedOn,
					pages: pages.count,
					files,
					takenBy: actor.name
				},
				email: person.email ?? '',
				consent: '',
				values: {},
				ofContact: own.contact_id!,
				scan: stored
			});
			await recordEvent(tx, actor, {
				verb: 'letter_paper_taken',
				...eventAbout(first),
				details: {
					title: first.title,
					contact: own.name,
					on: input.signedOn,
					file: files.map(({ name }) => name).join(', '),
					sha256: files.map(({ sha256 }) => sha256).join(', ')
				}
			});
			await moveItem(tx, actor, firm, await lockItem(tx, own.item_id!), 'fill_in', { details: { contact: own.name } });
		});
		kept = true;
	} finally {
		if (!kept) await place.papers.remove(stored.key);
	}
}

/** Papers as pages that can stand behind a letter, in their order: a PDF whole, a picture on a page of its own. */
async function pagesOf(place: { papers: PaperStore; pdf: PdfWork }, papers: readonly OpenPaper[]): Promise<{ pdf: Uint8Array; count: number }> {
	const strange = papers.find(({ contentType }) => !SCAN_TYPES.includes(contentType));
	if (strange) throw new DomainError('unreadable_file', `${strange.name} is no PDF and no photo. Choose the scan of what they signed.`);
	if (papers.reduce((sum, { bytes }) => sum + bytes, 0) > SIGNED_MOST_BYTES)
		throw new DomainError('unreadable_file', `Together these are larger than ${SIGNED_MOST_BYTES / 1_000_000} MB. Ask for a smaller scan.`);
	const sources: PageSource[] = [];
	const pages: FileToArrange['pages'] = [];
	for (const [source, { name, contentType, storageKey }] of papers.entries()) {
		const bytes = await buffer(place.papers.read(storageKey));
		const count = contentType === 'application/pdf' ? (await place.pdf.survey(name, bytes)).pages.length : 1;
		sources.push({ name, contentType, bytes });
		pages.push(...Array.from({ length: count }, (_, i) => ({ source, page: i + 1, turn: 0 })));
		if (pages.length > SIGNED_PAGES_MOST)
			throw new DomainError('unreadable_file', `These are more than ${SIGNED_PAGES_MOST} pages. Choose the scan of this letter alone.`);
	}
	const [pdf] = await place.pdf.arrange(sources, [{ title: papers[0].name, pages }]);
	return { pdf, count: pages.length };
}

export const returnSignedPaperSchema = z.object({
	signer: z.string().min(1).max(20),
	reason: z.string().trim().min(1, 'Say what is missing: they read it.').max(1000, 'At most 1,000 characters.')
});

/**
 * Sends pages that were signed by hand back, with what is wrong with them: they can send others, or sign here. They are reminded again.
 * @throws DomainError not_found, changed_meanwhile if none wait to be looked at
 */
export async function returnSignedPaper(tx: Tx, actor: Actor, input: { itemId: string } & z.output<typeof returnSignedPaperSchema>): Promise<void> {
	requireStaff(actor, 'judge_item');
	const { letter, first, own } = await lockSigner(tx, input);
	if (own.state !== 'asked' || !own.on_paper_at || !own.item_id)
		throw new DomainError('changed_meanwhile', `Nothing that ${own.name} signed on paper waits to be looked at. Nothing was changed.`);
	requireOpen(letter, own, 'sign');
	await tx.rows('update letter_signer set on_paper_at = null where id = $1', [own.id]);
	// with it the reminders go on
	await writeRemark(tx, actor, { itemId: own.item_id, words: input.reason, pinned: null });
	await recordEvent(tx, actor, {
		verb: 'letter_paper_returned',
		...eventAbout(first),
		details: { title: first.title, contact: own.name, reason: input.reason }
	});
}
