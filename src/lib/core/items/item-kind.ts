import type { z } from 'zod';
import type { SlotType } from './slots';

/** What is known of a line when it is asked whether it can be sent. */
export interface LineToSend<Spec> {
	title: string;
	why: string | null | undefined;
	attachments: readonly string[];
	spec: Spec;
}

/** Something that can be asked: what its lines hold, and what holds for all items of its kind. A new kind is one of these, in a file of its own. */
export interface ItemKindDefinition<Spec extends z.ZodType = z.ZodType> {
	/** as the firm's people read it: in a narrow column, in a menu, and what the client does with it */
	words: { short: string; words: string; about: string };
	/** what a line asks for beyond its words */
	spec: Spec;
	/** what a new line begins with; `key` names its first part */
	empty(key: string): z.output<Spec>;
	/** whether a line can be begun as one by hand */
	written: boolean;
	/** a new line is accepted as it comes, without anybody looking */
	acceptsItself: boolean;
	/** minutes that a client needs for one, roughly; what their page adds up */
	minutes(spec: z.output<Spec>): number;
	/** how many files a client may add; 0 for none */
	filesMost(spec: z.output<Spec>): number;
	/** a named file of the item, with what the client reads if its name says nothing; null where the name means nothing, undefined where such a name cannot be */
	slot(spec: z.output<Spec>, name: string): { name: string; words?: string; accepts: SlotType } | null | undefined;
	/**
	 * whether a client may add files to this part of an item that is open, or take some out
	 * @param slot null for files that belong to no part
	 * @param said what was handed in before, and what was said of it
	 */
	partOpen(spec: z.output<Spec>, slot: string | null, said: { answers: object; review: { askedBack?: object } }): boolean;
	/** the fields of its answer that are kept while they are typed; what is secret is not among them */
	typed(spec: z.output<Spec>): string[];
	/** until when a client may go on with what they handed in: where there is something to add or to write differently */
	goesOn: 'never' | 'until_looked_at' | 'always';
	/** what is handed in is accepted or sent back, and can be asked of somebody else; otherwise it is signed by both sides */
	judged: boolean;
	/** what a line still lacks before it can be sent: the sentence, the field of the line and the hint beside it */
	missing(line: LineToSend<z.output<Spec>>): { message: string; field: string; hint: string } | null;
}

/** What most kinds have in common. */
export const USUAL = {
	written: true,
	acceptsItself: false,
	filesMost: () => 0,
	slot: () => null,
	partOpen: () => true,
	typed: () => [],
	goesOn: 'never',
	judged: true,
	missing: () => null
} as const satisfies Partial<ItemKindDefinition>;

/** Most files beside one item. */
export const FILES_MOST = 60;
