import { createHash, randomUUID } from 'node:crypto';
import { DomainError } from '$lib/core/errors/domain-error';
import type { Signature } from '$lib/core/signing/signature';
import { timeWords } from '$lib/words/dates';
import { say } from '$lib/words/words';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { loadFirm, type Firm } from '../firms/firm';
import { eventAbout, moveItem, type LockedItem } from '../items/change-item';
import { writeAboutItem } from '../outbox/write-about-item';
import type { Tx } from '../platform/db/database';
import { readSealKey, type SealingPlace } from './firm-seal';
import { lockLetter, nextState, requireDrawable } from './sign-letter';

interface SignatureRow {
	name: string;
	email: string;
	mark: Signature;
	consent: string;
	signed_at: string;
	ip: string;
}

/**
 * Countersigns a letter for the firm, stamps both signatures, adds the certificate page and seals the whole. The
 * PDF is made between two transactions; whoever was second is told.
 * @throws DomainError changed_meanwhile
 */
export async function countersignLetter(
	place: SealingPlace,
	firmId: string,
	actor: Actor,
	input: { itemId: string; signature: Signature; /** of the letter that was shown, in hexadecimal */ sha256: string }
): Promise<void> {
	requireStaff(actor, 'countersign');
	requireDrawable(input.signature.name);
	const read = await place.db.inFirm(firmId, async (tx) => {
		const letter = await lockLetter(tx, input.itemId);
		if (letter.sha256.toString('hex') !== input.sha256)
			throw new DomainError('changed_meanwhile', 'This is not the letter you were shown. Open it again and read it before you sign.');
		nextState(letter, 'countersign');
		const item = await tx.first<LockedItem & { client_name: string }>(
			'select i.*, c.name client_name from item i join client c on c.id = i.client_id where i.id = $1',
			[input.itemId]
		);
		const signatures = await tx.rows<SignatureRow>(
			'select name, email, mark, consent, signed_at, ip from signature where letter_id = $1 order by rank',
			[letter.id]
		);
		const events = await tx.rows<{ at: string; actor_name: string; verb: string; ip: string | null; details: Record<string, string> }>(
			`select at, actor_name, verb, ip, details from event where (item_id = $1 and verb like 'letter\\_%' and actor_kind = 'contact' and verb <> 'letter_downloaded')
				or (request_id = $2 and verb = 'request_sent') order by id`,
			[input.itemId, item!.request_id]
		);
		const staff = await tx.first<{ email: string }>('select email::text from staff where id = $1', [actor.id]);
		const key = await readSealKey(tx, place.secretKey);
		return { firm: await loadFirm(tx), letter, item: item!, signatures, events, staffEmail: staff!.email, key };
	});
	const { firm, letter, item } = read;
	const when = (at: string) => timeWords(firm.locale, at, firm.calendar.timeZone, 'stamp');
	const words = (key: Parameters<typeof say>[1], values?: Record<string, string>) => say(firm.locale, key, values);
	const chunks: Buffer[] = [];
	for await (const chunk of place.papers.read(letter.storage_key)) chunks.push(chunk as Buffer);
	const sealed = await place.pdf.seal({
		pdf: new Uint8Array(Buffer.concat(chunks)),
		title: item.title,
		signaturePage: letter.signature_page,
		signatureTop: letter.signature_top,
		signatures: [
			...read.signatures.map((s) => ({
				mark: s.mark,
				of: words('letter.clientSide', { client: item.client_name }),
				when: words('letter.signedAt', { when: when(s.signed_at) }),
				email: s.email,
				ip: s.ip,
				consent: s.consent
			})),
			{
				mark: input.signature,
				of: words('letter.firmSide', { firm: firm.name }),
				when: words('letter.signedAt', { when: when(actor.now) }),
				email: read.staffEmail,
				ip: actor.ip,
				consent: ''
			}
		],
		events: [
			...read.events.map((e) => ({ when: when(e.at), what: certificateSentence(e, words) })),
			{ when: when(actor.now), what: words('certificate.event.countersigned', { name: actor.name, method: input.signature.method, ip: actor.ip }) }
		],
		sha256: letter.sha256.toString('hex'),
		words: {
			certificate: words('certificate.title'),
			about: words('certificate.about', { firm: firm.name }),
			document: words('certificate.document'),
			digest: words('certificate.digest'),
			signers: words('certificate.signers'),
			events: words('certificate.events'),
			reason: words('certificate.reason')
		},
		key: read.key,
		sealedAt: actor.now
	});
	const stored = await place.papers.putBuffer(sealed);
	try {
		await place.db.inFirm(firmId, (tx) =>
			writeCountersigned(tx, actor, firm, input, {
				key: stored.key,
				sha256: createHash('sha256').update(sealed).digest(),
				staffEmail: read.staffEmail
			})
		);
	} catch (error) {
		await place.papers.remove(stored.key);
		throw error;
	}
}

function certificateSentence(
	event: { actor_name: string; verb: string; ip: string | null; details: Record<string, string> },
	words: (key: Parameters<typeof say>[1], values?: Record<string, string>) => string
): string {
	const values = { name: event.actor_name, ip: event.ip ?? '', to: event.details.contact ?? '', method: event.details.method ?? '' };
	switch (event.verb) {
		case 'request_sent':
			return words('certificate.event.sent', values);
		case 'letter_opened':
			return words('certificate.event.opened', values);
		case 'letter_shown_whole':
			return words('certificate.event.shown_whole', values);
		case 'letter_said_read':
			return words('certificate.event.said_read', values);
		default:
			return words('certificate.event.signed', values);
	}
}

async function writeCountersigned(
	tx: Tx,
	actor: Actor,
	firm: Firm,
	input: { itemId: string; signature: Signature },
	sealed: { key: string; sha256: Buffer; staffEmail: string }
): Promise<void> {
	const item = await tx.first<LockedItem>('select * from item where id = $1 for update', [input.itemId]);
	const letter = await lockLetter(tx, input.itemId);
	const next = nextState(letter, 'countersign');
	await tx.rows(
		`insert into signature (id, firm_id, client_id, letter_id, rank, staff_id, name, email, mark, consent, signed_at, ip, user_agent)
		values ($1, $2, $3, $4, 2, $5, $6, $7, $8, '', $9, $10, $11)`,
		[
			randomUUID(),
			tx.firmId,
			item!.client_id,
			letter.id,
			actor.id,
			input.signature.name,
			sealed.staffEmail,
			JSON.stringify(input.signature),
			actor.now,
			actor.ip,
			actor.userAgent.slice(0, 300)
		]
	);
	await tx.rows('update letter set state = $2, sealed_key = $3, sealed_sha256 = $4, sealed_at = $5 where id = $1', [
		letter.id,
		next,
		sealed.key,
		sealed.sha256,
		actor.now
	]);
	await recordEvent(tx, actor, {
		verb: 'letter_countersigned',
		...eventAbout(item!),
		details: { title: item!.title, method: input.signature.method }
	});
	await moveItem(tx, actor, firm, item!, 'accept');
	// whoever signed it, and everybody else who was told of it: a couple both have their copy
	const copies = await tx.rows<{ id: string }>(
		`select c.id from contact c where c.removed_at is null
			and (c.id = $2 or c.id in (select m.contact_id from message_item mi join message m on m.id = mi.message_id where mi.item_id = $1 and m.kind = 'request'))`,
		[item!.id, item!.contact_id]
	);
	for (const to of copies)
		await writeAboutItem(
			tx,
			actor,
			item!,
			{
				kind: 'signed_copy',
				idempotencyKey: `signed copy ${letter.id}${to.id === item!.contact_id ? '' : ` ${to.id}`}`,
				content: { itemTitle: item!.title, attachment: { key: sealed.key, name: `${item!.title}.pdf` } }
			},
			to.id
		);
}
