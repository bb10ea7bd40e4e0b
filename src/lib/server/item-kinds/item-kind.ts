import type { AnswerReview } from '$lib/core/items/answer-review';
import type { ItemKind } from '$lib/core/items/item-kinds';
import type { RequestLine } from '$lib/core/requests/request-list';
import type { Actor } from '../actor';
import type { Firm } from '../firms/firm';
import type { LetterParties } from '../letters/prepare-letter';
import type { Database, Tx } from '../platform/db/database';
import type { PaperStore } from '../platform/files/paper-store';
import type { PdfWork } from '../platform/pdf/pdf-work';
import type { LockedOf } from '../items/change-item';

/** The fields of a form: one value each, or several where several are ticked. */
export type TypedForm = Readonly<Record<string, unknown>>;
/** What is written down as an answer: in words for the firm, and as its kind holds it. */
export interface GivenAnswer {
	answer?: string;
	data?: unknown;
	/** of a questionnaire: what is said of its single answers from now on */
	review?: AnswerReview;
}
export type LineOfKind<Kind extends ItemKind> = Extract<RequestLine, { kind: Kind }>;
/** Where a line is prepared before it is sent. */
export interface Preparing {
	place: { db: Database; pdf: PdfWork; papers: PaperStore };
	firm: Firm;
	clientId: string;
	/** who gets it first */ to: LetterParties & { id: string };
	/** the firm's logo, as a data address of a PNG */ logo: string | null;
	now: string;
}

/** What the server does with the items of a kind, beyond what it does with all of them. */
export interface ServerItemKind<Kind extends ItemKind, Prepared = never> {
	/**
	 * Hands in what the client gives. Asks its rights itself.
	 * @param form as it was sent
	 * @throws through Zod, with keys of the catalogue, or as DomainError what is wrong with it
	 */
	handIn(tx: Tx, actor: Actor, itemId: string, form: TypedForm, place: { secretKey: string }): Promise<void>;
	/** What a client says by phone, as it is written down; facts among it are kept. Left out where it is no matter of one answer. */
	fillIn?(tx: Tx, actor: Actor, item: LockedOf<Kind>, form: TypedForm): Promise<GivenAnswer>;
	/** A line as it stands now, whatever came from the form. @throws DomainError what stands in the way of sending it */
	beforeSending?(
		tx: Tx,
		line: LineOfKind<Kind>,
		at: { clientId: string; firm: Firm; to: LetterParties & { id: string }; now: string }
	): Promise<LineOfKind<Kind>>;
	/** What takes a moment, before the transaction that sends it; undone by `discard` if that fails. */
	prepare?(line: LineOfKind<Kind>, by: Preparing): Promise<Prepared>;
	discard?(prepared: Prepared, place: Preparing['place']): Promise<void>;
	/** What else is written with an item, in the transaction that sends it. */
	afterWriting?(tx: Tx, item: { id: string; clientId: string }, line: LineOfKind<Kind>, prepared: Prepared | undefined, now: string): Promise<void>;
	/** What ends with items that are waived, in the same transaction. */
	onWaiving?(tx: Tx, itemIds: readonly string[]): Promise<void>;
	/** What is taken back with the sending of items, in the same transaction. */
	onUndoSending?(tx: Tx, itemIds: readonly string[]): Promise<void>;
}
