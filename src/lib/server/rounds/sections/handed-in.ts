import { ofMine } from '../../clients/mine';
import { cameIn, SIGNED_LETTERS } from '../came-in';
import { itemLeaf, type ItemLeafData } from '../item-leaf';
import { COUNTED, type RoundsSectionDefinition } from '../section';

export const handedIn: RoundsSectionDefinition<ItemLeafData> = {
	count: `select (select count(*) from item where firm_id = $1 and phase = 'to_look_at' and state = 'handed_in' and ${ofMine('client_id', COUNTED.mineOf)})
		- (${SIGNED_LETTERS} and ${ofMine('i.client_id', COUNTED.mineOf)})`,
	rows: (tx, at) => cameIn(tx, at, 'handed_in'),
	leaf: itemLeaf
};
