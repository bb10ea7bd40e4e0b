import { page } from '$app/state';
import { TAKE_BACK_SECONDS } from '$lib/core/talk/take-back';
import { copiesOf } from '../forms/typed-copies';

/** Words that were sent to a client a moment ago. */
export interface JustSent {
	/** their id */ remarkId: string;
	/** the first name of whom they went to */ to: string;
	/** where they are taken back */ action: string;
	/** the words, and of what they are kept on the device while they are typed (see `keepOnDevice`) */ words: string;
	of: string;
	/** the page on which they were written */ href: string;
}

/** What can be taken back just now: the last words that were sent from this page. */
class LastSent {
	one = $state<JustSent | null>(null);
	#timer: ReturnType<typeof setTimeout> | undefined;

	/** Offers to take it back, for as long as that goes. */
	offer(sent: JustSent): void {
		this.one = sent;
		clearTimeout(this.#timer);
		this.#timer = setTimeout(() => (this.one = null), TAKE_BACK_SECONDS * 1000);
	}

	/** Puts the words back where they were typed: on the device, and into the field if it is on the page and nothing was written into it since. */
	takenBack(): void {
		if (!this.one) return;
		const copies = copiesOf(`${(page.data.person as { id: string }).id} ${this.one.of}`);
		if (!copies.all().some(({ value }) => value !== '')) copies.keep('words', this.one.words);
		dispatchEvent(new CustomEvent('lantern-taken-back', { detail: this.one.of }));
		clearTimeout(this.#timer);
		this.one = null;
	}
}
export const lastSent = new LastSent();
