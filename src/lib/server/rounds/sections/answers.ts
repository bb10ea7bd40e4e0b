import { ofMine } from '../../clients/mine';
import { cameIn } from '../came-in';
import { itemLeaf, type ItemLeafData } from '../item-leaf';
import { COUNTED, type RoundsSectionDefinition } from '../section';

export const answers: RoundsSectionDefinition<ItemLeafData> = {
	count: `select count(*) from item where firm_id = $1 and phase = 'to_look_at' and state <> 'handed_in' and ${ofMine('client_id', COUNTED.mineOf)}`,
	rows: (tx, at) => cameIn(tx, at, 'answers'),
	leaf: itemLeaf
};
