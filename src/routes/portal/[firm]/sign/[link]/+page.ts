/** With the part of the page on which a letter is signed, once somebody was let in to it. */
export const load = async ({ data }) => ({
	...data,
	SignLetter: data.letter ? (await import('$lib/ui/letters/SignLetter.svelte')).default : null
});
