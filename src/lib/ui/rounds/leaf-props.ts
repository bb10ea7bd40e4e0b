import type { Act } from '$lib/core/people/roles';
import type { Leaf } from '$lib/server/rounds/sections';

/** What the leaf of one kind of row of Rounds is given. */
export interface LeafProps<Kind extends Leaf['kind']> {
	leaf: Extract<Leaf, { kind: Kind }>;
	/** whether the person may do something about what is open: what they may not do is not offered */
	mine: (act: Act) => boolean;
	pending: boolean;
	problem: string;
	/** the address was doubted; it may be kept all the same */
	doubted: boolean;
	/** of every form that deals with the row */
	handling: {
		onPending: (begins: boolean) => void;
		onProblem: (problem: { message: string; fields?: Record<string, string> }) => void;
		onSuccess: () => Promise<void>;
	};
	/** an instant as the firm reads it */
	time: (at: string) => string;
	openNext: () => Promise<void>;
	/** remembers what is dealt with and what comes after it */
	remember: () => void;
}
