import { isFinished, isOpen, isSettled } from '$lib/core/requests/item-states';
import type { Act } from '$lib/core/people/roles';
import { dateWords, dayOf, timeWords } from '$lib/words/dates';
import { SvelteSet } from 'svelte/reactivity';
import type { PageData } from './$types';

export const count = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;
export const list = (parts: string[]) => (parts.length < 2 ? parts.join('') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)}`);
export const short = (words: string) => (words.length > 70 ? `${words.slice(0, 68).replace(/\s+\S*$/, '')} …` : words);

/** The record of a client as its lines read it, and which of them are open. */
export class ClientRecord {
	readonly #data: () => PageData;
	/** the lines that are open, by name */
	readonly opened = new SvelteSet<string>();
	/** the contact whose invitation is being written */
	inviting = $state<string | null>(null);

	readonly open = $derived.by(() =>
		this.data.items.filter((item) => isOpen(item.state)).sort((one, other) => (one.dueOn ?? '9999').localeCompare(other.dueOn ?? '9999'))
	);
	readonly toLookAt = $derived.by(() => this.data.items.filter((item) => !isOpen(item.state) && !isSettled(item.state)));
	readonly settled = $derived.by(() => this.data.items.filter((item) => isSettled(item.state)));
	readonly requests = $derived.by(() =>
		[...new Set(this.data.items.map((item) => item.requestId))].map((id) => {
			const items = this.data.items.filter((item) => item.requestId === id);
			return {
				id,
				title: items[0].requestTitle,
				items,
				settled: items.filter((item) => isSettled(item.state)).length,
				finished: isFinished(items)
			};
		})
	);
	/** the requests that are not finished */
	readonly going = $derived(this.requests.filter((request) => !request.finished));
	/** the messages to come, each once, the next one first */
	readonly messages = $derived.by(() => [...new Map(Object.values(this.data.chases).map((chase) => [chase.when, chase]))]);
	/** the people who will be reminded of their invitation */
	readonly invited = $derived.by(() =>
		this.client.contacts.filter(
			(contact) => contact.invitation?.nextChaseOn && contact.mailProblem === null && this.client.state === 'active' && !contact.hasAccess
		)
	);

	constructor(data: () => PageData) {
		this.#data = data;
	}
	get data(): PageData {
		return this.#data();
	}
	get client(): PageData['client'] {
		return this.data.client;
	}

	/** Whether the person may do something with this client: what they may not do is not offered. */
	readonly mine = (act: Act): boolean => this.data.acts.includes(act);
	readonly time = (at: string): string => timeWords('en', at, this.data.firm.timeZone);
	readonly day = (at: string): string => dateWords('en', dayOf(at, this.data.firm.timeZone), 'short');
	readonly toggle = (name: string): void => {
		if (!this.opened.delete(name)) this.opened.add(name);
		if (name === 'people') this.inviting = null;
	};
	readonly invite = (contactId: string): void => {
		this.inviting = contactId;
		this.opened.add('people');
	};
	/** Closes every line: another client has come before the reader's eyes. */
	close(): void {
		this.inviting = null;
		this.opened.clear();
	}
}
