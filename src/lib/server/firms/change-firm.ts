import type { z } from 'zod';
import { DomainError } from '$lib/core/errors/domain-error';
import type { brandSchema, firmDetailsSchema, firmHoursSchema } from '$lib/core/firms/firm-forms';
import { OPEN_STATES } from '$lib/core/requests/item-states';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import { refreshChaseDays } from '../chasing/refresh-schedule';
import type { Tx } from '../platform/db/database';
import { loadFirm } from './firm';

/** Changes who the firm is: its name, address, country and the address its mail comes from. */
export async function changeFirmDetails(tx: Tx, actor: Actor, input: z.output<typeof firmDetailsSchema>): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	await tx.rows('update firm set name = $2, address = $3, country = $4, mail_from = $5 where id = $1', [
		tx.firmId,
		input.name,
		input.address,
		input.country,
		input.mailFrom
	]);
	await recordEvent(tx, actor, { verb: 'firm_changed', details: { what: 'name, address and mail' } });
}

/** Changes when the firm works. Every chase that is still to come is placed anew. */
export async function changeFirmHours(tx: Tx, actor: Actor, input: z.output<typeof firmHoursSchema>): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	await tx.rows('update firm set time_zone = $2, business_days = $3, send_from = $4, send_to = $5 where id = $1', [
		tx.firmId,
		input.timeZone,
		input.businessDays,
		input.sendFrom,
		input.sendTo
	]);
	const firm = await loadFirm(tx);
	const items = await tx.rows<{ id: string }>('select id from item where firm_id = $1 and state = any ($2) order by id for update', [
		tx.firmId,
		OPEN_STATES
	]);
	await refreshChaseDays(
		tx,
		items.map((item) => item.id),
		firm.chasePlan,
		firm.calendar
	);
	await recordEvent(tx, actor, { verb: 'firm_changed', details: { what: 'calendar and sending hours' } });
}

/**
 * Changes how the firm appears to its clients. A new short name takes effect at once; the old address goes on leading here.
 * @throws DomainError invalid if another firm has or had the short name
 */
export async function changeBrand(tx: Tx, actor: Actor, input: z.output<typeof brandSchema>): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	const before = await tx.first<{ slug: string }>('select slug from firm where id = $1 for update', [tx.firmId]);
	if (before!.slug !== input.shortName) {
		const known = await tx.first<{ firm_id: string }>('select firm_id from find_short_name($1)', [input.shortName]);
		if (known && known.firm_id !== tx.firmId)
			throw new DomainError('invalid', `“${input.shortName}” belongs to another firm.`, { shortName: 'This belongs to another firm.' });
		await tx.rows('delete from former_short_name where slug = $1', [input.shortName]);
		await tx.rows('insert into former_short_name (slug, firm_id, changed_at) values ($1, $2, $3)', [before!.slug, tx.firmId, actor.now]);
	}
	await tx.rows('update firm set brand_color = $2, welcome = $3, slug = $4, welcome_video = $5 where id = $1', [
		tx.firmId,
		input.color,
		input.welcome,
		input.shortName,
		input.welcomeVideo
	]);
	await recordEvent(tx, actor, { verb: 'firm_changed', details: { what: 'brand and portal address' } });
}
