import { z } from 'zod';
import { folderChoiceSchema } from '$lib/core/papers/folders';
import { requireRoomForArrival, takeInArrival } from '$lib/server/papers/arrivals';
import { requireRoomForPaper, takeInPaper } from '$lib/server/papers/papers';
import { givePaper, requireMayGive, SHOWING } from '$lib/server/papers/shared-papers';
import { DomainError } from '$lib/core/errors/domain-error';
import { saying } from '$lib/words/sayings';
import type { Actor } from '$lib/server/actor';
import type { Database } from '$lib/server/platform/db/database';
import type { PaperStore } from '$lib/server/platform/files/paper-store';
import type { UploadBy, UploadInto } from './resumable-uploads';

/** Who sends it, from which side of the product. */
interface Sender {
	context: { db: Database; papers: PaperStore };
	firmId: string;
	actor: Actor;
}

/** Whose upload it is: of whoever is signed in. */
export const byWhom = (request: Sender & { locale?: string }, into: UploadInto): UploadBy => ({
	place: request.context,
	firmId: request.firmId,
	actor: request.actor,
	into,
	locale: request.locale ?? 'en'
});

/** A file for something that is asked of a client; the slot is the named file of the item. */
export const forItem = (portal: Sender, itemId: string): UploadInto => ({
	purpose: `item ${itemId}`,
	allowed: async (tx) => void (await requireRoomForPaper(tx, portal.actor, itemId)),
	take: (file) => takeInPaper(portal.context, portal.firmId, portal.actor, { itemId, ...file })
});

/** A file that somebody sends without being asked; the slot says for which client, and into which of their folders. */
export function unasked(portal: Sender): UploadInto {
	const whereTo = (slot: string | null) => {
		const [clientId, folderId = null] = (slot ?? '').split('.');
		if (!isId(clientId) || !isId(folderId ?? clientId)) throw new DomainError('not_found', saying('wrong.paper.folder'));
		return { clientId, folderId };
	};
	return {
		purpose: 'send',
		allowed: (tx, slot) => requireRoomForArrival(tx, portal.actor, whereTo(slot)),
		take: ({ slot, ...file }) => takeInArrival(portal.context, portal.firmId, portal.actor, { ...whereTo(slot), ...file })
	};
}

const isId = (text: string) => z.uuid().safeParse(text).success;

const given = z.object({
	folder: folderChoiceSchema.catch(null),
	showing: z.enum(SHOWING).catch('no'),
	versionOf: z.uuid().nullable().catch(null)
});

/** A file that somebody of the firm adds to the papers of a client; the slot says where it lies, who sees it, and of what it is a newer version. */
export function givenTo(desk: Sender, clientId: string): UploadInto {
	const wanted = (slot: string | null) => {
		const asked = new URLSearchParams(slot ?? '');
		return given.parse({ folder: asked.get('folder') ?? '', showing: asked.get('showing'), versionOf: asked.get('versionOf') });
	};
	return {
		purpose: `given ${clientId}`,
		allowed: (tx, slot) => requireMayGive(tx, desk.actor, { clientId, showing: wanted(slot).showing }),
		take: ({ slot, ...file }) => givePaper(desk.context, desk.firmId, desk.actor, { clientId, ...wanted(slot), ...file })
	};
}
