import { SvelteSet } from 'svelte/reactivity';
import { z } from 'zod';

/** The rows of a list that somebody chose: kept over reloads, and after something was done with them, until they are let go. */
export interface Choosing {
	has(id: string): boolean;
	/** with shift everything from the row chosen last up to this one, by mouse or by the space bar */
	toggle(event: MouseEvent | KeyboardEvent, id: string, rows: readonly { id: string }[]): void;
	set(ids: Iterable<string>): void;
	clear(): void;
	readonly size: number;
}

/** @param of which list it is: its choice is kept for this tab */
export function choosing(of: string): Choosing {
	const key = `lantern-chosen ${of}`;
	const chosen = new SvelteSet<string>(read());
	let last: string | null = null;
	function read(): string[] {
		try {
			return z.array(z.string()).parse(JSON.parse(sessionStorage.getItem(key) ?? '[]'));
		} catch {
			// drawn by the server, or nothing that was kept can be read
			return [];
		}
	}
	function keep() {
		try {
			sessionStorage.setItem(key, JSON.stringify([...chosen]));
		} catch {
			// a full or private window: the choice holds as long as the page stands
		}
	}
	return {
		has: (id) => chosen.has(id),
		toggle(event, id, rows) {
			const on = !chosen.has(id);
			const from = event.shiftKey && last !== null ? rows.findIndex((row) => row.id === last) : -1;
			const to = rows.findIndex((row) => row.id === id);
			for (const row of from < 0 ? [{ id }] : rows.slice(Math.min(from, to), Math.max(from, to) + 1)) {
				if (on) chosen.add(row.id);
				else chosen.delete(row.id);
			}
			last = id;
			keep();
		},
		set(ids) {
			chosen.clear();
			for (const id of ids) chosen.add(id);
			keep();
		},
		clear() {
			chosen.clear();
			keep();
		},
		get size() {
			return chosen.size;
		}
	};
}
