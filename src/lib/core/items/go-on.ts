import { itemStateAfter, type ItemState } from '../requests/item-states';
import { kindOf, type ItemKind } from './item-kinds';

/** Whether a client may still add to what they handed in, put it right or choose another time: mostly until somebody of the firm has looked at it. */
export function mayGoOnWith(item: { kind: ItemKind; state: ItemState; looked: boolean }): boolean {
	const { goesOn } = kindOf(item.kind);
	return itemStateAfter(item.state, 'go_on', 'contact') !== null && (goesOn === 'always' || (goesOn === 'until_looked_at' && !item.looked));
}
