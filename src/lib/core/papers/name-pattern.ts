import { safeFileName } from './file-name';

/** What a pattern may hold, each with what stands there afterwards. */
export const NAME_PARTS = {
	name: 'its name until now',
	came: 'the day on which it came',
	client: 'the client',
	folder: 'its folder',
	number: 'its number in this list'
} as const;
export type NamePart = keyof typeof NAME_PARTS;

/** A paper that is to be named. */
export interface PaperToName {
	name: string;
	/** the day on which it came, `YYYY-MM-DD` */ came: string;
	client: string;
	/** empty without one */ folder: string;
}

const PART = /\{([^{}]*)\}/g;
const isPart = (word: string): word is NamePart => Object.hasOwn(NAME_PARTS, word);
/** What begins with a dot, at the end of a name: at most nine letters or digits. */
const ENDING = /\.[a-z0-9]{1,9}$/i;

/** A name in two: what it is called, and its ending with the dot; empty without one. */
export function stemAndEnding(name: string): { stem: string; ending: string } {
	const ending = ENDING.exec(name)?.[0] ?? '';
	return { stem: ending ? name.slice(0, -ending.length) : name, ending };
}

/** Takes the first of some names that nobody has yet, large and small letters being the same. @param called told how often it was tried */
function firstFree(taken: Set<string>, called: (again: number) => string): string {
	for (let again = 1; ; again++) {
		const name = called(again);
		if (taken.has(name.toLowerCase())) continue;
		taken.add(name.toLowerCase());
		return name;
	}
}

/** What in a pattern is no part, in words; null if it can be used. */
export function whatIsWrong(pattern: string): string | null {
	if (pattern.trim() === '') return 'Write what the papers are to be called.';
	const unknown = [...pattern.matchAll(PART)].find(([, word]) => !isPart(word.trim().toLowerCase()));
	return unknown
		? `{${unknown[1]}} means nothing here. Use one of ${Object.keys(NAME_PARTS)
				.map((part) => `{${part}}`)
				.join(', ')}.`
		: null;
}

/**
 * Names papers by a pattern, in their order. Each keeps its ending, so that it opens as before; where two would be called the same, the
 * later ones get a number behind.
 * @param pattern words, and parts as in `NAME_PARTS`, each in braces
 */
export function namesByPattern(pattern: string, papers: readonly PaperToName[]): string[] {
	const digits = String(papers.length).length;
	const taken = new Set<string>();
	return papers.map((paper, index) => {
		const { stem, ending } = stemAndEnding(paper.name);
		const parts: Record<NamePart, string> = {
			name: stem,
			came: paper.came,
			client: paper.client,
			folder: paper.folder,
			number: String(index + 1).padStart(digits, '0')
		};
		const filled = pattern.replace(PART, (all, word: string) => {
			const part = word.trim().toLowerCase();
			return isPart(part) ? parts[part] : all;
		});
		// what was typed with the ending does not get it twice
		const plain = ending && filled.toLowerCase().endsWith(ending.toLowerCase()) ? filled.slice(0, -ending.length) : filled;
		// a slash would make a folder of what stands before it; of a name of dots alone nothing would stay but its ending
		const written = plain.replace(/[/\\]/g, '-').replace(/^[. ]+|[. ]+$/g, '') || stem || 'paper';
		return firstFree(taken, (again) => safeFileName(`${written}${again > 1 ? ` (${again})` : ''}${ending}`));
	});
}

/**
 * Names under which papers lie beside each other in an archive: the folder before each, and a number behind what would be there twice.
 * @param papers with the name of the folder of each, empty without one
 */
export function namesInArchive(papers: readonly { name: string; folder: string }[]): string[] {
	const taken = new Set<string>();
	return papers.map(({ name, folder }) => {
		const { stem, ending } = stemAndEnding(name);
		const into = folder ? `${safeFileName(folder.replace(/[/\\]/g, '-'))}/` : '';
		return firstFree(taken, (again) => `${into}${safeFileName(again > 1 ? `${stem} (${again})${ending}` : name)}`);
	});
}
