/** With the part of the page on which a letter is signed, once somebody was let in to it. */
export const load = async ({ data }) => ({
	...data,
	LetterByLink: data.letter ? (await import('$lib/ui/letters/LetterByLink.svelte')).default : null
});
