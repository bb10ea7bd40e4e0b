import { clientMergeFields, CONTACT_FIELDS, mergeChoices, type MergeChoice } from '$lib/core/clients/merge';
import { DomainError } from '$lib/core/errors/domain-error';
import { requireStaff, type Actor } from '../actor';
import { loadFacts } from '../facts/firm-facts';
import type { Tx } from '../platform/db/database';
import type { Kind } from './merge';

interface MergeSide {
	id: string;
	name: string;
	fields: Record<string, string | null>;
}

async function readSide(tx: Tx, kind: Kind, id: string): Promise<MergeSide> {
	const row =
		kind === 'client'
			? await tx.first<{ name: string; fields: Record<string, string | null> }>(
					`select c.name, jsonb_build_object('name', c.name, 'kind', c.kind, 'responsible', s.name)
						|| coalesce((select jsonb_object_agg(name, value) from fact where client_id = c.id and replaced_at is null), '{}') fields
					from client c join staff s on s.id = c.responsible_id where c.id = $1`,
					[id]
				)
			: await tx.first<{ name: string; fields: Record<string, string | null> }>(
					`select name, jsonb_build_object('name', name, 'email', email, 'phone', phone) fields from contact where id = $1`,
					[id]
				);
	if (!row) throw new DomainError('not_found', kind === 'client' ? 'There is no such client.' : 'There is no such contact.');
	return { id, ...row };
}

export interface MergePreview {
	keep: { id: string; name: string };
	gone: { id: string; name: string };
	choices: MergeChoice[];
	/** how many of what would move */
	moves: { what: string; count: number }[];
}

/** What merging one into the other would do, field by field, and how much moves. */
export async function previewMerge(tx: Tx, actor: Actor, kind: Kind, keepId: string, goneId: string): Promise<MergePreview> {
	requireStaff(actor, 'close_client');
	if (keepId === goneId) throw new DomainError('invalid', 'These are one and the same already.');
	const [keep, gone] = [await readSide(tx, kind, keepId), await readSide(tx, kind, goneId)];
	const counts = await tx.first<Record<string, number>>(
		kind === 'client'
			? `select (select count(*)::int from request where client_id = $1) requests, (select count(*)::int from paper where client_id = $1 and removed_at is null) papers,
				(select count(*)::int from client_contact where client_id = $1) people, (select count(*)::int from engagement where client_id = $1) engagements,
				(select count(*)::int from client_note where client_id = $1 and removed_at is null) notes`
			: `select (select count(*)::int from request where contact_id = $1) requests, (select count(*)::int from client_contact where contact_id = $1) clients,
				(select count(*)::int from message where contact_id = $1) messages`,
		[goneId]
	);
	return {
		keep: { id: keep.id, name: keep.name },
		gone: { id: gone.id, name: gone.name },
		choices: mergeChoices(kind === 'client' ? clientMergeFields(await loadFacts(tx)) : CONTACT_FIELDS, keep.fields, gone.fields),
		moves: Object.entries(counts!)
			.filter(([, count]) => count > 0)
			.map(([what, count]) => ({ what, count }))
	};
}
