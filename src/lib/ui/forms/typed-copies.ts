import type { TypedValue } from '$lib/core/requests/typed';

/** Copies of what was typed and not sent yet, or only just, on the device it was typed on. They go with signing out, and after two weeks. */
const PREFIX = 'lantern-typed ';
const DAYS = 14;
type Stored = Record<string, { value: TypedValue; at: string; sent?: string }>;

/** What is kept on the device, without what is no copy. */
function storedIn(text: string | null): Stored {
	const found: unknown = JSON.parse(text ?? '{}');
	if (typeof found !== 'object' || found === null) return {};
	const isText = (value: unknown): value is string => typeof value === 'string';
	return Object.fromEntries(
		Object.entries(found as Record<string, Partial<Stored[string]> | null>).flatMap(([name, copy]): [string, Stored[string]][] =>
			copy && isText(copy.at) && (isText(copy.value) || (Array.isArray(copy.value) && copy.value.every(isText)))
				? [[name, { value: copy.value, at: copy.at, ...(isText(copy.sent) ? { sent: copy.sent } : {}) }]]
				: []
		)
	);
}

export interface Copies {
	/** oldest names first, each with when it was typed (an instant, by the device's clock), and when the server had it, if it was sent */
	all(): { name: string; value: TypedValue; at: string; sent?: string }[];
	keep(name: string, value: TypedValue): void;
	/** Notes when the server had a value, if that is what is kept. @param at instant, by the server's clock */
	sent(name: string, value: TypedValue, at: string): void;
	/** @param value only if this is what is kept: something newer stays */
	drop(name: string, value?: TypedValue): void;
	clear(): void;
}

/** The copies of one thing somebody writes. @param of whose and of what: nobody else's words come up in a browser that is shared */
export function copiesOf(of: string): Copies {
	const key = PREFIX + of;
	// private windows and full devices refuse to keep anything: typing goes on without
	const read = (): Stored => {
		try {
			return storedIn(localStorage.getItem(key));
		} catch {
			return {};
		}
	};
	const write = (all: Stored) => {
		try {
			if (Object.keys(all).length === 0) localStorage.removeItem(key);
			else localStorage.setItem(key, JSON.stringify(all));
		} catch {
			// see above
		}
	};
	const old = new Date(Date.now() - DAYS * 86_400_000).toISOString();
	write(Object.fromEntries(Object.entries(read()).filter(([, { at }]) => at > old)));
	return {
		all: () => Object.entries(read()).map(([name, copy]) => ({ name, ...copy })),
		keep: (name, value) => write({ ...read(), [name]: { value, at: new Date().toISOString() } }),
		sent(name, value, at) {
			const all = read();
			if (name in all && String(all[name].value) === String(value)) write({ ...all, [name]: { ...all[name], sent: at } });
		},
		drop(name, value) {
			const all = read();
			if (!(name in all) || (value !== undefined && String(all[name].value) !== String(value))) return;
			delete all[name];
			write(all);
		},
		clear: () => write({})
	};
}

/** Takes away everything that was typed here: whoever signs out leaves nothing behind. */
export function clearCopies(): void {
	for (const key of Object.keys(localStorage)) if (key.startsWith(PREFIX)) localStorage.removeItem(key);
}
