import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { Piscina } from 'piscina';
import { DomainError } from '$lib/core/errors/domain-error';
import type { ComposedLetter, LetterToCompose } from './compose-letter';
import type { PdfTask } from './pdf-thread';
import type { LetterToSeal } from './seal-letter';

/** PDF work, off the event loop. */
export interface PdfWork {
	compose(letter: LetterToCompose): Promise<ComposedLetter>;
	seal(letter: LetterToSeal): Promise<Uint8Array>;
	close(): Promise<void>;
}

/** PDF work in up to two threads, which end when idle. */
export function threadedPdfWork(threadFile = resolve('build/node/pdf-thread.js')): PdfWork {
	if (!existsSync(threadFile)) throw new Error(`${threadFile} is missing: run npm run build first`);
	const pool = new Piscina({ filename: threadFile, minThreads: 0, maxThreads: 2, idleTimeout: 60_000 });
	const run = async <T>(task: PdfTask): Promise<T> => {
		const answer = (await pool.run(task)) as { result: T } | { mistake: { code: DomainError['code']; message: string } };
		if ('mistake' in answer) throw new DomainError(answer.mistake.code, answer.mistake.message);
		return answer.result;
	};
	return {
		compose: (letter) => run({ do: 'compose', letter }),
		seal: (letter) => run({ do: 'seal', letter }),
		close: () => pool.close()
	};
}
