import { saidFactSchema } from '$lib/core/facts/fact-values';

/** What is said of a client in a form: the fact's name, and its value or, of several of several, each one that is ticked. */
export function saidFact(form: FormData): { name: string; value: string | string[] } {
	const values = form.getAll('value').filter((value) => typeof value === 'string');
	return saidFactSchema.parse({ name: form.get('name'), value: values.length === 1 ? values[0] : values });
}
