import { heldBecause, readAuthentication, type Held } from '$lib/core/arrivals/incoming-mail';
import { addToInstant, localDate, onOrAfterBusinessDay, type IsoDate } from '$lib/core/calendar/firm-calendar';
import { DomainError } from '$lib/core/errors/domain-error';
import { isAutomatic, readAwayNote } from '$lib/core/talk/away-note';
import { readNewAddress } from '$lib/core/talk/new-address';
import { readReply, REPLY_MOST } from '$lib/core/talk/reply-words';
import { dateWords } from '$lib/words/dates';
import { machine, requireStaff, type Actor, type ContactActor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { pauseReminders } from '../chasing/holds';
import { mendAddress } from '../clients/add-client';
import { ofMine } from '../clients/mine';
import { loadFirm, type Firm } from '../firms/firm';
import { putMailOnItem } from '../items/remarks';
import { readReplyTo } from '../messages/links';
import { clientAtAddress, keepMail, nothingKept, requireOpen, senderKnown, takeInMail, withMailRead, type MailPlace } from '../papers/papers-by-mail';
import { cut } from '../papers/read-mail';
import type { Tx } from '../platform/db/database';
import { MailRefused, type ArrivingMail } from '../platform/mail/mail-receiver';
import { enqueue } from '../platform/queue';
import { holdByWords, insertWords } from './words';

/** Where mail comes in, with what proves that an address was given out by us. */
export interface AnswerPlace extends MailPlace {
	secretKey: string;
	origin: string;
}

/** A message of ours that a mail answers. */
interface Answered {
	firmId: string;
	clientId: string;
	messageId: string;
	/** whom it was for */
	contactId: string;
	/** the one thing that it was about */
	itemId: string | null;
}

/** The message that mail to an address answers; null if it is no such address. @throws MailRefused for one that we did not give out */
async function messageAtAddress({ db, domain, secretKey }: AnswerPlace, address: string): Promise<Answered | null> {
	if (!/^re-/i.test(address)) return null;
	const messageId = readReplyTo(address, domain, secretKey);
	const [found] = messageId
		? await db.queryOutsideFirm<{ firm_id: string; client_id: string | null; contact_id: string; item_id: string | null }>(
				'select firm_id, client_id, contact_id, item_id from message_to_answer($1)',
				[messageId]
			)
		: [];
	if (!messageId || !found?.client_id)
		throw new MailRefused(550, '5.1.1 This address does not receive mail. Your page at the firm takes what you write.');
	return { firmId: found.firm_id, clientId: found.client_id, messageId, contactId: found.contact_id, itemId: found.item_id };
}

/** Whether anything is received at an address. @throws MailRefused if not */
export async function mayReceive(place: AnswerPlace, address: string): Promise<void> {
	const answered = await messageAtAddress(place, address);
	if (!answered) return void (await clientAtAddress(place, address));
	await place.db.inFirm(answered.firmId, (tx) => requireOpen(tx, answered.clientId));
}

/** Takes in a mail, whichever it is: papers of a client, or an answer to a message. @throws MailRefused if nothing of it can be kept */
export async function takeIn(place: AnswerPlace, now: string, mail: ArrivingMail): Promise<number> {
	const answered = await messageAtAddress(place, mail.to);
	return answered ? takeInAnswer(place, answered, now, mail) : takeInMail(place, now, mail);
}

/** Words without the addresses of our own pages, of which some let their reader in. */
const withoutOurLinks = (text: string, origin: string): string =>
	text
		.split(origin)
		.map((part, n) => (n === 0 ? part : part.replace(/^[^\s>")\]]*/, '…')))
		.join(origin);

/** Most answers of one client within an hour: mail programs that answer each other write more. */
const ANSWERS_AN_HOUR_MOST = 60;

/** @throws MailRefused for a while where too many answers came in */
async function requireRoom(tx: Tx, clientId: string, now: string): Promise<void> {
	const lately = await tx.first<{ n: number }>(
		'select count(*) n from incoming_mail where client_id = $1 and answers_id is not null and came_at > $2',
		[clientId, addToInstant(now, { hours: -1 })]
	);
	if (lately && lately.n >= ANSWERS_AN_HOUR_MOST) throw new MailRefused(452, '4.3.2 Many answers have come in just now. Please try again later.');
}

/** Who wrote, if the firm knows them: whom our message was for, or somebody else of the client. */
async function writerOf(place: AnswerPlace, answered: Answered, address: string, now: string): Promise<ContactActor | null> {
	const recipient = await place.db.inFirm(answered.firmId, (tx) =>
		tx.first<{ id: string; name: string }>(
			'select id, name from contact where id = $1 and email = $2 and removed_at is null and suspended_at is null',
			[answered.contactId, address]
		)
	);
	if (recipient) return { kind: 'contact', id: recipient.id, name: recipient.name, role: null, now, ip: '', userAgent: 'mail' };
	const known = await senderKnown(place.db, answered, address, now);
	return known?.kind === 'contact' && known.id ? { ...known, kind: 'contact', id: known.id } : null;
}

/**
 * Takes in an answer to a message. The words of somebody who is known stand where the message was about, their files wait for their place, and
 * nobody reminds them for some days, or until the firm has answered. Others wait apart. What a program answered is let go, but for a word that
 * somebody is away.
 */
function takeInAnswer(place: AnswerPlace, answered: Answered, now: string, mail: ArrivingMail): Promise<number> {
	return withMailRead(place, mail, async (read) => {
		const automatic = isAutomatic(read.head, read.subject);
		const reply = readReply(withoutOurLinks(read.text, place.origin));
		const writer = await writerOf(place, answered, read.fromAddress, now);
		const held = heldBecause(writer !== null, readAuthentication(read.head.authentication));
		if (!automatic && reply.words === '' && !read.files.some(({ kept }) => kept))
			throw new MailRefused(
				550,
				`5.6.0 ${read.files.length > 0 ? nothingKept(read.files) : 'There are no words of yours in this mail, and no file.'}`
			);
		return place.db.inFirm(answered.firmId, async (tx) => {
			await requireOpen(tx, answered.clientId);
			await requireRoom(tx, answered.clientId, now);
			const firm = await loadFirm(tx);
			// somebody else of the client says nothing of whom the message was for
			const isTheirs = writer?.id === answered.contactId;
			const note = automatic && isTheirs ? readAwayNote(read.subject, reply.words, localDate(now, firm.calendar)) : null;
			// nobody is reminded on a day off: the day after is what can be proposed
			const away = note && { backOn: note.backOn && onOrAfterBusinessDay(note.backOn, firm.calendar) };
			// of whoever is not known, or doubted, nothing is believed
			const newAddress = isTheirs && !held && !away ? readNewAddress(reply.words, [read.fromAddress, mail.to, firm.mailFrom]) : null;
			if (automatic && ((!away && !newAddress) || !writer || held)) return [];
			const kept = await keepMail(tx, now, {
				client: answered,
				read: automatic ? { ...read, files: [] } : read,
				by: held === null && writer ? writer : machine(now),
				held,
				words: cut(reply.words, REPLY_MOST),
				answers: {
					messageId: answered.messageId,
					contactId: answered.contactId,
					itemId: answered.itemId,
					folded: cut(reply.folded, REPLY_MOST),
					away,
					newAddress
				}
			});
			if (!kept) return [];
			if (away && writer) await recordEvent(tx, writer, { verb: 'away_noted', clientId: answered.clientId, contactId: writer.id });
			else if (held || !writer)
				await recordEvent(tx, machine(now), {
					verb: 'mail_waits',
					clientId: answered.clientId,
					contactId: answered.contactId,
					details: { address: read.fromAddress }
				});
			else {
				if (newAddress)
					await recordEvent(tx, writer, {
						verb: 'new_address_noted',
						clientId: answered.clientId,
						contactId: writer.id,
						details: { address: newAddress }
					});
				// what a program answered is nobody's words
				if (!automatic) await putInPlace(tx, writer, firm, { id: kept.id, clientId: answered.clientId, itemId: answered.itemId, words: reply.words });
			}
			return kept.storageKeys;
		});
	});
}

/** Puts what somebody answered where it belongs, and holds their reminders. */
async function putInPlace(
	tx: Tx,
	writer: ContactActor,
	firm: Firm,
	mail: { id: string; clientId: string; itemId: string | null; words: string }
): Promise<void> {
	if (mail.words !== '' && mail.itemId) await putMailOnItem(tx, writer, { id: mail.id, itemId: mail.itemId, words: mail.words });
	else if (mail.words !== '') {
		await insertWords(tx, writer, { clientId: mail.clientId, contactId: writer.id }, mail.words, { mailId: mail.id });
		await recordEvent(tx, writer, {
			verb: 'mail_received',
			clientId: mail.clientId,
			contactId: writer.id,
			details: { words: mail.words.slice(0, 300) }
		});
	}
	await holdByWords(tx, writer, firm);
}

/** An answer that waits: from somebody who is not known, or a word that somebody is away or has a new address. */
export interface WaitingAnswer {
	id: string;
	clientId: string;
	clientName: string;
	contactId: string;
	/** whom our message was for */
	contactName: string;
	fromAddress: string;
	fromName: string;
	subject: string;
	words: string;
	folded: string;
	cameAt: string;
	/** why it waits; null for an away note */
	held: Held | null;
	away: boolean;
	backOn: IsoDate | null;
	/** what it names as the new address of its sender */
	newAddress: string | null;
	/** the address that is known of them, and their telephone number */
	contactEmail: string | null;
	contactPhone: string | null;
	itemTitle: string | null;
	files: { id: string; name: string }[];
}
const WAITS = `m.answers_id is not null and m.seen_at is null and (m.away or m.held is not null or m.new_address is not null)`;

/** Counts answers that wait; `$1` is the firm. @param mine the parameter with whose clients alone, or null */
export const countWaitingAnswers = (mine: number): string =>
	`select count(*) from incoming_mail m where m.firm_id = $1 and ${WAITS} and ${ofMine('m.client_id', mine)}`;

/** The answers that wait, oldest first; or one of them. */
export function readWaitingAnswers(
	tx: Tx,
	limit: number,
	of: { id?: string; /** whose clients they are about */ mineOf?: string | null } = {}
): Promise<WaitingAnswer[]> {
	return tx.rows<WaitingAnswer>(
		`select m.id, m.client_id "clientId", cl.name "clientName", c.id "contactId", c.name "contactName", c.email::text "contactEmail", c.phone "contactPhone", m.new_address "newAddress", m.from_address "fromAddress", m.from_name "fromName",
			m.subject, m.words, m.folded, m.came_at "cameAt", m.held, m.away, m.back_on "backOn", i.title "itemTitle",
			coalesce((select json_agg(json_build_object('id', p.id, 'name', p.name) order by p.id) from paper p where p.mail_id = m.id and p.removed_at is null), '[]') files
		from incoming_mail m join client cl on cl.id = m.client_id join contact c on c.id = m.contact_id left join item i on i.id = m.item_id
		where m.firm_id = $1 and ${WAITS} and ($3::uuid is null or m.id = $3) and ${ofMine('m.client_id', 4)}
		order by m.came_at, m.id limit $2`,
		[tx.firmId, limit, of.id ?? null, of.mineOf ?? null]
	);
}

/** @throws DomainError changed_meanwhile if somebody has dealt with it */
async function dealWith(tx: Tx, actor: Actor, id: string): Promise<WaitingAnswer> {
	const [answer] = await readWaitingAnswers(tx, 1, { id });
	const done = answer && (await tx.first('update incoming_mail set seen_at = $2 where id = $1 and seen_at is null returning id', [id, actor.now]));
	if (!done) throw new DomainError('changed_meanwhile', 'Somebody has dealt with this meanwhile.');
	return answer;
}

/** Lets an answer in as one of the person whom our message was for: its words stand where that was about, its files wait for their place. */
export async function letAnswerIn(tx: Tx, actor: Actor, id: string): Promise<void> {
	requireStaff(actor, 'judge_item');
	const answer = await dealWith(tx, actor, id);
	if (answer.away) throw new DomainError('invalid', 'Nobody wrote this: a program says that they are away.');
	if (!answer.held) throw new DomainError('invalid', 'This is in already. Only the address waits for you.');
	await tx.rows('update incoming_mail set let_in_at = $2, let_in_by_id = $3 where id = $1', [id, actor.now, actor.id]);
	const mail = await tx.first<{ itemId: string | null }>('select item_id "itemId" from incoming_mail where id = $1', [id]);
	const writer: ContactActor = { ...actor, kind: 'contact', id: answer.contactId, name: answer.contactName, role: null, ip: '', userAgent: 'mail' };
	await putInPlace(tx, writer, await loadFirm(tx), { id, clientId: answer.clientId, itemId: mail?.itemId ?? null, words: answer.words });
	await recordEvent(tx, actor, { verb: 'mail_let_in', clientId: answer.clientId, details: { address: answer.fromAddress } });
	const papers = await tx.rows<{ id: string }>('update paper set held = false where mail_id = $1 and held returning id', [id]);
	for (const paper of papers) await enqueue(tx, 'read_paper', { firmId: tx.firmId, paperId: paper.id });
}

/** Puts an answer away with the files that it brought; it stays in the history. */
export async function turnAnswerAway(tx: Tx, actor: Actor, id: string): Promise<void> {
	requireStaff(actor, 'judge_item');
	const answer = await dealWith(tx, actor, id);
	await tx.rows('update paper set put_away_at = $2, put_away_by_id = $3 where mail_id = $1 and held and waits', [id, actor.now, actor.id]);
	await recordEvent(tx, actor, {
		verb: answer.away ? 'away_left' : answer.newAddress ? 'address_left' : 'mail_turned_away',
		clientId: answer.clientId,
		contactId: answer.contactId,
		details: { address: answer.newAddress ?? answer.fromAddress, contact: answer.contactName }
	});
}

/**
 * Pauses the reminders of somebody who is away, by what their program answered, until a day.
 * @param until the first day on which reminders go again
 */
export async function pauseWhileAway(tx: Tx, actor: Actor, input: { id: string; until: IsoDate }): Promise<void> {
	requireStaff(actor, 'judge_item');
	const answer = await dealWith(tx, actor, input.id);
	if (!answer.away) throw new DomainError('invalid', 'This does not say that somebody is away.');
	const firm = await loadFirm(tx);
	const on = dateWords(firm.locale, localDate(answer.cameAt, firm.calendar));
	await pauseReminders(
		tx,
		actor,
		firm,
		{ contactId: answer.contactId, ofClient: answer.clientId },
		{ until: input.until, why: 'away', reason: `their mail said on ${on} that they are away` }
	);
}

/** An answer that waits, with the address that it names as new, or that whoever is not known wrote from. */
async function answerWithAddress(tx: Tx, id: string): Promise<{ answer: WaitingAnswer; address: string }> {
	const [answer] = await readWaitingAnswers(tx, 1, { id });
	if (!answer) throw new DomainError('changed_meanwhile', 'Somebody has dealt with this meanwhile.');
	if (answer.held === 'contradicted')
		throw new DomainError('invalid', 'The mail servers on the way doubt who sent this. Ask them, and write the address into the record.');
	const address = answer.held ? answer.fromAddress : answer.newAddress;
	if (!address) throw new DomainError('invalid', 'This mail names no new address.');
	return { answer, address };
}

/**
 * The address that a mail names as new, or that whoever is not known wrote from.
 * @throws DomainError changed_meanwhile if somebody has dealt with it, invalid for one that names none, or whose sender is doubted
 */
export async function addressNamedBy(tx: Tx, actor: Actor, id: string): Promise<string> {
	requireStaff(actor, 'invite');
	return (await answerWithAddress(tx, id)).address;
}

/** Uses the address that a mail names as that of the person from now on. What waited to be let in comes in with it. */
export async function useNewAddress(tx: Tx, actor: Actor, id: string): Promise<void> {
	requireStaff(actor, 'invite');
	const { answer, address } = await answerWithAddress(tx, id);
	if (answer.held) await letAnswerIn(tx, actor, id);
	else await dealWith(tx, actor, id);
	await mendAddress(tx, actor, answer.contactId, address);
}
