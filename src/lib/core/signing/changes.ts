import { diffArrays, diffWordsWithSpace } from 'diff';
import { z } from 'zod';

const part = z.object({ is: z.enum(['same', 'added', 'removed']), text: z.string() });
export const textChangesSchema = z.object({
	/** each a passage that says something else, or is new, or gone */
	passages: z.array(z.array(part)),
	/** passages that differ and are not named */
	more: z.number().int()
});
export type TextChanges = z.output<typeof textChangesSchema>;
type Part = z.output<typeof part>;

/** Passages that are named at most: whoever changes more has written another letter. */
const PASSAGES_MOST = 60;
/** Of texts that are further apart than so many passages or words, everything differs: the work grows with the square of that. */
const EDITS_MOST = 2000;

/** The sentences of a page's text: where its lines break says nothing, since they break anew with every word that is added. */
export function passagesOfText(text: string): string[] {
	return text
		.replace(/\s+/g, ' ')
		.split(/(?<=[.!?:;])\s/)
		.map((sentence) => sentence.trim())
		.filter(Boolean);
}

/** What one text says otherwise than another, passage by passage; a passage that was put differently shows the words that changed. */
export function textChanges(before: readonly string[], after: readonly string[]): TextChanges {
	const blocks = diffArrays([...before], [...after], { maxEditLength: EDITS_MOST }) ?? [
		{ removed: true, value: [...before] },
		{ added: true, value: [...after] }
	];
	const passages: Part[][] = [];
	for (let at = 0; at < blocks.length; at++) {
		const [block, next] = [blocks[at], blocks[at + 1]];
		if (!block.added && !block.removed) continue;
		// as many gone as came: each was put differently
		if (block.removed && next?.added && block.value.length === next.value.length) {
			passages.push(...block.value.map((old, n) => wordsChanged(old, next.value[n])));
			at++;
			continue;
		}
		passages.push(...block.value.map((text): Part[] => [{ is: block.added ? 'added' : 'removed', text }]));
	}
	return { passages: passages.slice(0, PASSAGES_MOST), more: Math.max(0, passages.length - PASSAGES_MOST) };
}

function wordsChanged(before: string, after: string): Part[] {
	const words = diffWordsWithSpace(before, after, { maxEditLength: EDITS_MOST });
	return words
		? words.map(({ added, removed, value }) => ({ is: added ? 'added' : removed ? 'removed' : 'same', text: value }))
		: [
				{ is: 'removed', text: before },
				{ is: 'added', text: after }
			];
}
