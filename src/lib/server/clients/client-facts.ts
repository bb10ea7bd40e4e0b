import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import type { FactDefinition, FirmFacts } from '$lib/core/facts/fact-definition';
import { factSchema } from '$lib/core/facts/fact-values';
import { saying } from '$lib/words/sayings';
import { requireContact, requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { loadFacts, maySeeFact } from '../facts/firm-facts';
import { loadFirm } from '../firms/firm';
import { clientsWithArea } from '../firms/portal-areas';
import type { Tx } from '../platform/db/database';
import { lockClient } from './client-record';

export interface KnownFact {
	name: string;
	/** empty for one that is kept secret: see `showFact` */
	value: string;
	saidBy: string;
	saidAt: string;
	confirmedBy: string | null;
	confirmedAt: string | null;
	/** what the item was called in answer to which it was said */
	answers: string | null;
	/** the paper that it was read from */
	paper: { id: string; name: string } | null;
	/** what was said before, newest first */
	earlier: { value: string; saidBy: string; saidAt: string }[];
}

/** What is known about a client, each fact with who said it and when, and what was said before; without what this person may not see. */
export async function readFacts(tx: Tx, actor: Actor, clientId: string, facts?: FirmFacts): Promise<KnownFact[]> {
	requireStaff(actor, 'look');
	const definitions = facts ?? (await loadFacts(tx));
	const known = await tx.rows<KnownFact>(
		`select f.name, f.value, f.said_by_name as "saidBy", f.said_at as "saidAt", f.confirmed_by_name as "confirmedBy", f.confirmed_at as "confirmedAt", i.title as answers,
			case when p.id is not null then json_build_object('id', p.id, 'name', p.name) end paper,
			coalesce((select json_agg(json_build_object('value', e.value, 'saidBy', e.said_by_name, 'saidAt', to_iso(e.said_at)) order by e.said_at desc)
				from fact e where e.client_id = f.client_id and e.name = f.name and e.replaced_at is not null), '[]') earlier
		from fact f left join item i on i.id = f.answers_item_id left join paper p on p.id = f.paper_id and p.removed_at is null where f.client_id = $1 and f.replaced_at is null`,
		[clientId]
	);
	return known.flatMap((fact) => {
		const definition = definitions.get(fact.name);
		if (!definition || !maySeeFact(actor, definition)) return [];
		return [definition.secret ? { ...fact, value: '', earlier: [] } : fact];
	});
}

/** The definition of a fact that somebody may see. @throws DomainError not_found */
async function requireFact(tx: Tx, actor: Actor, name: string): Promise<FactDefinition> {
	const definition = (await loadFacts(tx)).get(name);
	if (!definition || !maySeeFact(actor, definition))
		throw new DomainError(
			'not_found',
			actor.kind === 'contact' ? saying('wrong.fact.unknown') : 'This fact is not there any more. Load the page again.'
		);
	return definition;
}

/** What somebody said, spelled as it is kept. @throws through Zod what is wrong with it, at `value` */
async function spell(tx: Tx, definition: FactDefinition, value: unknown): Promise<string> {
	const { country } = await loadFirm(tx);
	return z.object({ value: factSchema(definition, { country }) }).parse({ value }).value;
}

/**
 * Notes what somebody says about a client, or read from a paper of theirs. A correction keeps the earlier value; saying the same again changes
 * nothing, unless a paper shows it: then it is confirmed.
 * @throws DomainError not_found for a paper of another client
 */
export async function sayFact(
	tx: Tx,
	actor: Actor,
	input: { clientId: string; name: string; value: unknown; paperId?: string | null }
): Promise<void> {
	requireStaff(actor, 'keep_record');
	const definition = await requireFact(tx, actor, input.name);
	await lockClient(tx, input.clientId);
	const paperId = input.paperId ?? null;
	if (paperId && !(await tx.first('select 1 from paper where id = $1 and client_id = $2 and removed_at is null', [paperId, input.clientId])))
		throw new DomainError('not_found', 'This paper is not there any more. Choose another one.');
	await writeFact(tx, actor, { clientId: input.clientId, definition, value: await spell(tx, definition, input.value), paperId });
}

/** Most papers that are offered to have read a fact from. */
const PAPERS_OFFERED = 60;

/** The newest papers of a client, from which something may have been read. */
export function readPapersToReadFrom(tx: Tx, actor: Actor, clientId: string): Promise<{ id: string; name: string }[]> {
	requireStaff(actor, 'look');
	return tx.rows('select id, name from paper where client_id = $1 and removed_at is null order by uploaded_at desc, id limit $2', [
		clientId,
		PAPERS_OFFERED
	]);
}

/** The clients of a contact whose firm shows what it knows, for a change. @throws DomainError not_found, changed_meanwhile */
async function requireOwnClient(tx: Tx, actor: Actor, clientId: string): Promise<void> {
	const client = (await clientsWithArea(tx, actor, 'facts')).find((theirs) => theirs.id === clientId);
	if (!client) throw new DomainError('not_found', saying('wrong.client.unknown'));
	if (client.state !== 'active') throw new DomainError('changed_meanwhile', saying('wrong.client.closed', { client: client.name }));
}

/**
 * Notes what a contact says about a client of theirs, in the part of the portal that shows it.
 * @throws DomainError not_found for another's client, and where the firm does not show what it knows or lets nobody correct it
 */
export async function sayOwnFact(tx: Tx, actor: Actor, input: { clientId: string; name: string; value: unknown }): Promise<void> {
	requireContact(actor);
	await requireOwnClient(tx, actor, input.clientId);
	const definition = await requireFact(tx, actor, input.name);
	if (definition.clientMay !== 'correct' || definition.retired) throw new DomainError('not_found', saying('wrong.fact.unknown'));
	await noteAnsweredFact(tx, actor, { clientId: input.clientId, definition, value: await spell(tx, definition, input.value) });
}

/** Keeps an answer of a contact as a fact, whether or not the firm shows what it knows. The item it answers was found to be theirs. */
export async function noteAnsweredFact(
	tx: Tx,
	actor: Actor,
	input: { clientId: string; definition: FactDefinition; value: string; itemId?: string }
): Promise<void> {
	// two at once say it one after the other; a contact may not lock the client itself
	await tx.rows('select pg_advisory_xact_lock(hashtext($1))', [`fact ${input.clientId} ${input.definition.name}`]);
	await writeFact(tx, actor, input);
}

/** Says that a fact is still right. */
export async function confirmFact(tx: Tx, actor: Actor, input: { clientId: string; name: string }): Promise<void> {
	requireStaff(actor, 'keep_record');
	const definition = await requireFact(tx, actor, input.name);
	await lockClient(tx, input.clientId);
	await markConfirmed(tx, actor, input.clientId, definition);
}

/** The same by a contact, about a client of theirs. */
export async function confirmOwnFact(tx: Tx, actor: Actor, input: { clientId: string; name: string }): Promise<void> {
	requireContact(actor);
	await requireOwnClient(tx, actor, input.clientId);
	await markConfirmed(tx, actor, input.clientId, await requireFact(tx, actor, input.name));
}

async function markConfirmed(tx: Tx, actor: Actor, clientId: string, definition: FactDefinition): Promise<void> {
	const confirmed = await tx.first(
		'update fact set confirmed_at = $3, confirmed_by_name = $4 where client_id = $1 and name = $2 and replaced_at is null returning id',
		[clientId, definition.name, actor.now, actor.name]
	);
	if (!confirmed)
		throw new DomainError(
			'changed_meanwhile',
			actor.kind === 'contact' ? saying('wrong.fact.unknown') : 'This is not known any more. Load the page again.'
		);
	await recordEvent(tx, actor, { verb: 'fact_confirmed', clientId, details: { fact: inSentence(definition.label), name: definition.name } });
}

/** A fact that is kept secret, for somebody who asks to see it: the history says who did. */
export async function showFact(tx: Tx, actor: Actor, input: { clientId: string; name: string }): Promise<string> {
	requireStaff(actor, 'look');
	const definition = await requireFact(tx, actor, input.name);
	const fact = await tx.first<{ value: string }>('select value from fact where client_id = $1 and name = $2 and replaced_at is null', [
		input.clientId,
		definition.name
	]);
	if (!fact) throw new DomainError('not_found', 'This is not known any more. Load the page again.');
	await recordEvent(tx, actor, {
		verb: 'fact_shown',
		clientId: input.clientId,
		details: { fact: inSentence(definition.label), name: definition.name }
	});
	return fact.value;
}

export interface OwnFact {
	name: string;
	value: string;
	saidBy: string;
	saidAt: string;
	confirmedAt: string | null;
}

/** What a contact's clients are known by, for those whose firm shows it, with what may be known; in the order of the record. */
export async function readOwnFacts(
	tx: Tx,
	actor: Actor
): Promise<{ definitions: FactDefinition[]; clients: { clientId: string; clientName: string; facts: OwnFact[] }[] }> {
	const clients = await clientsWithArea(tx, actor, 'facts');
	const definitions = (await loadFacts(tx)).all.filter((definition) => maySeeFact(actor, definition) && !definition.mergedInto);
	const facts = await tx.rows<OwnFact & { clientId: string }>(
		`select client_id as "clientId", name, value, said_by_name as "saidBy", said_at as "saidAt", confirmed_at as "confirmedAt"
		from fact where client_id = any ($1) and name = any ($2) and replaced_at is null`,
		[clients.map((client) => client.id), definitions.map(({ name }) => name)]
	);
	return {
		definitions,
		clients: clients.map((client) => ({
			clientId: client.id,
			clientName: client.name,
			facts: facts.filter((fact) => fact.clientId === client.id)
		}))
	};
}

async function writeFact(
	tx: Tx,
	actor: Actor,
	{
		clientId,
		definition,
		value,
		itemId,
		paperId
	}: { clientId: string; definition: FactDefinition; value: string; itemId?: string; paperId?: string | null }
): Promise<void> {
	const before = await tx.first<{ id: string; value: string }>(
		'select id, value from fact where client_id = $1 and name = $2 and replaced_at is null',
		[clientId, definition.name]
	);
	if (before?.value === value) {
		if (paperId) await tx.rows('update fact set paper_id = $2 where id = $1', [before.id, paperId]);
		// answered the same once more, or found so in a paper, it is confirmed
		if (itemId || paperId) await markConfirmed(tx, actor, clientId, definition);
		return;
	}
	const { name, label } = definition;
	if (before) await tx.rows('update fact set replaced_at = $2 where id = $1', [before.id, actor.now]);
	await tx.rows(
		`insert into fact (id, firm_id, client_id, name, value, said_by_kind, said_by, said_by_name, said_at, answers_item_id, paper_id) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11)`,
		[randomUUID(), tx.firmId, clientId, name, value, actor.kind, actor.id, actor.name, actor.now, itemId ?? null, paperId ?? null]
	);
	await recordEvent(tx, actor, { verb: before ? 'fact_corrected' : 'fact_said', clientId, details: { fact: inSentence(label), name } });
}

/** A label within a sentence: "the legal form", but "the GST number". */
const inSentence = (label: string): string => (/^\p{Lu}\p{Ll}/u.test(label) ? label[0].toLowerCase() + label.slice(1) : label);
