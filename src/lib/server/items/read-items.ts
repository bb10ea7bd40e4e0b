import { addToInstant } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import type { ClientState } from '$lib/core/clients/client-states';
import { type ItemState } from '$lib/core/requests/item-states';
import { mayGoOnWith } from '$lib/core/items/go-on';
import type { OpenThing } from '$lib/core/requests/asked-already';
import type { ItemText } from '$lib/core/requests/item-text';
import type { FirmFacts } from '$lib/core/facts/fact-definition';
import type { AnswerReview } from '$lib/core/items/answer-review';
import type { Question } from '$lib/core/items/questions';
import type { AnswerData, ItemKind, OfKind } from '$lib/core/items/item-kinds';
import type { TypedFields } from '$lib/core/requests/typed';
import { textChangesSchema, type TextChanges } from '$lib/core/signing/changes';
import type { LetterState } from '$lib/core/signing/letter-states';
import { placesSchema, type Place } from '$lib/core/signing/places';
import type { SignerState } from '$lib/core/signing/routing';
import type { SigningWay } from '$lib/core/signing/ways';
import type { LetterDocument } from '$lib/core/letters/letter-document';
import { saying } from '$lib/words/sayings';
import type { AttachmentRow } from '../attachments/attachments';
import { requireContact, requireStaff, type Actor } from '../actor';
import { isShownTo, loadFacts } from '../facts/firm-facts';
import { IS_THEIRS_TO_READ } from './own-item';
import type { Tx } from '../platform/db/database';
import { withSpec } from './change-item';

export interface PaperRow {
	id: string;
	name: string;
	bytes: number;
	contentType: string;
	uploadedAt: string;
	uploadedBy: string | null;
	/** which named file of the item it is */
	slot: string | null;
	/** of its bytes, in hexadecimal */
	sha256: string;
}

interface ItemBase {
	id: string;
	title: string;
	why: string | null;
	/** the same words with emphasis, lists, links and pictures */
	text: ItemText | null;
	required: boolean;
	dueOn: string | null;
	state: ItemState;
	stateAt: string;
	reason: string | null;
	answer: string | null;
	heading: string;
	attachments: AttachmentRow[];
	acceptsItself: boolean;
	askedTimeUntil: string | null;
	/** remarks of both sides, and how many of the client's the firm has not seen, and the other way round */
	remarks: number;
	/** somebody of the client has asked something about it: nobody is reminded of it until it is answered */
	asksUs: boolean;
	unseenByFirm: number;
	unseenByClient: number;
	version: number;
	nextChaseOn: string | null;
	chasesSent: number;
	contactId: string;
	contactName: string;
	clientId: string;
	clientName: string;
	/** locked and ended clients are only read */
	clientState: ClientState;
	requestId: string;
	requestTitle: string;
	/** a contact began the request with a form of the firm's */
	raised: boolean;
	papers: PaperRow[];
	letter: ItemLetter | null;
	/** who signed the answers last, and whether the sealed file is there yet */
	signed: { name: string; at: string; sealed: boolean } | null;
	/** what was said of single answers of a questionnaire */
	review: AnswerReview;
	/** keys of questions whose answers whoever reads may not see */
	withheld: string[];
	/** who last judged the item, for "X wrote" */
	lastActor: string | null;
}
/** A letter, as the item of one of those who sign it shows it. */
export interface ItemLetter {
	id: string;
	state: LetterState;
	pages: number;
	/** the last day on which it can be signed; null for no end */
	lapsesOn: string | null;
	sealedAt: string | null;
	/** by the one whom the item asks */
	shownWholeAt: string | null;
	sha256: string;
	/** made of files: its pages are shown as they are, not its words */
	ofFiles: boolean;
	/** everybody who signs, in the order in which they are asked, and then who gets a copy */
	signers: {
		key: string;
		name: string;
		side: 'client' | 'firm';
		copy: boolean;
		state: SignerState;
		own: boolean;
		staffId: string | null;
		/** how they come to it */ by: SigningWay;
		/** they are not of the client */ outside: boolean;
		/** when they sent pages that they signed by hand, which nobody has looked at yet */ onPaperAt: string | null;
		/** they signed by hand */ onPaper: boolean | null;
		signedAt: string | null;
	}[];
}
/** One item of a kind, and one of any. */
export type ItemOf<Kind extends ItemKind> = OfKind<
	Kind,
	ItemBase & { /** the answer where it is more than words */ answerData: AnswerData[Kind] | null }
>;
export type ItemRow = { [Kind in ItemKind]: ItemOf<Kind> }[ItemKind];

const ITEM_COLUMNS = `i.id, i.kind, i.title, i.why, i.text, i.required, i.due_on as "dueOn", i.state, i.state_at as "stateAt", i.reason, i.answer, i.answer_data as "answerData", i.answer_review as review, '{}'::text[] withheld, i.heading, i.spec, i.accepts_itself as "acceptsItself", i.asked_time_until as "askedTimeUntil", i.asks_us as "asksUs", i.version,
	(select count(*) from remark m where m.item_id = i.id) remarks,
	(select count(*) from remark m where m.item_id = i.id and m.contact_id is not null and m.seen_at is null) "unseenByFirm",
	(select count(*) from remark m where m.item_id = i.id and m.staff_id is not null and m.seen_at is null) "unseenByClient",
	case when i.attachments = '{}' then '[]' else (select coalesce(json_agg(json_build_object('id', a.id, 'name', a.name, 'bytes', a.bytes, 'contentType', a.content_type) order by array_position(i.attachments, a.id)), '[]')
		from attachment a where a.id = any (i.attachments)) end attachments,
	i.next_chase_on as "nextChaseOn", i.chases_sent as "chasesSent", i.contact_id as "contactId",
	coalesce((select name from contact where id = i.contact_id), '') as "contactName", i.client_id as "clientId", cl.name as "clientName", cl.state as "clientState",
	i.request_id as "requestId", r.title as "requestTitle", r.raised_by_id is not null as raised,
	coalesce((select json_agg(json_build_object('id', p.id, 'name', p.name, 'bytes', p.bytes, 'contentType', p.content_type,
		'uploadedAt', to_iso(p.uploaded_at), 'uploadedBy', (select name from contact where id = p.uploaded_by_contact_id), 'slot', p.slot, 'sha256', encode(p.sha256, 'hex')) order by p.uploaded_at)
		from paper p where p.item_id = i.id and p.removed_at is null), '[]') papers,
	(select json_build_object('id', l.id, 'state', l.state, 'pages', l.pages, 'lapsesOn', l.lapses_on, 'sealedAt', to_iso(l.sealed_at), 'shownWholeAt', to_iso(s.shown_whole_at), 'sha256', encode(l.sha256, 'hex'), 'ofFiles', l.documents <> '[]',
		'signers', (select json_agg(json_build_object('key', o.key, 'name', coalesce(g.name, o.name), 'side', o.side, 'copy', o.copy, 'state', o.state, 'own', o.id = s.id, 'staffId', o.staff_id, 'by', coalesce(g.signed_by_way, o.signs_by), 'outside', o.outside, 'onPaperAt', case when o.state = 'asked' then to_iso(o.on_paper_at) end, 'onPaper', g.mark ->> 'method' = 'paper', 'signedAt', to_iso(g.signed_at)) order by o.position)
			from letter_signer o left join signature g on g.letter_id = o.letter_id and g.rank = o.position where o.letter_id = l.id))
		from letter_signer s join letter l on l.id = s.letter_id where s.item_id = i.id) letter,
	case when i.kind = 'questionnaire' then (select json_build_object('name', s.name, 'at', to_iso(s.signed_at), 'sealed', s.sealed_key is not null)
		from signed_answers s where s.item_id = i.id order by s.signed_at desc limit 1) end signed,
	(select actor_name from event e where e.item_id = i.id and e.actor_kind = 'staff' and e.verb in ('item_sent_back', 'item_reopened') order by e.id desc limit 1) "lastActor"`;
const ITEM_SOURCE = 'item i join client cl on cl.id = i.client_id join request r on r.id = i.request_id';

/** Everything asked of a client, latest request first, its items in the order they were written. */
export async function readItemsOfClient(tx: Tx, actor: Actor, clientId: string): Promise<ItemRow[]> {
	requireStaff(actor, 'look');
	const items = await tx.rows<ItemRow>(
		`select ${ITEM_COLUMNS} from ${ITEM_SOURCE} where i.client_id = $1 order by r.sent_at desc, r.id, i.position`,
		[clientId]
	);
	return withoutWithheld(tx, actor, items.map(withSpec));
}

/** Whether somebody of the firm may read the answer to a question: not if it becomes a fact that they may not see, or a secret. */
export function mayReadAnswer(actor: Actor, facts: FirmFacts, { fact: name }: Pick<Question, 'fact'>): boolean {
	const fact = name ? facts.get(name) : undefined;
	return !fact || isShownTo(actor, fact);
}

/** Items without the answers that somebody may not read; only questionnaires have any. */
async function withoutWithheld(tx: Tx, actor: Actor, items: readonly ItemRow[]): Promise<ItemRow[]> {
	if (!items.some(({ kind }) => kind === 'questionnaire')) return [...items];
	const facts = await loadFacts(tx);
	return items.map((item) => {
		if (item.kind !== 'questionnaire') return item;
		const withheld = item.spec.questions.flatMap((question) => (mayReadAnswer(actor, facts, question) ? [] : [question.key]));
		if (withheld.length === 0) return item;
		const readable = <Of>(of: Readonly<Record<string, Of>>) => Object.fromEntries(Object.entries(of).filter(([key]) => !withheld.includes(key)));
		const { seen, corrected, ...review } = item.review;
		return {
			...item,
			withheld,
			answerData: item.answerData && readable(item.answerData),
			review: { ...review, ...(seen ? { seen: readable(seen) } : {}), ...(corrected ? { corrected: readable(corrected) } : {}) }
		};
	});
}

/** What is open with a client now, for whoever is about to ask for more. */
export function readOpenThings(tx: Tx, actor: Actor, clientId: string): Promise<OpenThing[]> {
	requireStaff(actor, 'look');
	return tx.rows<OpenThing>(
		`select i.id, i.title, i.due_on as "dueOn", i.account_id as "accountId", i.period_to as "periodTo", r.title as "requestTitle"
		from item i join request r on r.id = i.request_id where i.client_id = $1 and i.phase = 'open' order by i.due_on nulls last, i.id`,
		[clientId]
	);
}

/** One item as the firm sees it. @throws DomainError not_found */
export async function readItem(tx: Tx, actor: Actor, itemId: string): Promise<ItemRow> {
	requireStaff(actor, 'look');
	const item = itemOrNotFound(await tx.first<ItemRow>(`select ${ITEM_COLUMNS} from ${ITEM_SOURCE} where i.id = $1`, [itemId]));
	return (await withoutWithheld(tx, actor, [item]))[0];
}

function itemOrNotFound<Line extends ItemRow>(item: Line | null): Line {
	if (!item) throw new DomainError('not_found', saying('wrong.item.unknown'));
	return withSpec(item);
}

/**
 * Everything asked of a contact's clients, what was sent back first, then open items by due date, then what is done,
 * newest first. Row-level security keeps other clients out.
 */
export async function readOwnItems(tx: Tx, actor: Actor): Promise<ItemRow[]> {
	requireContact(actor);
	const items = await tx.rows<ItemRow>(
		// of a letter that they sign themselves, what others are asked is not theirs
		`select ${ITEM_COLUMNS} from ${ITEM_SOURCE}
		where i.kind <> 'letter' or i.contact_id = $1
			or not exists (select from letter_signer o join letter_signer m on m.letter_id = o.letter_id where o.item_id = i.id and m.contact_id = $1 and not m.copy)
		order by case when i.state = 'sent_back' then 0 when i.phase = 'open' then 1 when i.phase = 'to_look_at' then 2 else 3 end,
			case when i.phase = 'open' then i.due_on end nulls last,
			case when i.phase <> 'open' then i.state_at end desc, i.position`,
		[actor.id]
	);
	return items.map(withSpec);
}

/** An item as its contact sees it: also what they have typed and not sent, and whether they may still go on with what they handed in. */
export type OwnItem = ItemRow & { typed: TypedFields; mayGoOn: boolean };

/** One item as its contact sees it. @throws DomainError not_found */
export async function readOwnItem(tx: Tx, actor: Actor, itemId: string): Promise<OwnItem> {
	requireContact(actor);
	const item = itemOrNotFound(
		await tx.first<ItemRow & { typed: TypedFields; looked: boolean }>(
			`select ${ITEM_COLUMNS}, i.typed, i.looked_at is not null looked from ${ITEM_SOURCE} where i.id = $1 and ${IS_THEIRS_TO_READ('$2')}`,
			[itemId, actor.id]
		)
	);
	// of others of their client a contact's transaction knows the name alone, and only by being asked for it
	const asked = item.contactId === actor.id ? null : await tx.first<{ name: string }>(`select coalesce(name_beside($1), '') name`, [item.contactId]);
	return { ...item, contactName: asked?.name ?? item.contactName, mayGoOn: mayGoOnWith(item) };
}

/** What a contact did with an item in the last minutes, for the word after it. */
export type JustDone = 'sent' | 'said_no' | 'declined' | 'later' | 'taken_back';
const JUST_MINUTES = 10;

/** What this contact has just done with one of their items; null if it was not just now, or not them. */
export async function readJustDone(tx: Tx, actor: Actor, itemId: string): Promise<{ title: string; what: JustDone } | null> {
	requireContact(actor);
	const row = await tx.first<{ title: string; verb: string }>(
		`select i.title, e.verb from event e join item i on i.id = e.item_id
		where e.item_id = $1 and e.actor_kind = 'contact' and e.actor_id = $2 and e.at > $3 order by e.id desc limit 1`,
		[itemId, actor.id, addToInstant(actor.now, { minutes: -JUST_MINUTES })]
	);
	const what = row && JUST_DONE[row.verb];
	return what ? { title: row.title, what } : null;
}
const JUST_DONE: Partial<Record<string, JustDone>> = {
	item_handed_in: 'sent',
	secret_given: 'sent',
	item_answered_no: 'said_no',
	item_declined: 'declined',
	item_asked_for_time: 'later',
	item_taken_back: 'taken_back'
};

/** What stands on the pages of a letter. */
export interface LetterPages {
	/** its words as they are in the PDF; null where it is made of files */
	document: LetterDocument | null;
	places: Place[];
	/** key of the one whom the item asks */
	own: string;
	/** what it says otherwise than the version before; null for a first version */
	changes: TextChanges | null;
	/** the item of its new version, if there is one */
	newer: string | null;
	/** what those who have signed wrote, and their names and days, by the key of each */
	signed: Record<string, { name: string; at: string; filled: Record<string, string> }>;
}

/** The letter that an item asks somebody to sign. */
export async function readLetterPages(tx: Tx, itemId: string): Promise<LetterPages | null> {
	const row = await tx.first<{
		document: LetterDocument;
		of_files: boolean;
		own: string;
		places: Place[];
		signed: LetterPages['signed'];
		changes: unknown;
		newer: string | null;
	}>(
		`select l.document, l.documents <> '[]' of_files, s.key own, l.places, l.changes, (select n.item_id from letter n where n.replaces_id = l.id) newer,
			coalesce((select jsonb_object_agg(o.key, jsonb_build_object('name', g.name, 'at', to_iso(g.signed_at), 'filled', g.filled))
				from letter_signer o join signature g on g.letter_id = o.letter_id and g.rank = o.position where o.letter_id = l.id), '{}') signed
		from letter_signer s join letter l on l.id = s.letter_id where s.item_id = $1`,
		[itemId]
	);
	return (
		row && {
			document: row.of_files ? null : row.document,
			places: placesSchema.parse(row.places),
			own: row.own,
			signed: row.signed,
			changes: textChangesSchema.nullable().parse(row.changes),
			newer: row.newer
		}
	);
}

export interface ItemEvent {
	at: string;
	actorName: string;
	verb: string;
	details: Record<string, unknown>;
}

/** What happened to one item, oldest first. */
export function readItemEvents(tx: Tx, actor: Actor, itemId: string): Promise<ItemEvent[]> {
	requireStaff(actor, 'look');
	return tx.rows<ItemEvent>('select at, actor_name as "actorName", verb, details from event where item_id = $1 order by id', [itemId]);
}
