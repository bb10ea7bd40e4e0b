import { createHash } from 'node:crypto';
import { PDFDocument } from '@cantoo/pdf-lib';
import { DomainError } from '$lib/core/errors/domain-error';
import { LOGO_MAX, pngSize, WELCOME_PICTURE_MAX } from '$lib/core/firms/logo';
import { requireStaff, type Actor } from '../actor';
import { recordEvent } from '../audit/record-event';
import type { Tx } from '../platform/db/database';

const UNREADABLE = 'This picture cannot be read. Please choose another one.';
/** A picture of the firm's own brand, or of a further one. */
export interface PictureOf {
	what: 'logo' | 'welcome';
	/** null for the firm's own brand */
	brandId: string | null;
}
const COLUMN = { logo: 'logo_version', welcome: 'welcome_picture' } as const;

export interface Picture {
	mime: 'image/png' | 'image/jpeg';
	bytes: Buffer;
	width: number;
	height: number;
}

/**
 * Takes a new logo or welcome picture: a small one that can really be drawn. What people choose is redrawn by their
 * browser, so that nothing but pixels gets here; whatever else arrives is refused. Logos are PNG, welcomes JPEG.
 * @throws DomainError unreadable_file, too_many, not_found
 */
export async function changePicture(tx: Tx, actor: Actor, of: PictureOf, bytes: Buffer): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	const max = of.what === 'logo' ? LOGO_MAX : WELCOME_PICTURE_MAX;
	if (bytes.length > max.bytes)
		throw new DomainError('too_many', `This picture may have at most ${max.bytes / 1000} kB. Please choose a simpler one.`);
	const picture = await readable(of.what, bytes);
	if (!picture || picture.width > max.width || picture.height > max.height || picture.width === 0 || picture.height === 0)
		throw new DomainError('unreadable_file', UNREADABLE);
	const version = createHash('sha256').update(bytes).digest('hex').slice(0, 16);
	await tx.rows(
		`insert into picture (firm_id, version, mime, bytes, width, height, made_at) values ($1, $2, $3, $4, $5, $6, $7) on conflict do nothing`,
		[tx.firmId, version, picture.mime, bytes, picture.width, picture.height, actor.now]
	);
	await setVersion(tx, of, version);
	await recordPicture(tx, actor, of);
}

/** Takes a picture away. Doing it twice changes nothing. */
export async function removePicture(tx: Tx, actor: Actor, of: PictureOf): Promise<void> {
	requireStaff(actor, 'set_up_firm');
	if (await setVersion(tx, of, null)) await recordPicture(tx, actor, of);
}

function recordPicture(tx: Tx, actor: Actor, of: PictureOf): Promise<void> {
	return recordEvent(tx, actor, { verb: 'firm_changed', details: { what: of.what === 'logo' ? 'logo' : 'welcome picture' } });
}

/** Tells whether it changed. The picture before is kept: messages that were sent show it under its address. */
async function setVersion(tx: Tx, of: PictureOf, version: string | null): Promise<boolean> {
	const column = COLUMN[of.what];
	const found = await tx.first<{ before: string | null }>(
		of.brandId
			? `select ${column} before from brand where id = $1 and ended_at is null for update`
			: `select ${column} before from firm where id = $1 for update`,
		[of.brandId ?? tx.firmId]
	);
	if (!found) throw new DomainError('not_found', 'There is no such brand.');
	if (found.before === version) return false;
	await tx.rows(`update ${of.brandId ? 'brand' : 'firm'} set ${column} = $2 where id = $1`, [of.brandId ?? tx.firmId, version]);
	return true;
}

/** Mime type and size of a picture that can be drawn, or null. A damaged one would be found only when the next letter is. */
async function readable(what: PictureOf['what'], bytes: Buffer): Promise<{ mime: Picture['mime']; width: number; height: number } | null> {
	const document = await PDFDocument.create();
	try {
		if (what === 'logo') {
			const size = pngSize(bytes);
			if (size && size.width <= LOGO_MAX.width && size.height <= LOGO_MAX.height) await document.embedPng(bytes);
			return size && { mime: 'image/png', ...size };
		}
		const { width, height } = await document.embedJpg(bytes);
		return { mime: 'image/jpeg', width, height };
	} catch {
		return null;
	}
}

/** A picture as a data address, for a PDF. */
export const pngAddress = ({ bytes }: Pick<Picture, 'bytes'>): string => `data:image/png;base64,${bytes.toString('base64')}`;

/** A picture by its version, or null. */
export function readPicture(tx: Tx, version: string | null): Promise<Picture | null> {
	return version === null
		? Promise.resolve(null)
		: tx.first<Picture>('select mime, bytes, width, height from picture where firm_id = $1 and version = $2', [tx.firmId, version]);
}
