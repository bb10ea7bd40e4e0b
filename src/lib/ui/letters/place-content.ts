import { initialsOf, type Place, type Values } from '$lib/core/signing/places';
import { dateWords, dayOf } from '$lib/words/dates';

/** Somebody who has filled in their places, or is about to. */
export interface Filling {
	name: string;
	/** instant */ at: string;
	filled: Values;
	/** where it is known */ email?: string;
	/** it is signed, and not only about to be */ signed: boolean;
}

/** What stands in a place by now; empty while nothing does. */
export function placeContent(place: Place, by: Filling | null, locale: string, timeZone: string): string {
	if (!by) return '';
	switch (place.kind) {
		case 'signature':
			return by.signed ? by.name : '';
		case 'initials':
			return initialsOf(by.name);
		case 'date':
			return dateWords(locale, dayOf(by.at, timeZone), 'withYear');
		case 'name':
			return by.name;
		case 'email':
			return by.email ?? '';
		default:
			return by.filled[place.label] ?? '';
	}
}
