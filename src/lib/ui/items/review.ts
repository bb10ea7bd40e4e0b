import type { ItemKind } from '$lib/core/items/item-kinds';
import type { ItemLeafData } from '$lib/server/rounds/item-leaf';
import type { ItemOf } from '$lib/server/items/read-items';

/** What the part of the desk gets on which the answer to an item of a kind is read. */
export interface ReviewProps<Kind extends ItemKind> {
	item: ItemOf<Kind>;
	leaf: Pick<
		ItemLeafData,
		| 'people'
		| 'outside'
		| 'check'
		| 'checks'
		| 'scans'
		| 'now'
		| 'remarks'
		| 'secretUntil'
		| 'pages'
		| 'authorisations'
		| 'waiting'
		| 'acts'
		| 'brings'
	>;
	/** of the firm */ timeZone: string;
	/** the client has answered, and it was not asked again since */ answered: boolean;
}
