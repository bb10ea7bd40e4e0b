import { openThread } from '../threads/open-thread';
import type { ComposedLetter, LetterToCompose } from './compose-letter';
import type { PdfTask } from './pdf-thread';
import type { LetterToSeal } from './seal-letter';

/** PDF work, off the event loop. */
export interface PdfWork {
	compose(letter: LetterToCompose): Promise<ComposedLetter>;
	seal(letter: LetterToSeal): Promise<Uint8Array>;
	close(): Promise<void>;
}

/** PDF work in up to two threads. */
export function threadedPdfWork(): PdfWork {
	const thread = openThread<PdfTask>('pdf-thread', 2);
	return {
		compose: (letter) => thread.run({ do: 'compose', letter }),
		seal: (letter) => thread.run({ do: 'seal', letter }),
		close: thread.close
	};
}
