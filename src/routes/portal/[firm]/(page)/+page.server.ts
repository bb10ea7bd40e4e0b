import { z } from 'zod';
import { localDate } from '$lib/core/calendar/firm-calendar';
import { phoneInWords } from '$lib/core/people/phone';
import { kindOf } from '$lib/core/items/item-kinds';
import { isOpen } from '$lib/core/requests/item-states';
import { portalRequest } from '$lib/web/desk-request';
import { readJustDone, readOwnItems } from '$lib/server/items/read-items';
import { countNewPapers } from '$lib/server/papers/papers-for-client';
import { countOwnUnseen } from '$lib/server/talk/words';
import { timeWords } from '$lib/words/dates';

export const load = async (event) => {
	const portal = await portalRequest(event);
	const done = event.url.searchParams.get('done');
	return portal.read(async (tx, firm) => ({
		/** what they have just done, for the word after it */
		done: done && z.uuid().safeParse(done).success ? await readJustDone(tx, portal.actor, done) : null,
		// what is open at a client the firm does not work for just now is not asked any more
		items: (await readOwnItems(tx, portal.actor))
			.filter((item) => item.clientState === 'active' || !isOpen(item.state))
			.map((item) => ({
				id: item.id,
				kind: item.kind,
				minutes: kindOf(item.kind).minutes(item.spec),
				title: item.title,
				why: item.why,
				required: item.required,
				dueOn: item.dueOn,
				state: item.state,
				stateAt: item.stateAt,
				reason: item.reason,
				clientId: item.clientId,
				/** whose it is to sign, if it is somebody else's */
				signer: item.kind === 'letter' && item.contactId !== portal.contactId ? item.contactName : null,
				clientName: item.clientName,
				requestId: item.requestId,
				requestTitle: item.requestTitle,
				heading: item.heading,
				unseen: item.unseenByClient,
				papers: item.papers.length,
				pages: item.letter?.pages ?? 0,
				sealed: item.letter?.sealedAt ?? null,
				lastActor: item.lastActor
			})),
		newWords: await countOwnUnseen(tx, portal.actor),
		newPapers: await countNewPapers(tx, portal.actor),
		today: localDate(portal.actor.now, firm.calendar),
		hour: Number(timeWords('en', portal.actor.now, firm.calendar.timeZone, 'time').slice(0, 2)),
		/** the one business that is shown, of those of this sign-in */
		only: z.uuid().nullable().catch(null).parse(event.url.searchParams.get('client')),
		office: { name: firm.name, email: firm.mailFrom, phone: firm.phone, phoneWords: firm.phone ? phoneInWords(firm.phone, firm.country) : '' }
	}));
};
