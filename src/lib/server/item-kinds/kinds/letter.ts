import { randomUUID } from 'node:crypto';
import { DomainError } from '$lib/core/errors/domain-error';
import { LETTER_STOPPED, type LetterState } from '$lib/core/signing/letter-states';
import { feeWords } from '$lib/words/fees';
import { inWords, saying } from '$lib/words/sayings';
import { machine } from '../../actor';
import { loadFirm, type Firm } from '../../firms/firm';
import { lockItem, moveItem } from '../../items/change-item';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { feesMissing, feesTable, hasFees, withFees } from '$lib/core/letters/fees';
import { partsOf, withoutParts } from '$lib/core/letters/letter-document';
import { judge } from '$lib/core/requests/conditions';
import { settleLetter } from '$lib/core/requests/facts-of-lines';
import type { RequestLine } from '$lib/core/requests/request-list';
import { readClientsKnown } from '../../clients/clients-known';
import { readFees } from '../../clients/fees';
import { loadFacts } from '../../facts/firm-facts';
import { documentsOf, named, requireSigners } from '../../letters/letter-signers';
import { prepareLetter, requireFilledLetter, type PreparedLetter } from '../../letters/prepare-letter';
import { stopLetters } from '../../letters/stop-letters';
import type { Tx } from '../../platform/db/database';
import { enqueue } from '../../platform/queue';
import type { ServerItemKind } from '../item-kind';

/**
 * A letter with the parts that come for a client.
 * @throws DomainError invalid if a part hangs on something that is not known of the client
 */
async function withItsParts(tx: Tx, line: LineOfLetter, firm: Firm, clientId: string, now: string): Promise<LineOfLetter> {
	if (partsOf(line.document).length === 0) return line;
	const facts = await loadFacts(tx);
	const document = settleLetter(line.document, facts, firm);
	const known = (await readClientsKnown(tx, [clientId], localDate(now, firm.calendar))).get(clientId);
	if (!known) throw new DomainError('not_found', saying('wrong.letter.unknown'));
	return {
		...line,
		document: withoutParts(document, ({ attrs: { onlyIf } }, number) => {
			const verdict = judge(onlyIf, known, facts);
			if (verdict.holds !== 'unknown') return verdict.holds;
			const missing = verdict.missing.map((name) => facts.get(name)?.label ?? name);
			const why = missing.length > 0 ? `${missing.join(', ')}, which is not known of this client` : 'something that is not there any more';
			throw new DomainError('invalid', `“${line.title}” cannot go yet: whether its part ${number} comes hangs on ${why}.`);
		})
	};
}

/**
 * A letter with its fees as a table: those of the client's record, or as they were written for this copy.
 * @throws DomainError invalid if something of it is not known
 */
async function withItsFees(tx: Tx, line: LineOfLetter, firm: Firm, clientId: string, locale: string): Promise<LineOfLetter> {
	if (!hasFees(line.document)) return line;
	const fees = line.spec.fees ?? (await readFees(tx, clientId));
	const missing = feesMissing(fees, firm.currency);
	if (missing) throw new DomainError('invalid', `“${line.title}” cannot go yet. It has a table of fees, and ${missing}.`);
	return { ...line, document: withFees(line.document, feesTable(fees, firm.currency, feeWords(locale, firm.currency))) };
}

/** What was to be decided about the version before is decided: there is a new one. */
async function settleReplaced(tx: Tx, letterId: string, now: string): Promise<void> {
	const firm = await loadFirm(tx);
	const items = await tx.rows<{ id: string }>(
		`select i.id from letter_signer s join item i on i.id = s.item_id where s.letter_id = $1 and i.state = 'declined' order by s.position`,
		[letterId]
	);
	for (const { id } of items)
		await moveItem(tx, machine(now), firm, await lockItem(tx, id), 'waive', { reason: inWords(firm.locale, saying('letter.replaced')) });
}

type LineOfLetter = Extract<RequestLine, { kind: 'letter' }>;

/** @throws DomainError not_found for a file that is not the firm's, or is no PDF */
async function requireDocuments(tx: Tx, ids: readonly string[]): Promise<void> {
	if (ids.length === 0) return;
	const known = await tx.first<{ n: number }>(`select count(*) n from attachment where id = any ($1) and content_type = 'application/pdf'`, [ids]);
	if (known!.n !== new Set(ids).size) throw new DomainError('not_found', 'A document to sign is not there any more. Take it out, and add it again.');
}

/**
 * The letter of the same client that a line is a new version of; of another client, where a line was kept as a template, it is of none.
 * @throws DomainError changed_meanwhile if that can be signed after all, or has a new version by now
 */
async function requireReplaceable(
	tx: Tx,
	clientId: string,
	{ title, spec: { replaces } }: { title: string; spec: { replaces?: string | null } }
): Promise<string | null> {
	if (!replaces) return null;
	const old = await tx.first<{ state: LetterState; replaced: boolean }>(
		'select l.state, exists (select from letter n where n.replaces_id = l.id) replaced from letter l where l.id = $1 and l.client_id = $2',
		[replaces, clientId]
	);
	if (!old) return null;
	if (old.replaced || !LETTER_STOPPED.includes(old.state))
		throw new DomainError('changed_meanwhile', `“${title}” has a new version already, or is signed. Look at the client's record before you send it.`);
	return replaces;
}

export const letter: ServerItemKind<'letter', PreparedLetter> = {
	// a letter is signed, in steps of its own
	handIn: async () => {
		throw new DomainError('invalid', saying('wrong.item.signOrDecline'));
	},
	beforeSending: async (tx, given, { clientId, firm, to, now }) => {
		const documents = documentsOf(given);
		const line =
			documents.length === 0 ? await withItsFees(tx, await withItsParts(tx, given, firm, clientId, now), firm, clientId, to.locale) : given;
		await requireDocuments(tx, documents);
		if (documents.length === 0) requireFilledLetter(firm, to, line, now);
		const { signing } = line.spec;
		const replaces = await requireReplaceable(tx, clientId, line);
		if (!signing) return { ...line, spec: { replaces } };
		const signers = await requireSigners(tx, firm, clientId, signing, to);
		return { ...line, spec: { signing: { ...signing, signers: named(signers) }, replaces } };
	},
	prepare: (line, by) => prepareLetter(line, by),
	discard: (prepared, place) => place.papers.remove(prepared.storageKey),
	afterWriting: async (tx, item, line, prepared, now) => {
		if (!prepared) throw new Error('a letter is sent with what was composed');
		const letterId = randomUUID();
		await tx.rows(
			`insert into letter (id, firm_id, client_id, item_id, document, state, storage_key, sha256, pages, signature_page, signature_top, documents, places, lapses_on, replaces_id, changes)
			values ($1, $2, $3, $4, $5, 'sent', $6, $7, $8, $9, $10, $11, $12, $13, $14, $15)`,
			[
				letterId,
				tx.firmId,
				item.clientId,
				item.id,
				JSON.stringify(prepared.document),
				prepared.storageKey,
				prepared.sha256,
				prepared.pages,
				prepared.signaturePage,
				prepared.signatureTop,
				JSON.stringify(prepared.documents),
				JSON.stringify(prepared.places),
				prepared.lapsesOn,
				line.spec.replaces ?? null,
				prepared.changes && JSON.stringify(prepared.changes)
			]
		);
		if (line.spec.replaces) await settleReplaced(tx, line.spec.replaces, now);
		await tx.rows(
			`insert into letter_signer (id, firm_id, client_id, letter_id, key, position, rank, side, copy, contact_id, staff_id, name, signs_by, outside, item_id, state, asked_at)
			select gen_random_uuid(), $1, $2, $3, s.key, s.position, s.rank, s.side, s.copy, s.contact_id, s.staff_id, s.name, s.by, s.outside,
				case when s.contact_id = i.contact_id and not s.copy then i.id end,
				case when s.contact_id = i.contact_id and not s.copy then 'asked' else 'waits' end,
				case when s.contact_id = i.contact_id and not s.copy then $6::timestamptz end
			from item i, jsonb_to_recordset($5) as s (key text, position int, rank int, side text, copy boolean, contact_id uuid, staff_id uuid, name text, by text, outside boolean)
			where i.id = $4`,
			[
				tx.firmId,
				item.clientId,
				letterId,
				item.id,
				JSON.stringify(
					prepared.signers.map((signer, at) => ({ ...signer, position: at + 1, contact_id: signer.contactId, staff_id: signer.staffId }))
				),
				now
			]
		);
		// each of several signs what is theirs: nobody answers for another
		if (prepared.signers.filter(({ side, copy }) => side === 'client' && !copy).length > 1) {
			await tx.rows('update item set own = true where id = $1', [item.id]);
			await enqueue(tx, 'letter_goes_on', { firmId: tx.firmId, letterId });
		}
	},
	onWaiving: stopLetters,
	onUndoSending: stopLetters
};
