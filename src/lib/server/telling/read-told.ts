import { eventSentence, type EventVerb } from '$lib/core/audit/event-words';
import { localDate, type IsoInstant } from '$lib/core/calendar/firm-calendar';
import { isTheirs, ROUNDS_SECTIONS } from '$lib/core/rounds/sections';
import { byClient, verbsTold, type Doing, type Telling, type ToldHow } from '$lib/core/telling/telling';
import type { Told } from '$lib/core/telling/told';
import type { Staff } from '../actor';
import type { Firm } from '../firms/firm';
import type { Tx } from '../platform/db/database';
import { countRounds, readRounds } from '../rounds/read-rounds';

/** Whether somebody (`$2`) is told of a client: of every one where `$3` is true, else of those they look after, unless they chose otherwise for this one. */
export const TOLD_OF = (client: string) =>
	`coalesce((select o.told from staff_told_client o where o.staff_id = $2 and o.client_id = ${client}),
		$3 or exists (select from client mine where mine.id = ${client} and mine.responsible_id = $2))`;

/** More than anybody reads in one mail; the rest is counted nowhere, and stands in the history. */
const MOST_DOINGS = 1000;

/** What clients and the machine did in a period, of which somebody is told in one way, in the order in which it happened. */
export async function readDoings(tx: Tx, person: Staff, telling: Telling, how: ToldHow, since: IsoInstant, through: IsoInstant): Promise<Doing[]> {
	const verbs: EventVerb[] = verbsTold(telling, person.role, how);
	if (verbs.length === 0) return [];
	const rows = await tx.rows<{
		client_id: string | null;
		client_name: string | null;
		actor_name: string;
		verb: string;
		details: Record<string, unknown>;
	}>(
		`select e.client_id, c.name client_name, e.actor_name, e.verb, e.details from event e left join client c on c.id = e.client_id
		where e.firm_id = $1 and e.actor_kind <> 'staff' and e.at > $4 and e.at <= $5 and e.verb = any ($6)
			-- what belongs to no client is for whoever is told of all of them; a client that is closed to them is not joined
			and case when e.client_id is null then $3 else c.id is not null and ${TOLD_OF('e.client_id')} end
			-- that such a mail did not arrive is not told by another one, which would not arrive either
			and not exists (select from message m where m.id = e.message_id and m.kind in ('summary', 'told_at_once'))
		order by e.id limit ${MOST_DOINGS}`,
		[tx.firmId, person.id, telling.whose === 'all', since, through, verbs]
	);
	return rows.map((row) => ({
		clientId: row.client_id,
		clientName: row.client_name,
		by: row.actor_name,
		sentence: eventSentence(row.verb, row.details)
	}));
}

/** What waits in the Rounds of somebody, section by section, with since when. */
async function readWaits(tx: Tx, person: Staff, firm: Firm, telling: Telling): Promise<Told['waits']> {
	const mineOf = telling.whose === 'mine' ? person.id : null;
	const counts = await countRounds(tx, firm, person.now, mineOf, person.id);
	const { rows } = await readRounds(tx, person, firm, { due: String }, mineOf);
	return ROUNDS_SECTIONS.flatMap(({ section, title }) => {
		const oldest = rows
			.filter((row) => row.section === section)
			.reduce<string | null>((first, { since }) => (first !== null && first <= since ? first : since), null);
		return isTheirs(person.role, section) && counts[section] > 0 && oldest !== null ? [{ title, count: counts[section], since: oldest }] : [];
	});
}

/** Who is away, of the people of the clients somebody is told of. */
async function readAway(tx: Tx, person: Staff, firm: Firm, telling: Telling): Promise<Told['away']> {
	return tx.rows<Told['away'][number]>(
		`select distinct on (lower(p.name), p.id) c.id "clientId", c.name "clientName", p.name who, h.until::text until
		from chase_hold h join contact p on p.id = h.contact_id join client_contact cc on cc.contact_id = p.id join client c on c.id = cc.client_id and c.state = 'active'
		where h.firm_id = $1 and h.why = 'away' and h.ended_at is null and h.until > $4 and ${TOLD_OF('c.id')} order by lower(p.name), p.id, lower(c.name) limit 30`,
		[tx.firmId, person.id, telling.whose === 'all', localDate(person.now, firm.calendar)]
	);
}

/** The summary of somebody: what happened in a period, what waits, and who is away. Null where nothing happened and nothing waits: then there is no mail. */
export async function readSummary(tx: Tx, person: Staff, firm: Firm, telling: Telling, since: IsoInstant, through: IsoInstant): Promise<Told | null> {
	const happened = byClient(await readDoings(tx, person, telling, 'summary', since, through));
	const waits = await readWaits(tx, person, firm, telling);
	if (happened.clients.length === 0 && waits.length === 0) return null;
	return { since, through, ...happened, waits, away: await readAway(tx, person, firm, telling) };
}

/** What somebody is told at once of a period, or null. */
export async function readAtOnce(tx: Tx, person: Staff, telling: Telling, since: IsoInstant, through: IsoInstant): Promise<Told | null> {
	const happened = byClient(await readDoings(tx, person, telling, 'at_once', since, through));
	return happened.clients.length === 0 ? null : { since, through, ...happened, waits: [], away: [] };
}
