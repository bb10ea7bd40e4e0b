import { randomUUID } from 'node:crypto';
import type { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import { passingShade } from '$lib/core/firms/brand-color';
import type { clientBrandSchema, furtherBrandSchema } from '$lib/core/firms/firm-forms';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Tx } from '../platform/db/database';
import type { Firm } from './firm';

export interface Brand {
	id: string;
	name: string;
	color: string;
	welcome: string;
	welcomeVideo: string | null;
	welcomePicture: string | null;
	logoVersion: string | null;
	clients: number;
}

/** The further brands of the firm, by name, with how many clients see each. */
export function readBrands(tx: Tx): Promise<Brand[]> {
	return tx.rows<Brand>(
		`select id, name, color, welcome, welcome_video as "welcomeVideo", welcome_picture as "welcomePicture", logo_version as "logoVersion",
			(select count(*) from client c where c.brand_id = b.id) clients
		from brand b where firm_id = $1 and ended_at is null order by lower(name), id`,
		[tx.firmId]
	);
}

/** Makes a further brand, or changes one. @throws DomainError invalid if the name is taken, not_found */
export async function writeBrand(tx: Tx, actor: Actor, id: string | null, input: z.output<typeof furtherBrandSchema>): Promise<string> {
	requireStaff(actor, 'set_up_firm');
	const taken = await tx.first('select 1 from brand where firm_id = $1 and lower(name) = lower($2) and ended_at is null and id is distinct from $3', [
		tx.firmId,
		input.name,
		id
	]);
	if (taken) throw new DomainError('invalid', `There is a brand “${input.name}” already.`, { name: 'There is a brand of this name already.' });
	const brandId = id ?? randomUUID();
	const values = [brandId, input.name, input.color, input.welcome, input.welcomeVideo];
	if (!id)
		await tx.rows('insert into brand (id, name, color, welcome, welcome_video, firm_id, made_at) values ($1, $2, $3, $4, $5, $6, $7)', [
			...values,
			tx.firmId,
			actor.now
		]);
	else if (
		!(await tx.first(
			'update brand set name = $2, color = $3, welcome = $4, welcome_video = $5 where id = $1 and ended_at is null returning id',
			values
		))
	)
		throw new DomainError('not_found', 'There is no such brand.');
	await recordEvent(tx, actor, { verb: 'firm_changed', details: { what: `brand ${input.name}` } });
	return brandId;
}

/** Ends a brand. Its clients see the firm's own again. Doing it twice changes nothing. */
export async function endBrand(tx: Tx, actor: Actor, id: string): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	const ended = await tx.first<{ name: string }>('update brand set ended_at = $2 where id = $1 and ended_at is null returning name', [id, actor.now]);
	if (!ended) return;
	await tx.rows('update client set brand_id = null where brand_id = $1', [id]);
	await recordEvent(tx, actor, { verb: 'firm_changed', details: { what: `brand ${ended.name}, ended` } });
}

export interface ClientBrand {
	brandId: string | null;
	welcome: string | null;
	welcomeVideo: string | null;
}

/** Which brand a client sees, and a welcome of their own. */
export async function readClientBrand(tx: Tx, clientId: string): Promise<ClientBrand> {
	const row = await tx.first<ClientBrand>('select brand_id as "brandId", welcome, welcome_video as "welcomeVideo" from client where id = $1', [
		clientId
	]);
	if (!row) throw new DomainError('not_found', 'There is no such client.');
	return row;
}

/** Chooses which brand a client sees, and whether they get a welcome of their own. */
export async function changeClientBrand(tx: Tx, actor: Actor, clientId: string, input: z.output<typeof clientBrandSchema>): Promise<void> {
	requireStaff(actor, 'add_client');
	if (input.brandId && !(await tx.first('select 1 from brand where id = $1 and ended_at is null', [input.brandId])))
		throw new DomainError('invalid', 'There is no such brand any more.', { brandId: 'Choose a brand.' });
	const changed = await tx.first('update client set brand_id = $2, welcome = $3, welcome_video = $4 where id = $1 returning id', [
		clientId,
		input.brandId,
		input.welcome,
		input.welcomeVideo
	]);
	if (!changed) throw new DomainError('not_found', 'There is no such client.');
	await recordEvent(tx, actor, { verb: 'client_brand_changed', clientId });
}

/**
 * The firm as somebody sees it: in the brand of the client it is about; without one client, in the brand that all clients
 * of a contact share, else in its own. A brand alone is meant where nobody is known yet.
 */
export async function withBrandOf(
	tx: Tx,
	firm: Firm,
	about: { clientId?: string | null; contactId?: string | null; brandId?: string | null }
): Promise<Firm> {
	if (!about.clientId && !about.contactId && !about.brandId) return firm;
	const seen = await tx.first<{
		brand: {
			id: string;
			name: string;
			color: string;
			welcome: string;
			welcome_video: string | null;
			welcome_picture: string | null;
			logo_version: string | null;
		} | null;
		welcome: string | null;
		video: string | null;
	}>(
		`with theirs as (
			select c.brand_id, c.welcome, c.welcome_video from client c
			where case when $1::uuid is not null then c.id = $1 else c.id in (select client_id from client_contact where contact_id = $2) end
		), one as (
			select (array_agg(distinct brand_id))[1] brand_id, count(*) clients, max(welcome) welcome, max(welcome_video) video
			from theirs having count(distinct coalesce(brand_id::text, '')) = 1
			union all
			select $3, 0, null, null where $1::uuid is null and $2::uuid is null
		)
		select to_jsonb(b) brand, case when o.clients = 1 then o.welcome end welcome, case when o.clients = 1 then o.video end video
		from one o left join brand b on b.id = o.brand_id and b.ended_at is null`,
		[about.clientId ?? null, about.contactId ?? null, about.brandId ?? null]
	);
	if (!seen) return firm;
	const { brand } = seen;
	const branded: Firm = brand
		? {
				...firm,
				name: brand.name,
				brandId: brand.id,
				brandColor: brand.color,
				color: passingShade(brand.color),
				logoVersion: brand.logo_version,
				welcome: brand.welcome,
				welcomeVideo: brand.welcome_video,
				welcomePicture: brand.welcome_picture
			}
		: firm;
	// a welcome of their own comes without the brand's picture and video: it says something else
	return seen.welcome || seen.video ? { ...branded, welcome: seen.welcome ?? '', welcomeVideo: seen.video, welcomePicture: null } : branded;
}
