import { buffer } from 'node:stream/consumers';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { initialsOf, inReadingOrder, applies, placesSchema, TICKED, type Place } from '$lib/core/signing/places';
import type { KeptSignature } from '$lib/core/signing/signature';
import type { SigningWay } from '$lib/core/signing/ways';
import { dateWords, timeWords } from '$lib/words/dates';
import { signsFor } from '$lib/words/signs-for';
import { sayer, type Say } from '$lib/words/words';
import { machine } from '../actor';
import { recordEvent } from '../audit/record-event';
import { loadFirm, type Firm } from '../firms/firm';
import { eventAbout, lockItem, moveItem } from '../items/change-item';
import { planMessage } from '../outbox/plan-message';
import { writeAboutItem } from '../outbox/write-about-item';
import type { Tx } from '../platform/db/database';
import type { DrawnMark, FilledPlace } from '../platform/pdf/stamp-places';
import { readSealKey, stampNeeded, type SealingPlace } from './firm-seal';

interface SignatureRow {
	key: string;
	side: 'client' | 'firm';
	outside: boolean;
	name: string;
	email: string;
	mark: KeptSignature;
	consent: string;
	signed_at: string;
	ip: string;
	by: SigningWay;
	filled: Record<string, string>;
	scan_key: string | null;
}

/**
 * Seals a letter that all have signed: what was filled in stands in its places, the certificate page follows, and the whole carries the
 * firm's seal. Everybody who signed has their copy. Called again it does nothing: there is one file, whatever dies in between.
 */
export async function sealSignedLetter(place: SealingPlace & { origin: string }, firmId: string, letterId: string, now: string): Promise<void> {
	const read = await place.db.inFirm(firmId, async (tx) => {
		const letter = await tx.first<{
			item_id: string;
			storage_key: string;
			sha256: string;
			signature_page: number | null;
			signature_top: number | null;
			places: Place[];
			documents: { name: string; sha256: string }[];
			title: string;
			pages: number;
			request_id: string;
			client: string;
			locale: string;
		}>(
			`select l.item_id, l.storage_key, encode(l.sha256, 'hex') sha256, l.signature_page, l.signature_top, l.places, l.documents, l.pages, i.title, i.request_id, c.name client, o.locale
			from letter l join item i on i.id = l.item_id join client c on c.id = l.client_id join contact o on o.id = i.contact_id
			where l.id = $1 and l.state = 'complete'`,
			[letterId]
		);
		if (!letter) return null;
		const signatures = await tx.rows<SignatureRow>(
			`select s.key, s.side, s.outside, g.name, g.email, g.mark, g.consent, g.signed_at, g.ip, g.signed_by_way by, g.filled, g.scan_key
			from signature g join letter_signer s on s.letter_id = g.letter_id and s.position = g.rank where g.letter_id = $1 order by g.rank`,
			[letterId]
		);
		const events = await tx.rows<{ at: string; actor_name: string; verb: string; ip: string | null; details: Record<string, string> }>(
			`select at, actor_name, verb, ip, details from event
			where ((item_id in (select item_id from letter_signer where letter_id = $1) or item_id = $3) and verb like 'letter\\_%' and verb <> 'letter_downloaded')
				or (request_id = $2 and verb = 'request_sent') order by id`,
			[letterId, letter.request_id, letter.item_id]
		);
		const trail = await tx.first<{ number: number; hash: string }>(
			'select number, hash from letter_trail where letter_id = $1 order by number desc limit 1',
			[letterId]
		);
		return { letter, signatures, events, trail, firm: await loadFirm(tx), key: await readSealKey(tx, place.secretKey) };
	});
	if (!read) return;
	const { letter, firm, signatures, trail } = read;
	// in the language of whoever was asked first
	const words = sayer(letter.locale);
	const drawn = drawnMarks(signatures, letter.pages, words);
	const when = (at: string) => timeWords(letter.locale, at, firm.calendar.timeZone, 'stamp');
	const sealed = await place.pdf.seal({
		pdf: await buffer(place.papers.read(letter.storage_key)),
		title: letter.title,
		signaturePage: letter.signature_page,
		signatureTop: letter.signature_top,
		places: filledPlaces(
			placesSchema.parse(letter.places),
			signatures.map((one, i) => ({ ...one, mark: drawn[i] })),
			firm,
			letter.locale
		),
		documents: letter.documents,
		signatures: signatures.map((one, i) => ({
			mark: drawn[i],
			of: signsFor(words, one, { firm: firm.name, client: letter.client }),
			email: one.email,
			consent: one.consent,
			...(one.mark.method === 'paper'
				? {
						when: words('letter.signedOnPaper', { date: dateWords(letter.locale, one.mark.on, 'withYear') }),
						ip: null,
						by: words('certificate.onPaper', {
							name: one.mark.takenBy,
							when: when(one.signed_at),
							files: one.mark.files.map(({ name, sha256 }) => `${name} (SHA-256 ${sha256})`).join('; ')
						})
					}
				: {
						when: words('letter.signedAt', { when: when(one.signed_at) }),
						ip: one.ip,
						...(one.by === 'portal' ? {} : { by: words(`certificate.by.${one.by}`) })
					})
		})),
		scans: await Promise.all(
			signatures.flatMap(({ mark, scan_key }) =>
				mark.method === 'paper' && scan_key ? [buffer(place.papers.read(scan_key)).then((bytes) => ({ name: mark.name, bytes }))] : []
			)
		),
		events: read.events.map((event) => ({ when: when(event.at), what: certificateSentence(event, words) })),
		sha256: letter.sha256,
		words: {
			certificate: words('certificate.title'),
			about: words('certificate.about', { firm: firm.name }),
			document: words('certificate.document'),
			digest: words('certificate.digest'),
			signers: words('certificate.signers'),
			events: words('certificate.events'),
			reason: words('certificate.reason'),
			check: words('certificate.check', { url: `${place.origin}/portal/${firm.slug}/check` }),
			...(trail ? { trail: words('certificate.trail', { count: trail.number }) } : {})
		},
		...(trail ? { trailEnd: trail.hash } : {}),
		key: read.key,
		sealedAt: now,
		stampNeeded: stampNeeded(
			signatures
				.map(({ signed_at }) => signed_at)
				.sort()
				.at(-1)!,
			now
		)
	});
	const stored = await place.papers.putBuffer(sealed.pdf);
	let kept = false;
	try {
		// somebody of the firm who may not see the client any more gets no copy
		const staff = await place.db.inFirm(firmId, (tx) =>
			tx.rows<{ id: string; email: string }>(
				`select t.id, t.email::text from letter_signer s join staff t on t.id = s.staff_id where s.letter_id = $1 and s.copy and t.suspended_at is null order by s.position`,
				[letterId]
			)
		);
		const seeing: typeof staff = [];
		for (const one of staff)
			if (await place.db.inFirm(firmId, (tx) => tx.first('select 1 from letter where id = $1', [letterId]), { staffId: one.id })) seeing.push(one);
		kept = await place.db.inFirm(firmId, (tx) =>
			writeSealed(tx, firm, letterId, {
				...stored,
				now,
				clientName: letter.client,
				title: letter.title,
				staff: seeing,
				trailEnd: trail?.hash ?? null,
				stampedAt: sealed.stampedAt
			})
		);
	} finally {
		// another worker was faster, or it is gone
		if (!kept) await place.papers.remove(stored.key);
	}
}

/** How each signature is drawn: one that was made by hand is named by the page on which it is. @param pages of the letter, after which they follow */
function drawnMarks(signatures: readonly Pick<SignatureRow, 'mark'>[], pages: number, words: Say): DrawnMark[] {
	let page = pages + 1;
	return signatures.map(({ mark }) => {
		if (mark.method !== 'paper') return mark;
		const first = page;
		page += mark.pages;
		return { method: 'paper', name: mark.name, words: words('letter.byHand', { page: first }) };
	});
}

/** What stands in each place of a letter that all have signed; who signed by hand wrote theirs on paper. */
export function filledPlaces(
	places: readonly Place[],
	signatures: readonly (Pick<SignatureRow, 'key' | 'name' | 'email' | 'signed_at' | 'filled'> & { mark: DrawnMark })[],
	firm: Pick<Firm, 'calendar'>,
	locale: string
): FilledPlace[] {
	return inReadingOrder(places).flatMap((place): FilledPlace[] => {
		const by = signatures.find(({ key }) => key === place.of);
		if (!by || !applies(place, by.filled) || (by.mark.method === 'paper' && place.kind !== 'signature')) return [];
		const { page, x, y, width, height } = place;
		const at = { page, x, y, width, height };
		const value = by.filled[place.label] ?? '';
		switch (place.kind) {
			case 'signature':
				return [{ ...at, is: { mark: by.mark } }];
			case 'initials':
				return [{ ...at, is: { initials: initialsOf(by.name) } }];
			case 'date':
				return [{ ...at, is: { text: dateWords(locale, localDate(by.signed_at, firm.calendar), 'withYear') } }];
			case 'name':
				return [{ ...at, is: { text: by.name } }];
			case 'email':
				return [{ ...at, is: { text: by.email } }];
			case 'tick':
				return value === TICKED ? [{ ...at, is: { ticked: true } }] : [];
			default:
				return value ? [{ ...at, is: { text: value } }] : [];
		}
	});
}

function certificateSentence(event: { actor_name: string; verb: string; ip: string | null; details: Record<string, string> }, words: Say): string {
	const values = {
		from: event.details.from ?? '',
		name: event.actor_name,
		ip: event.ip ?? '',
		to: event.details.contact ?? event.details.to ?? '',
		method: event.details.method ?? '',
		service: event.details.service ?? '',
		score: event.details.score ?? '',
		questions: event.details.questions ?? ''
	};
	switch (event.verb) {
		case 'request_sent':
			return words('certificate.event.sent', values);
		case 'letter_opened':
			return words('certificate.event.opened', values);
		case 'letter_link_opened':
			return words('certificate.event.link_opened', values);
		case 'letter_code_asked':
			return words('certificate.event.code_asked', values);
		case 'letter_code_wrong':
			return words('certificate.event.code_wrong', values);
		case 'letter_code_given':
			return words('certificate.event.code_given', values);
		case 'letter_check_begun':
			return words('certificate.event.check_begun', values);
		case 'letter_check_passed':
			return words('certificate.event.check_passed', values);
		case 'letter_check_failed':
			return words('certificate.event.check_failed', values);
		case 'letter_check_unknown':
			return words('certificate.event.check_unknown', values);
		case 'letter_check_expired':
			return words('certificate.event.check_expired', values);
		case 'letter_check_allowed':
			return words('certificate.event.check_allowed', values);
		case 'letter_paper_sent':
			return words('certificate.event.paper_sent', values);
		case 'letter_paper_taken':
			return words('certificate.event.paper_taken', values);
		case 'letter_paper_returned':
			return words('certificate.event.paper_returned', values);
		case 'letter_shown_whole':
			return words('certificate.event.shown_whole', values);
		case 'letter_said_read':
			return words('certificate.event.said_read', values);
		case 'letter_turn':
			return words('certificate.event.turn', values);
		case 'letter_way_changed':
			return words('certificate.event.way_changed', values);
		case 'letter_signer_replaced':
			return words('certificate.event.replaced', values);
		case 'letter_taken_over':
			return words('certificate.event.taken_over', values);
		case 'letter_countersigned':
			return words('certificate.event.countersigned', values);
		default:
			return words('certificate.event.signed', values);
	}
}

/** @returns whether it was not sealed before */
async function writeSealed(
	tx: Tx,
	firm: Firm,
	letterId: string,
	sealed: {
		key: string;
		sha256: Buffer;
		now: string;
		clientName: string;
		title: string;
		staff: readonly { id: string; email: string }[];
		trailEnd: string | null;
		stampedAt: string | null;
	}
): Promise<boolean> {
	const letter = await tx.first<{ item_id: string }>(
		`update letter set state = 'sealed', sealed_key = $2, sealed_sha256 = $3, sealed_at = $4, trail_end = $5, stamped_at = $6 where id = $1 and state = 'complete' returning item_id`,
		[letterId, sealed.key, sealed.sha256, sealed.now, sealed.trailEnd, sealed.stampedAt]
	);
	if (!letter) return false;
	const actor = machine(sealed.now);
	const first = await lockItem(tx, letter.item_id);
	await recordEvent(tx, actor, {
		verb: 'letter_sealed',
		...eventAbout(first),
		details: { title: first.title, sha256: sealed.sha256.toString('hex'), ...(sealed.stampedAt ? { stamped: sealed.stampedAt } : {}) }
	});
	const items = await tx.rows<{ id: string }>(
		`select i.id from letter_signer s join item i on i.id = s.item_id where s.letter_id = $1 and i.state = 'handed_in' order by s.position`,
		[letterId]
	);
	for (const { id } of items) await moveItem(tx, actor, firm, await lockItem(tx, id), 'accept');
	const attachment = { key: sealed.key, name: `${sealed.title}.pdf` };
	// whoever signed it or gets a copy, and everybody else who was told of it
	const copies = await tx.rows<{ id: string; item_id: string; attached: boolean }>(
		`select c.id, coalesce(s.item_id, $2::uuid) item_id, coalesce(s.copy and (s.outside or c.password_hash is null), false) attached from contact c left join letter_signer s on s.letter_id = $1 and s.contact_id = c.id
		where c.removed_at is null and (s.id is not null or c.id = $3
			or c.id in (select m.contact_id from message_item mi join message m on m.id = mi.message_id where mi.item_id = $2 and m.kind = 'request'))
		order by s.position, c.id`,
		[letterId, first.id, first.contact_id]
	);
	for (const to of copies)
		await writeAboutItem(
			tx,
			actor,
			{ ...first, id: to.item_id },
			{
				kind: 'signed_copy',
				idempotencyKey: `signed copy ${letterId}${to.id === first.contact_id ? '' : ` ${to.id}`}`,
				content: { itemTitle: sealed.title, attachment, ...(to.attached ? { reason: 'attached' } : {}) }
			},
			to.id
		);
	for (const to of sealed.staff)
		await planMessage(tx, actor, {
			kind: 'signed_copy',
			idempotencyKey: `signed copy ${letterId} ${to.id}`,
			to: { address: to.email, staffId: to.id },
			clientId: first.client_id,
			content: { itemTitle: sealed.title, clientName: sealed.clientName, itemId: first.id, attachment }
		});
	return true;
}
