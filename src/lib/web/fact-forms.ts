import type { z } from 'zod';
import { saidFactSchema } from '$lib/core/facts/fact-values';

/**
 * What is said of a client in a form: the fact's name, its value or, of several of several, each one that is ticked, and the paper that it was
 * read from.
 */
export function saidFact(form: FormData): z.output<typeof saidFactSchema> {
	const values = form.getAll('value').filter((value) => typeof value === 'string');
	return saidFactSchema.parse({ name: form.get('name'), value: values.length === 1 ? values[0] : values, paperId: form.get('paperId') });
}
