import { countArrivals, readArrival, readArrivals, type ArrivalToFile } from '../../papers/arrivals';
import type { Tx } from '../../platform/db/database';
import { COUNTED, type RoundsAt, type RoundsSectionDefinition, type SectionRow } from '../section';

async function rows(tx: Tx, at: RoundsAt): Promise<SectionRow[]> {
	return (await readArrivals(tx, at.limit, at.mineOf)).map((arrival) => ({
		key: `arrival-${arrival.id}`,
		clientId: arrival.clientId,
		clientName: arrival.clientName,
		since: arrival.sentAt,
		words: arrival.note ? `${arrival.name}, “${arrival.note}”` : arrival.name,
		aside: arrival.held ? `from ${arrival.sender || 'nobody named'}, to be let in` : arrival.sender ? `from ${arrival.sender}` : ''
	}));
}

interface ArrivalLeaf extends ArrivalToFile {
	kind: 'arrival';
}

export const arrivals: RoundsSectionDefinition<ArrivalLeaf> = {
	count: countArrivals(COUNTED.mineOf),
	rows,
	leaf: {
		key: 'arrival',
		async read(tx, actor, _firm, id) {
			return { kind: 'arrival', ...(await readArrival(tx, actor, id)) };
		},
		clientOf: (leaf) => leaf.arrival.clientId
	}
};
