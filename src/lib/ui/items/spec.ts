import type { ItemKind } from '$lib/core/items/item-kinds';
import type { LineOf } from '$lib/core/requests/request-list';
import type { WritingPlace } from '$lib/core/requests/writing-place';

/** What the fields get in which is written what a line of a kind asks for beyond its words. */
export interface SpecProps<Kind extends ItemKind> {
	line: LineOf<Kind>;
	place: WritingPlace;
}
