import { deserialize } from '$app/forms';
import type { FormProblem } from '$lib/web/form-errors';

/**
 * Asks a form action of the desk while somebody types; null if no answer came or it was a refusal.
 * @param refused told why, if it was one
 */
export async function askDesk<Answer>(
	action: string,
	fields: Record<string, string>,
	refused?: (message: string, problem: FormProblem) => void
): Promise<Answer | null> {
	const body = new FormData();
	for (const [name, value] of Object.entries(fields)) body.set(name, value);
	const response = await fetch(action, { method: 'POST', body, headers: { 'x-sveltekit-action': 'true' } }).catch(() => null);
	const result = response && deserialize(await response.text());
	if (result?.type === 'failure') {
		const { problem } = result.data as { problem: FormProblem };
		refused?.(problem.message, problem);
	}
	return result?.type === 'success' ? (result.data as Answer) : null;
}
