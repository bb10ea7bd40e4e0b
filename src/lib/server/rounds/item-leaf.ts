import { localDate } from '$lib/core/calendar/firm-calendar';
import type { Act } from '$lib/core/people/roles';
import { HOLD_MOST_DAYS } from '$lib/core/chasing/hold';
import type { CheckService } from '$lib/core/signing/identity-check';
import { isOpen } from '$lib/core/requests/item-states';
import type { Actor } from '../actor';
import { readAwaitable, readHoldsOfThing, type AwaitableThing, type HeldReminders } from '../chasing/holds';
import { readForecast } from '../chasing/read-forecast';
import { readActs } from '../clients/client-rights';
import type { Firm } from '../firms/firm';
import type { Tx } from '../platform/db/database';
import { readCheckService } from '../platform/identity-checks/terms';
import { readItem, readItemEvents, readLetterPages, type ItemEvent, type ItemRow } from '../items/read-items';
import { readRemarks, type Remark } from '../items/remarks';
import { readColleagues, readItemNotes, type Note, type SeeingColleague } from '../talk/notes';
import { readWaitingFor } from '../letters/open-letters';
import { LETTER_OPEN } from '$lib/core/signing/letter-states';
import { readPossibleScans, type PossibleScan } from '../papers/possible-scans';
import { readOutsideSigners } from '../letters/outside-signers';
import { secretKeptUntil } from '../items/secrets';
import { readSignerChecks, type SignerChecks } from '../signing/identity-checks';
import { readAuthorisationsOf, type PaymentAuthorisation } from '../signing/payment-authorisations';
import { readBrings, type BroughtAbout } from '../tasks/bring-about';
import { holdingPlanInWords, readPlanOf, type PlanInWords } from '../chasing/which-plan';
import { chaseSentence, type ChaseSentence } from './chase-sentence';
import type { LeafReader } from './section';

export interface ItemLeafData {
	kind: 'item';
	item: ItemRow;
	/** what whoever reads it may do with this client */
	acts: readonly Act[];
	events: ItemEvent[];
	nextChase: ChaseSentence | null;
	/** by which plan it is chased, and why by that one; null once it is not open */
	plan: PlanInWords | null;
	/** instant */ now: string;
	/** whoever reads it, of a letter that they may sign */ me: { id: string; email: string } | null;
	/** of a letter */ pages: Awaited<ReturnType<typeof readLetterPages>>;
	/** the accounts that were named in a letter, without their numbers */
	authorisations: PaymentAuthorisation[];
	/** what goes once a letter is signed by all */
	waiting: { href: string; title: string }[];
	remarks: Remark[];
	/** what holds its reminders in particular, or those of its request */ holds: HeldReminders[];
	/** what a pause of it could wait for */ awaitable: AwaitableThing[];
	/** what only the firm reads about it */ notes: Note[];
	/** the others who may see the client */ colleagues: SeeingColleague[];
	/** everybody of the client, who could be asked */
	people: { id: string; name: string }[];
	/** of a letter: who outside the client signs for it */
	outside: { id: string; name: string }[];
	/** of a letter: the service that checks identities; null where none is set up */
	check: CheckService | null;
	/** of a letter: how it went with those who were asked who they are */
	checks: SignerChecks[];
	/** of a letter that can be signed: papers of the client that could be pages signed by hand */
	scans: PossibleScan[];
	/** what a client gave to get in is kept until then */
	secretUntil: string | null;
	/** what the answers bring about once they are accepted, or have brought about */
	brings: BroughtAbout[];
	today: string;
}
/** How many days ahead the next chase of an item is looked for. */
const LOOKED_AHEAD_DAYS = 60;

/** One item with its history and the chase that comes next. */
export async function readItemLeaf(tx: Tx, actor: Actor, firm: Firm, itemId: string): Promise<ItemLeafData> {
	const item = await readItem(tx, actor, itemId);
	const acts = await readActs(tx, actor, item.clientId);
	// what is held may wait longer than one looks ahead otherwise
	const held = isOpen(item.state) ? await tx.first('select 1 from item_hold where item_id = $1', [itemId]) : null;
	const forecast = isOpen(item.state)
		? await readForecast(tx, actor, firm, [item.contactId], held ? HOLD_MOST_DAYS + LOOKED_AHEAD_DAYS : LOOKED_AHEAD_DAYS)
		: [];
	const chase = forecast.find((c) => c.itemIds.includes(itemId));
	return {
		kind: 'item',
		item,
		acts,
		events: await readItemEvents(tx, actor, itemId),
		nextChase: chase ? chaseSentence(chase, firm) : null,
		// nobody is reminded of what they began themselves
		plan: isOpen(item.state) && !item.raised ? holdingPlanInWords(firm, await readPlanOf(tx, itemId)) : null,
		now: actor.now,
		me: item.kind === 'letter' ? await tx.first<{ id: string; email: string }>('select id, email::text from staff where id = $1', [actor.id]) : null,
		pages: item.kind === 'letter' ? await readLetterPages(tx, itemId) : null,
		authorisations: item.kind === 'letter' ? await readAuthorisationsOf(tx, actor, itemId) : [],
		waiting: item.kind === 'letter' ? await readWaitingFor(tx, actor, itemId) : [],
		people: await tx.rows<{ id: string; name: string }>(
			'select c.id, c.name from client_contact cc join contact c on c.id = cc.contact_id where cc.client_id = $1 order by cc.rank',
			[item.clientId]
		),
		outside: item.kind === 'letter' ? await readOutsideSigners(tx, actor, item.clientId) : [],
		check: item.kind === 'letter' ? await readCheckService(tx) : null,
		checks: item.kind === 'letter' ? await readSignerChecks(tx, actor, itemId) : [],
		scans:
			item.letter && LETTER_OPEN.includes(item.letter.state)
				? await readPossibleScans(tx, actor, { clientId: item.clientId, letterId: item.letter.id })
				: [],
		remarks: item.remarks > 0 ? await readRemarks(tx, actor, itemId) : [],
		holds: isOpen(item.state) ? await readHoldsOfThing(tx, actor, item, localDate(actor.now, firm.calendar)) : [],
		awaitable: isOpen(item.state) ? (await readAwaitable(tx, actor, item.clientId)).filter(({ id }) => id !== itemId) : [],
		notes: await readItemNotes(tx, actor, itemId),
		colleagues: await readColleagues(tx, actor, item.clientId),
		secretUntil: item.kind === 'access' ? await secretKeptUntil(tx, itemId, actor.now) : null,
		brings:
			item.kind === 'questionnaire' && item.answerData && (item.state === 'handed_in' || item.state === 'accepted')
				? await readBrings(tx, actor, {
						clientId: item.clientId,
						spec: item.spec,
						answers: item.answerData,
						leftOut: item.review.leftOut ?? []
					})
				: [],
		today: localDate(actor.now, firm.calendar)
	};
}

/** What is open when a row is about an item. */
export const itemLeaf: LeafReader<ItemLeafData> = { key: 'item', read: readItemLeaf, clientOf: (leaf) => leaf.item.clientId };
