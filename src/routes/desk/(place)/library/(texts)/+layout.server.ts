import { z } from 'zod';
import { beginningOf, READY_MADE_MESSAGE_TEXTS, MESSAGE_TEXT_KINDS } from '$lib/core/messages/message-texts';
import { may } from '$lib/core/people/roles';
import { deskRequest } from '$lib/web/desk-request';
import { readShelves, readMessageTexts } from '$lib/server/library/message-texts';
import { readGroups } from '$lib/server/people/groups';

export const load = async (event) => {
	event.depends('desk:live');
	const desk = await deskRequest(event);
	const kind = z.enum(MESSAGE_TEXT_KINDS).nullable().catch(null).parse(event.url.searchParams.get('kind'));
	const tag = event.url.searchParams.get('tag')?.slice(0, 30) || null;
	return desk.read(async (tx) => ({
		kind,
		tag,
		texts: (await readMessageTexts(tx, desk.actor, { kind, tag })).map(({ body, ...text }) => ({ ...text, beginning: beginningOf(body) })),
		ready: READY_MADE_MESSAGE_TEXTS.filter((text) => (kind === null || text.kind === kind) && (tag === null || text.tags.includes(tag))),
		shelves: await readShelves(tx, desk.actor),
		groups: (await readGroups(tx)).map(({ id, name }) => ({ id, name })),
		mayKeep: may(desk.actor.role, 'keep_library')
	}));
};
