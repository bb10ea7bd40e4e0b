import { randomUUID } from 'node:crypto';
import {
	goesInCircles,
	heldBecause,
	keyOfAddress,
	papersAddress,
	readAuthentication,
	writtenByNobody,
	type Held,
	type LeftOut
} from '$lib/core/arrivals/incoming-mail';
import { DomainError } from '$lib/core/errors/domain-error';
import type { Role } from '$lib/core/people/roles';
import type { AwayNote } from '$lib/core/talk/away-note';
import { machine, requireStaff, type Actor } from '../actor';
import { recordEvent, recordEvents } from '../audit/record-event';
import { asStaff, type Database, type Tx } from '../platform/db/database';
import type { PaperStore } from '../platform/files/paper-store';
import { MailRefused, type ArrivingMail } from '../platform/mail/mail-receiver';
import { enqueue } from '../platform/queue';
import { cut, readMail, type MailFile, type MailRead } from './read-mail';

/** Most files of one client that came by mail and wait at once. */
const WAITING_BY_MAIL_MOST = 100;
/** Characters that are kept of the words beside files. */
const PAPER_WORDS_MOST = 4000;

/** Where mail comes in. */
export interface MailPlace {
	db: Database;
	papers: PaperStore;
	/** what stands behind the @ of the clients' addresses */
	domain: string;
}
/** Whose mail it is. */
export interface MailClient {
	firmId: string;
	clientId: string;
}

/**
 * Whose papers come in at an address.
 * @throws MailRefused where nobody's do, where the client is closed, and for a while where too much waits
 */
export async function clientAtAddress({ db, domain }: MailPlace, address: string): Promise<MailClient> {
	const key = keyOfAddress(address, domain);
	const [found] = key
		? await db.queryOutsideFirm<{ firm_id: string; client_id: string }>('select firm_id, client_id from client_with_mail_key($1)', [key])
		: [];
	if (!found) throw new MailRefused(550, '5.1.1 This address does not receive mail. Your bookkeeping firm has the current one.');
	await db.inFirm(found.firm_id, (tx) => requireOpen(tx, found.client_id));
	return { firmId: found.firm_id, clientId: found.client_id };
}

/** @throws MailRefused where the firm does not work for a client, or too much of it waits */
export async function requireOpen(tx: Tx, clientId: string): Promise<void> {
	const client = await tx.first<{ open: boolean; waiting: number }>(
		`select c.state = 'active' open, (select count(*) from paper p where p.client_id = c.id and p.mail_id is not null
			and p.waits) waiting from client c where c.id = $1`,
		[clientId]
	);
	if (!client?.open) throw new MailRefused(550, '5.7.1 The firm does not work for this client at the moment. Nothing was taken.');
	if (client.waiting >= WAITING_BY_MAIL_MOST) throw new MailRefused(452, '4.2.2 Many files wait for the firm already. Please try again later.');
}

/** Somebody who is known by the address that a mail names: a person of the client, or of the firm who may see them. */
export async function senderKnown(db: Database, { firmId, clientId }: MailClient, address: string, now: string): Promise<Actor | null> {
	if (address === '') return null;
	const [contact, staff] = await db.inFirm(firmId, async (tx) => [
		await tx.first<{ id: string; name: string }>(
			`select c.id, c.name from contact c join client_contact cc on cc.contact_id = c.id
			where cc.client_id = $1 and c.email = $2 and c.removed_at is null and c.suspended_at is null limit 1`,
			[clientId, address]
		),
		await tx.first<{ id: string; name: string; role: Role }>(
			'select id, name, role from staff where firm_id = $1 and email = $2 and suspended_at is null and practice_of_id is null',
			[firmId, address]
		)
	]);
	const how = { now, ip: '', userAgent: 'mail' };
	if (contact) return { kind: 'contact', id: contact.id, name: contact.name, role: null, ...how };
	if (!staff) return null;
	const sees = await asStaff(db, staff.id).inFirm(firmId, (tx) => tx.first('select 1 from client where id = $1', [clientId]));
	return sees ? { kind: 'staff', id: staff.id, name: staff.name, role: staff.role, ...how } : null;
}

/** A mail that is to be kept. */
export interface MailToKeep {
	client: MailClient;
	read: MailRead;
	/** whom it is from; a machine where that is not known, or doubted */
	by: Actor;
	/** why it waits to be let in; null if it does not have to */
	held: Held | null;
	words: string;
	/** what it answers, and what stood below its words */
	answers?: { messageId: string; contactId: string; itemId: string | null; folded: string; away: AwayNote | null; newAddress: string | null };
}

/**
 * Keeps a mail with its files, which wait for their place.
 * @returns its id and where its files are; null if it is here already
 */
export async function keepMail(tx: Tx, now: string, mail: MailToKeep): Promise<{ id: string; storageKeys: string[] } | null> {
	const { client, read, by, held, answers } = mail;
	const id = randomUUID();
	const first = await tx.first(
		`insert into incoming_mail (id, firm_id, client_id, message_id, from_address, from_name, subject, words, came_at, authentication, held, left_out,
			answers_id, contact_id, item_id, folded, away, back_on, new_address)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17, $18, $19) on conflict (client_id, message_id) do nothing returning id`,
		[
			id,
			client.firmId,
			client.clientId,
			read.messageId,
			read.fromAddress,
			read.fromName,
			read.subject,
			mail.words,
			now,
			JSON.stringify(readAuthentication(read.head.authentication)),
			held,
			JSON.stringify(read.files.filter(({ leftOut }) => leftOut).map(({ name, leftOut }) => ({ name, why: leftOut }))),
			answers?.messageId ?? null,
			answers?.contactId ?? null,
			answers?.itemId ?? null,
			answers?.folded ?? '',
			Boolean(answers?.away),
			answers?.away?.backOn ?? null,
			answers?.newAddress ?? null
		]
	);
	if (!first) return null;
	const kept = read.files.flatMap((file) => file.kept ?? []);
	const contactId = by.kind === 'contact' ? by.id : null;
	// they came at the same instant: their ids keep them in the order of the mail
	const ids = kept.map(() => randomUUID()).sort();
	const papers = kept.map(({ name, contentType, stored }, n) => ({
		id: ids[n],
		name,
		content_type: contentType,
		bytes: stored.bytes,
		sha256: stored.sha256.toString('hex'),
		storage_key: stored.key
	}));
	await tx.rows(
		`insert into paper (id, firm_id, client_id, name, bytes, sha256, content_type, storage_key, uploaded_by_contact_id, uploaded_at, unasked, note, mail_id, held)
		select p.id, $1, $2, p.name, p.bytes, decode(p.sha256, 'hex'), p.content_type, p.storage_key, $3, $4, true, $5, $6, $7
		from jsonb_to_recordset($8) p (id uuid, name text, bytes bigint, sha256 text, content_type text, storage_key text)`,
		[client.firmId, client.clientId, contactId, now, read.subject, id, held !== null, JSON.stringify(papers)]
	);
	await recordEvents(
		tx,
		by,
		papers.map(({ id: paperId, name }) => ({
			clientId: client.clientId,
			contactId,
			paperId,
			...(held ? { verb: 'paper_held', details: { name, address: read.fromAddress } } : { verb: 'paper_mailed', details: { name } })
		}))
	);
	for (const { id: paperId } of papers) await enqueue(tx, 'read_paper', { firmId: tx.firmId, paperId });
	return { id, storageKeys: papers.map(({ storage_key }) => storage_key) };
}

/**
 * Reads a mail to its end, and removes what is not kept of it.
 * @param work does something with it, and answers where the files are that are kept
 * @throws MailRefused if it goes in circles, is too large, or there is no room; then nothing of it is kept
 */
export async function withMailRead(place: MailPlace, mail: ArrivingMail, work: (read: MailRead) => Promise<string[]>): Promise<number> {
	const broken = new AbortController();
	mail.content.once('error', (error) => broken.abort(error));
	const files: MailFile[] = [];
	let written: string[] = [];
	try {
		const read = await readMail(place.papers, mail, files, broken.signal);
		if (goesInCircles(read.head)) throw new MailRefused(554, '5.4.6 This mail goes in circles.');
		if (mail.tooLarge()) throw new MailRefused(552, '5.3.4 This mail is too large. Send the files on their own, or on your page at the firm.');
		written = await work(read);
		return written.length;
	} catch (error) {
		if (error instanceof DomainError && error.code === 'storage_full') throw new MailRefused(452, '4.3.1 There is no room at the moment.');
		throw error;
	} finally {
		for (const { kept } of files) if (kept && !written.includes(kept.stored.key)) await place.papers.remove(kept.stored.key);
	}
}

/**
 * Takes in the files of a mail. Those of somebody who is known wait for their place as what is sent from the portal does; others wait to be let
 * in first. What nobody wrote, and what is here already, is taken and let go.
 * @returns how many files came in
 * @throws MailRefused if nothing of it can be kept; then nothing is
 */
export async function takeInMail(place: MailPlace, now: string, mail: ArrivingMail): Promise<number> {
	const client = await clientAtAddress(place, mail.to);
	return withMailRead(place, mail, async (read) => {
		if (writtenByNobody(read.head, read.files.length)) return [];
		if (!read.files.some(({ kept }) => kept)) throw new MailRefused(550, `5.6.0 ${nothingKept(read.files)}`);
		const known = await senderKnown(place.db, client, read.fromAddress, now);
		const held = heldBecause(known !== null, readAuthentication(read.head.authentication));
		return place.db.inFirm(client.firmId, async (tx) => {
			await requireOpen(tx, client.clientId);
			// of whom it may not be, nothing is written down
			const by = held === null && known ? known : machine(now);
			const kept = await keepMail(tx, now, { client, read, by, held, words: cut(read.text, PAPER_WORDS_MOST) });
			return kept?.storageKeys ?? [];
		});
	});
}

/** Why nothing of a mail could be kept, for whoever sent it. */
export function nothingKept(files: readonly MailFile[]): string {
	const names = files.map(({ name }) => name).join(', ');
	// headers and replies of mail servers are ASCII (RFC 5321, 2.4)
	const ascii = cut(names.normalize('NFKD').replace(/[^\x20-\x7e]/g, '_'), 200);
	return files.length === 0
		? 'There is no file in this mail, and only files are taken here. Please answer a mail of the firm, or write on your page.'
		: `Nothing was kept: ${ascii} cannot be taken. PDF, pictures, Word, Excel, CSV, text and ZIP can.`;
}

/** A mail that brought a file, as the firm sees it beside the file. */
export interface MailOfPaper {
	fromAddress: string;
	fromName: string;
	subject: string;
	words: string;
	/** what the servers on the way say of the sender, by method */
	authentication: Readonly<Record<string, string>>;
	held: Held | null;
	leftOut: { name: string; why: LeftOut }[];
	/** how many files of it wait, this one included */
	waiting: number;
}

/** The mail that brought a file; null if none did. */
export async function readMailOfPaper(tx: Tx, actor: Actor, paperId: string): Promise<MailOfPaper | null> {
	requireStaff(actor, 'look');
	return (
		(await tx.first<MailOfPaper>(
			`select m.from_address "fromAddress", m.from_name "fromName", m.subject, m.words, m.authentication, case when p.held then m.held end held, m.left_out "leftOut",
				(select count(*) from paper o where o.mail_id = m.id and o.waits) waiting
			from paper p join incoming_mail m on m.id = p.mail_id where p.id = $1`,
			[paperId]
		)) ?? null
	);
}

/** Lets in what a mail brought: its files wait for their place from now on as others do. @throws DomainError changed_meanwhile */
export async function letMailIn(tx: Tx, actor: Actor, paperId: string): Promise<void> {
	requireStaff(actor, 'file_papers');
	const mail = await tx.first<{ id: string; clientId: string; address: string }>(
		`update incoming_mail m set let_in_at = $2, let_in_by_id = $3 from paper p
		where p.id = $1 and m.id = p.mail_id and m.held is not null and m.let_in_at is null returning m.id, m.client_id "clientId", m.from_address address`,
		[paperId, actor.now, actor.id]
	);
	if (!mail) throw new DomainError('changed_meanwhile', 'Somebody has let it in meanwhile.');
	const papers = await tx.rows<{ id: string }>('update paper set held = false where mail_id = $1 and held returning id', [mail.id]);
	await recordEvent(tx, actor, { verb: 'mail_let_in', clientId: mail.clientId, paperId, details: { address: mail.address } });
	for (const { id } of papers) await enqueue(tx, 'read_paper', { firmId: tx.firmId, paperId: id });
}

/** Puts away all that a mail brought and that waits to be let in. */
export async function turnMailAway(tx: Tx, actor: Actor, paperId: string): Promise<void> {
	requireStaff(actor, 'file_papers');
	const away = await tx.rows<{ id: string; name: string; clientId: string }>(
		`update paper p set put_away_at = $2, put_away_by_id = $3 from paper one
		where one.id = $1 and p.mail_id = one.mail_id and p.held and p.waits returning p.id, p.name, p.client_id "clientId"`,
		[paperId, actor.now, actor.id]
	);
	if (away.length === 0) throw new DomainError('changed_meanwhile', 'Somebody has dealt with it meanwhile.');
	await recordEvents(
		tx,
		actor,
		away.map(({ id, name, clientId }) => ({ verb: 'arrival_put_away', clientId, paperId: id, details: { name } }))
	);
}

/** The address at which papers of a client come in. Null where no mail is received. */
export async function readPapersAddress(tx: Tx, actor: Actor, clientId: string, domain: string | undefined): Promise<string | null> {
	requireStaff(actor, 'look');
	if (!domain) return null;
	const client = await tx.first<{ key: string }>(`select mail_key "key" from client where id = $1 and state = 'active'`, [clientId]);
	return client ? papersAddress(client.key, domain) : null;
}

/** Gives a client another address for papers: what is sent to the one before comes back to its sender. @throws DomainError not_found */
export async function renewPapersAddress(tx: Tx, actor: Actor, clientId: string): Promise<void> {
	requireStaff(actor, 'invite');
	const changed = await tx.first(`update client set mail_key = default where id = $1 returning id`, [clientId]);
	if (!changed) throw new DomainError('not_found', 'This client is not here any more.');
	await recordEvent(tx, actor, { verb: 'papers_address_renewed', clientId, details: {} });
}
