import { eventSentence } from '$lib/core/audit/event-words';
import { deviceInWords } from '$lib/core/people/device-words';
import { readEntry, type KeptEntry } from '$lib/core/signing/trail';
import { timeWords } from './dates';

export interface TrailLine {
	when: string;
	who: string;
	what: string;
	/** where it went, their address, and from where and with what they did it; empty for what happened by itself */
	from: string;
	hash: string;
}

/** The entries of a letter's trail in words, in the firm's time. */
export function trailLines(entries: readonly KeptEntry[], timeZone: string): TrailLine[] {
	return entries.map(({ said, hash }) => {
		const entry = readEntry(said);
		const device = deviceInWords(entry.device);
		return {
			when: timeWords('en', entry.at, timeZone, 'stamp'),
			who: entry.who,
			what: eventSentence(entry.what, entry.details),
			from: [entry.to ? `to ${entry.to}` : '', entry.address, entry.ip, device ? `${device.browser} on ${device.system}` : '']
				.filter(Boolean)
				.join(' · '),
			hash
		};
	});
}
