import { z } from 'zod';

/** A month of an address, YYYY-MM, as its first day; null for the present one, or for what is none. */
export const monthParam = (text: string | null): string | null =>
	z
		.string()
		.regex(/^20\d\d-(0[1-9]|1[0-2])$/)
		.transform((month) => `${month}-01`)
		.nullable()
		.catch(null)
		.parse(text);
