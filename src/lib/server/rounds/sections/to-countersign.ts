import { ofMine } from '../../clients/mine';
import { cameIn, SIGNED_LETTERS } from '../came-in';
import { itemLeaf, type ItemLeafData } from '../item-leaf';
import { COUNTED, type RoundsSectionDefinition } from '../section';

export const toCountersign: RoundsSectionDefinition<ItemLeafData> = {
	count: `${SIGNED_LETTERS} and ${ofMine('i.client_id', COUNTED.mineOf)}`,
	rows: (tx, at) => cameIn(tx, at, 'to_countersign'),
	leaf: itemLeaf
};
