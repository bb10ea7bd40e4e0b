import { DomainError } from '$lib/core/errors/domain-error';
import { invitationStateAt } from '$lib/core/invitations/invitation-states';
import { MAY, type Act } from '$lib/core/people/roles';
import { phoneInWords } from '$lib/core/people/phone';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { OPEN_STATES } from '$lib/core/requests/item-states';
import { dateWords, timeWords } from '$lib/words/dates';
import { say } from '$lib/words/words';
import type { Actor } from '../actor';
import { peopleOfClient, readForecast, type ForecastChase } from '../chasing/read-forecast';
import { readActs } from '../clients/client-rights';
import { readClient, type ClientRecord } from '../clients/read-clients';
import type { Firm } from '../firms/firm';
import { readTexts, type IncomingText } from '../messages/incoming-texts';
import { readMessage, type PostroomMessage } from '../messages/read-postroom';
import type { Tx } from '../platform/db/database';
import { readDraft, type Draft } from '../requests/drafts';
import { readRemarks, type Remark } from '../requests/remarks';
import { secretKeptUntil } from '../requests/secrets';
import { readItem, readItemEvents, readItemsOfClient, readLetterDocument, type ItemEvent, type ItemLine } from '../requests/read-requests';

export interface ChaseSentence {
	/** "Mon 4 May 09:00, by e-mail to Mara Whitlock" */
	when: string;
	why: string;
	heldBack: boolean;
}

const HELD_BACK = {
	bounced: 'mail to this address came back',
	opted_out: 'they have stopped reminders',
	no_address: 'there is no address yet',
	suspended: 'they are suspended'
} as const;

const WAY_WORDS = { email: 'by e-mail', text: 'by text message', 'email and text': 'by e-mail and text message' } as const;

/** The next chase of an item in words: when, how, to whom, and why. */
export function chaseSentence(chase: ForecastChase, firm: Firm): ChaseSentence {
	const reasons = [...new Set(chase.because.map((b) => stepWords(b.businessDaysFromDue, b.dueOn, firm)))];
	return {
		when: `${timeWords(firm.locale, chase.at, firm.calendar.timeZone)}, ${WAY_WORDS[chase.by.join(' and ') as keyof typeof WAY_WORDS] ?? WAY_WORDS.email} to ${chase.contactName}`,
		why: chase.heldBack
			? `held back, because ${HELD_BACK[chase.heldBack]}`
			: `because ${reasons.slice(0, 2).join(' and ')}${chase.waitedFrom ? `, waiting since ${dateWords(firm.locale, chase.waitedFrom)} so that they are not written to too often` : ''}${chase.items.length > 1 ? `; one message about ${chase.items.length} things` : ''}`,
		heldBack: chase.heldBack !== null
	};
}

/** "it is 3 business days after Fri 1 May". */
export function stepWords(businessDays: number, dueOn: string, firm: Firm): string {
	const n = Math.abs(businessDays);
	const due = dateWords(firm.locale, dueOn);
	if (n === 0) return `it is due on ${due}`;
	return `it is ${n} business ${n === 1 ? 'day' : 'days'} ${businessDays < 0 ? 'before' : 'after'} the due date, ${due}`;
}

export interface ItemLeafData {
	kind: 'item';
	item: ItemLine;
	/** what whoever reads it may do with this client */
	acts: readonly Act[];
	events: ItemEvent[];
	nextChase: ChaseSentence | null;
	document: Awaited<ReturnType<typeof readLetterDocument>>;
	remarks: Remark[];
	/** everybody of the client, who could be asked */
	people: { id: string; name: string }[];
	/** what a client gave to get in is kept until then */
	secretUntil: string | null;
	today: string;
}
export type Leaf =
	| ItemLeafData
	| { kind: 'ran_out'; client: ClientRecord; items: ItemLine[]; today: string }
	| { kind: 'message'; message: PostroomMessage; clientId: string | null }
	| {
			kind: 'invitation';
			client: ClientRecord;
			contactId: string;
			invitation: { id: string; state: string; sentAt: string; expiresAt: string; openedAt: string | null };
			draft: InvitationDraft;
	  }
	| { kind: 'draft'; draft: Draft }
	| { kind: 'text'; text: IncomingText & { phoneWords: string | null } }
	| {
			kind: 'no_address';
			contact: { id: string; name: string; phone: string | null; phoneWords: string | null };
			clients: { id: string; name: string }[];
			responsible: string;
	  };

/** One item with its history and the chase that comes next. */
export async function readItemLeaf(tx: Tx, actor: Actor, firm: Firm, itemId: string): Promise<ItemLeafData> {
	const item = await readItem(tx, actor, itemId);
	const acts = await readActs(tx, actor, item.clientId);
	const forecast = (OPEN_STATES as readonly string[]).includes(item.state) ? await readForecast(tx, actor, firm, [item.contactId], 60) : [];
	const chase = forecast.find((c) => c.itemIds.includes(itemId));
	return {
		kind: 'item',
		item,
		acts,
		events: await readItemEvents(tx, actor, itemId),
		nextChase: chase ? chaseSentence(chase, firm) : null,
		document: item.kind === 'letter' ? await readLetterDocument(tx, itemId) : null,
		people: await tx.rows<{ id: string; name: string }>(
			'select c.id, c.name from client_contact cc join contact c on c.id = cc.contact_id where cc.client_id = $1 order by cc.rank',
			[item.clientId]
		),
		remarks: item.remarks > 0 ? await readRemarks(tx, itemId) : [],
		secretUntil: item.kind === 'access' ? await secretKeptUntil(tx, itemId, actor.now) : null,
		today: localDate(actor.now, firm.calendar)
	};
}

/** What a row of Rounds can be about, as it stands in its address. */
export const LEAF_KINDS = ['item', 'talk', 'draft', 'ran-out', 'message', 'invitation', 'contact', 'text'] as const;
type LeafKind = (typeof LEAF_KINDS)[number];

/** The client a leaf is about; null if it is about nobody's in particular. */
function clientOfLeaf(leaf: Exclude<Leaf, ItemLeafData>): string | null {
	switch (leaf.kind) {
		case 'draft':
			return leaf.draft.clientId;
		case 'ran_out':
		case 'invitation':
			return leaf.client.id;
		case 'text':
			return leaf.text.clientId;
		case 'message':
			return leaf.clientId;
		case 'no_address':
			return leaf.clients[0]?.id ?? null;
	}
}

/** What whoever reads a leaf may do about it: by their role, and by whether they may only see its client. */
export async function actsOnLeaf(tx: Tx, actor: Actor, leaf: Leaf): Promise<readonly Act[]> {
	if (leaf.kind === 'item') return leaf.acts;
	const clientId = clientOfLeaf(leaf);
	if (clientId) return readActs(tx, actor, clientId);
	return actor.role ? MAY[actor.role] : [];
}

/** What lies beside the list when a row of Rounds is opened. @throws DomainError not_found */
export async function readLeaf(tx: Tx, actor: Actor, firm: Firm, kind: LeafKind, id: string): Promise<Leaf> {
	if (kind === 'item' || kind === 'talk') return readItemLeaf(tx, actor, firm, id);
	if (kind === 'draft') {
		const draft = await readDraft(tx, actor, id);
		return { kind: 'draft', draft };
	}
	if (kind === 'ran-out') {
		const items = (await readItemsOfClient(tx, actor, id)).filter((i) => (OPEN_STATES as readonly string[]).includes(i.state));
		return { kind: 'ran_out', client: await readClient(tx, actor, id), items, today: localDate(actor.now, firm.calendar) };
	}
	if (kind === 'text') {
		const [text] = await readTexts(tx, 1, { id });
		if (!text) throw new DomainError('not_found', 'Somebody has read this by now.');
		return { kind: 'text', text: { ...text, phoneWords: text.phone && phoneInWords(text.phone, firm.country) } };
	}
	if (kind === 'contact') {
		const contact = await tx.first<{ id: string; name: string; phone: string | null }>(
			`select id, name, phone from contact where id = $1 and mail_problem = 'no_address'`,
			[id]
		);
		if (!contact) throw new DomainError('not_found', 'This person has an address by now.');
		const clients = await tx.rows<{ id: string; name: string; responsible: string }>(
			`select cl.id, cl.name, s.name responsible from client_contact cc join client cl on cl.id = cc.client_id join staff s on s.id = cl.responsible_id
			where cc.contact_id = $1 order by cc.rank, cl.name`,
			[id]
		);
		return {
			kind: 'no_address',
			contact: { ...contact, phoneWords: contact.phone && phoneInWords(contact.phone, firm.country) },
			clients,
			responsible: clients[0]?.responsible ?? ''
		};
	}
	if (kind === 'message') {
		const message = await readMessage(tx, actor, id);
		const client =
			message.contactId &&
			(await tx.first<{ client_id: string }>('select client_id from client_contact where contact_id = $1 order by rank limit 1', [
				message.contactId
			]));
		return { kind: 'message', message, clientId: client ? client.client_id : null };
	}
	const invitation = await tx.first<{
		id: string;
		contact_id: string;
		client_id: string;
		sentAt: string;
		expiresAt: string;
		openedAt: string | null;
		takenUpAt: string | null;
		withdrawnAt: string | null;
		replacedAt: string | null;
	}>(
		`select id, contact_id, client_id, sent_at as "sentAt", expires_at as "expiresAt", opened_at as "openedAt", taken_up_at as "takenUpAt", withdrawn_at as "withdrawnAt", replaced_at as "replacedAt" from invitation where id = $1`,
		[id]
	);
	if (!invitation) throw new DomainError('not_found', 'There is no such invitation.');
	const client = await readClient(tx, actor, invitation.client_id);
	return {
		kind: 'invitation',
		client,
		contactId: invitation.contact_id,
		invitation: { ...invitation, state: invitationStateAt(invitation, actor.now) },
		draft: invitationDraft(firm, client.name)
	};
}

export interface InvitationDraft {
	subject: string;
	body: string;
	/** what would go by text message */
	text: string;
}

/** The words of an invitation before anybody has changed them. */
export function invitationDraft(firm: Firm, clientName: string): InvitationDraft {
	return {
		subject: say(firm.locale, 'mail.invitation.subject', { firm: firm.name }),
		body: say(firm.locale, 'mail.invitation.body', { client: clientName }),
		text: say(firm.locale, 'text.invitation', { name: '{contact_first_name}', firm: firm.name })
	};
}

/** The next chase of each open item of a client, by item. */
export async function readNextChases(tx: Tx, actor: Actor, firm: Firm, clientId: string): Promise<Record<string, ChaseSentence>> {
	const forecast = await readForecast(tx, actor, firm, await peopleOfClient(tx, clientId), 60);
	const byItem: Record<string, ChaseSentence> = {};
	for (const chase of forecast) for (const item of chase.items) byItem[item.id] ??= chaseSentence(chase, firm);
	return byItem;
}
