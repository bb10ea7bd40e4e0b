import type { ItemKind } from '$lib/core/items/item-kinds';
import type { ItemOf } from '$lib/server/items/read-items';

/** What the form gets in which the firm writes down what a client says by phone. */
export interface FillInProps<Kind extends ItemKind> {
	item: ItemOf<Kind>;
	/** what is wrong with which field */ fields: Record<string, string>;
}
