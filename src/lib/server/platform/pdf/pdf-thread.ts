import { DomainError } from '$lib/core/errors/domain-error';
import { composeLetter, type LetterToCompose } from './compose-letter';
import { sealLetter, type LetterToSeal } from './seal-letter';

export type PdfTask = { do: 'compose'; letter: LetterToCompose } | { do: 'seal'; letter: LetterToSeal };

/** What runs in a thread of its own. A person's mistake crosses back as a value: classes do not survive the way. */
export default async function run(task: PdfTask): Promise<{ result: unknown } | { mistake: { code: string; message: string } }> {
	try {
		return { result: task.do === 'compose' ? await composeLetter(task.letter) : await sealLetter(task.letter) };
	} catch (error) {
		if (error instanceof DomainError) return { mistake: { code: error.code, message: error.message } };
		throw error;
	}
}
