/** What somebody of the firm waits for besides a day: that their person is heard from, or that something else of the client is done. */
export type PauseEnd = { endsWith: 'heard' } | { endsWith: 'done'; itemId: string };

/** The same as it is shown. */
export type Sooner =
	| { endsWith: 'heard' }
	| {
			endsWith: 'done';
			/** what has to be done; null if the reader may not see it, or it is not there any more */ title: string | null;
			/** a letter is done once all have signed it, anything else once it is handed in */ letter: boolean;
	  };

/** "once “Lease” is handed in", for a sentence that says until when reminders wait. */
export function soonerInWords(sooner: Sooner): string {
	if (sooner.endsWith === 'heard') return 'once they are heard from';
	if (sooner.title === null) return 'once something else is done';
	return `once “${sooner.title}” is ${sooner.letter ? 'signed by all' : 'handed in'}`;
}
