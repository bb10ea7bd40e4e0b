import type { ItemKind } from '$lib/core/items/item-kinds';
import type { ItemOf } from '$lib/server/items/read-items';
import type { FormHandling } from '../forms/enhanced-form';

/** What the form gets in which a changed version of what was shown is put up. */
export interface NewVersionProps<Kind extends ItemKind> {
	item: ItemOf<Kind>;
	handling: FormHandling;
	pending: boolean;
}
