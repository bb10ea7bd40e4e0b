/** Most letters of a firm's name at the head of its desk. */
const MOST = 24;
/** Words that bind two others: a name is not cut after one. */
const BINDS = /^(&|\+|and|und|et|y|e|of|de|du|des|la|le|the|for|at|in|-|–)$/i;

/** A firm's name as it fits into the head of a page: as many of its words as do, and none that waits for another one. */
export function shortFirmName(name: string): string {
	const words = name.trim().split(/\s+/);
	let taken = words.length;
	while (taken > 1 && (words.slice(0, taken).join(' ').length > MOST || (taken < words.length && BINDS.test(words[taken - 1])))) taken--;
	return words.slice(0, taken).join(' ');
}
