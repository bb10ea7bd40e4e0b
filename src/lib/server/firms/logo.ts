import { createHash } from 'node:crypto';
import { PDFDocument } from '@cantoo/pdf-lib';
import { DomainError } from '$lib/core/errors/domain-error';
import { LOGO_MAX, pngSize } from '$lib/core/firms/logo';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Tx } from '../platform/db/database';

const UNREADABLE = 'This picture cannot be read as a logo. Please choose a PNG or an SVG.';

/**
 * Takes a new logo: a small PNG that can really be drawn. What people choose is redrawn by their browser, so that nothing
 * but pixels gets here; whatever else arrives is refused.
 * @throws DomainError unreadable_file, too_many
 */
export async function changeLogo(tx: Tx, actor: Actor, png: Buffer): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	if (png.length > LOGO_MAX.bytes)
		throw new DomainError('too_many', `A logo may have at most ${LOGO_MAX.bytes / 1000} kB. Please choose a simpler one.`);
	const size = pngSize(png);
	if (!size || size.width > LOGO_MAX.width || size.height > LOGO_MAX.height || size.width === 0 || size.height === 0)
		throw new DomainError('unreadable_file', UNREADABLE);
	// a damaged picture would be found only when the next letter is drawn
	await PDFDocument.create()
		.then((document) => document.embedPng(png))
		.catch(() => {
			throw new DomainError('unreadable_file', UNREADABLE);
		});
	await tx.rows(
		`insert into firm_logo (firm_id, png, width, height, changed_at) values ($1, $2, $3, $4, $5)
		on conflict (firm_id) do update set png = excluded.png, width = excluded.width, height = excluded.height, changed_at = excluded.changed_at`,
		[tx.firmId, png, size.width, size.height, actor.now]
	);
	await tx.rows('update firm set logo_version = $2 where id = $1', [tx.firmId, createHash('sha256').update(png).digest('hex').slice(0, 16)]);
	await recordEvent(tx, actor, { verb: 'firm_changed', details: { what: 'logo' } });
}

/** Takes the logo away; the firm's name stands alone again. */
export async function removeLogo(tx: Tx, actor: Actor): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	await tx.rows('update firm set logo_version = null where id = $1', [tx.firmId]);
	const removed = await tx.first('delete from firm_logo where firm_id = $1 returning firm_id', [tx.firmId]);
	if (removed) await recordEvent(tx, actor, { verb: 'firm_changed', details: { what: 'logo' } });
}

/** The firm's logo, or null. */
export function readLogo(tx: Tx): Promise<{ png: Buffer; width: number; height: number } | null> {
	return tx.first('select png, width, height from firm_logo where firm_id = $1', [tx.firmId]);
}
