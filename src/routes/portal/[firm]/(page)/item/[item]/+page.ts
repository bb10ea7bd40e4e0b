import { readClientSide } from '$lib/ui/items/client-side';

/** With the part of the page on which an item of its kind is answered, or a letter is signed. */
export const load = async ({ data }) => ({
	...data,
	side: await readClientSide(data.item.kind),
	SignLetter: data.item.kind === 'letter' ? (await import('$lib/ui/letters/SignLetter.svelte')).default : null
});
