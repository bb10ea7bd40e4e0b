import { ANSWER, TYPED_BESIDE } from '../requests/typed';
import { kindOf, type ItemKind, type ItemSpec } from './item-kinds';

/** The fields of an item that are kept while they are typed: of its answer, and of whatever else can be said about it. */
export function typedNames<Kind extends ItemKind>(kind: Kind, spec: ItemSpec<Kind>): string[] {
	return [
		...kindOf(kind)
			.typed(spec)
			.map((name) => ANSWER + name),
		...TYPED_BESIDE
	];
}
