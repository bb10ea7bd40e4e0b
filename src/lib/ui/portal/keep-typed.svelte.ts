import { deserialize } from '$app/forms';
import { isPutBack, ON_ITS_WAY_SECONDS, type TypedField, type TypedFields, type TypedKept, type TypedValue } from '$lib/core/requests/typed';
import type { Attachment } from 'svelte/attachments';
import { fieldsOf, readField, writeField } from '../forms/form-fields';
import { copiesOf, type Copies } from '../forms/typed-copies';

/** Milliseconds after the last key until what is typed goes to the server. */
const PAUSE = 900;
/** Milliseconds until it is tried again while the line is down. */
const AGAIN = 5000;

/** Which browser this is: what another one wrote is told apart by it. */
function deviceName(): string {
	const known = sessionStorage.getItem('lantern-device') ?? crypto.randomUUID();
	sessionStorage.setItem('lantern-device', known);
	return known;
}

export interface TypedKeeper {
	/** keeps what is typed into a form; its fields are known by this and their names */
	form: (prefix: string) => Attachment<HTMLFormElement>;
	/** what stood in a field when the page was read */
	typed: (name: string) => TypedValue | undefined;
	/** sends what waits at once: somebody is about to be told that it is there */
	hurry: () => void;
	/** what another device did to the same fields, to be told */
	readonly met: 'overwrote' | 'elsewhere' | null;
}

/**
 * Keeps what a client types about one item: at once on the device, soon after on the server, and at the latest when the page is left or
 * hidden. A field that was emptied stays empty. What cannot be sent now is sent when the page is opened again.
 */
export function keepTypedOf(of: {
	at: string;
	itemId: string;
	personId: string;
	typed: TypedFields;
	/** when the page was read, an instant: what came later from elsewhere is not on it */ now: string;
}): TypedKeeper {
	const forms = new Map<string, HTMLFormElement>();
	const waiting = new Map<string, TypedValue>();
	/** while a form is on its way, what it holds is not kept beside it */
	const sending = new Set<string>();
	let known = of.now;
	let timer: ReturnType<typeof setTimeout> | undefined;
	/** what was kept of each field last, wherever it was typed */
	const last = new Map<string, string>();
	let putting = false;
	let met = $state<'overwrote' | 'elsewhere' | null>(null);
	const copies: Copies | null = typeof localStorage === 'undefined' ? null : copiesOf(`${of.personId} item ${of.itemId}`);
	const prefixOf = (name: string) => name.slice(0, name.indexOf('.') + 1);

	function put(name: string, value: TypedValue) {
		const form = forms.get(prefixOf(name));
		// what the page puts there itself was not typed here
		last.set(name, String(value));
		putting = true;
		if (form) writeField(form, name.slice(name.indexOf('.') + 1), value);
		putting = false;
	}
	function later(after = PAUSE) {
		clearTimeout(timer);
		timer = setTimeout(() => void send(), after);
	}
	async function send(leaving = false): Promise<void> {
		clearTimeout(timer);
		const fields = Object.fromEntries([...waiting].filter(([name]) => !sending.has(prefixOf(name))));
		if (Object.keys(fields).length === 0) return;
		for (const name of Object.keys(fields)) waiting.delete(name);
		const body = new FormData();
		body.set('typed', JSON.stringify({ device: deviceName(), since: known, fields }));
		const answer = await fetch(`${of.at}?/keep`, { method: 'POST', body, keepalive: leaving, headers: { 'x-sveltekit-action': 'true' } }).catch(
			() => null
		);
		const result = answer?.ok ? deserialize(await answer.text()) : null;
		if (result?.type !== 'success') {
			// the copy on the device stays; what was typed since is newer
			for (const [name, value] of Object.entries(fields)) if (!waiting.has(name)) waiting.set(name, value);
			if (!leaving && answer?.status !== 401) later(AGAIN);
			return;
		}
		const { now, kept } = result.data as { now: string; kept: TypedKept | null };
		known = now;
		for (const [name, value] of Object.entries(fields)) {
			if (kept) copies?.sent(name, value, now);
			else copies?.drop(name, value);
		}
		if (!kept) return;
		// a page that is read meanwhile may not have it
		setTimeout(() => {
			for (const [name, value] of Object.entries(fields)) copies?.drop(name, value);
		}, ON_ITS_WAY_SECONDS * 1000);
		for (const name of kept.elsewhere) if (!waiting.has(name)) put(name, (kept.fields[name] as TypedField).value);
		if (kept.overwrote.length > 0) met = 'overwrote';
		else if (kept.elsewhere.length > 0) met = 'elsewhere';
	}
	const leave = () => document.visibilityState === 'hidden' && void send(true);
	const depart = () => void send(true);

	return {
		typed: (name) => of.typed[name]?.value,
		hurry: () => void send(),
		get met() {
			return met;
		},
		form: (prefix) => (form) => {
			if (forms.size === 0) {
				document.addEventListener('visibilitychange', leave);
				addEventListener('pagehide', depart);
			}
			forms.set(prefix, form);
			form.dataset.kept = '';
			// what this device could not send when it was left, or sent while this page was read
			for (const { name, ...copy } of copies?.all() ?? []) {
				if (prefixOf(name) !== prefix) continue;
				if (isPutBack(copy, of.typed[name], of.now)) {
					put(name, copy.value);
					waiting.set(name, copy.value);
					later();
				} else if (copy.sent !== undefined) copies?.drop(name);
			}
			const onchange = ({ target }: Event) => {
				const field = (target as HTMLInputElement).name;
				if (putting || !field || !fieldsOf(form).includes(field)) return;
				const value = readField(form, field);
				// leaving a field tells of a change once more that was told key by key: by now another device may have written there
				if (last.get(prefix + field) === String(value)) return;
				last.set(prefix + field, String(value));
				waiting.set(prefix + field, value);
				copies?.keep(prefix + field, value);
				met = null;
				later();
			};
			const onsubmit = () => {
				clearTimeout(timer);
				sending.add(prefix);
			};
			const ended = (refused: boolean) => () => {
				sending.delete(prefix);
				if (!refused)
					for (const name of [...waiting.keys(), ...(copies?.all() ?? []).map((copy) => copy.name)])
						if (prefixOf(name) === prefix) {
							waiting.delete(name);
							copies?.drop(name);
						}
				later(0);
			};
			const [onsent, onrefused] = [ended(false), ended(true)];
			form.addEventListener('input', onchange);
			form.addEventListener('change', onchange);
			form.addEventListener('submit', onsubmit);
			form.addEventListener('lantern-sent', onsent);
			form.addEventListener('lantern-refused', onrefused);
			return () => {
				void send(true);
				forms.delete(prefix);
				if (forms.size === 0) {
					document.removeEventListener('visibilitychange', leave);
					removeEventListener('pagehide', depart);
				}
				form.removeEventListener('input', onchange);
				form.removeEventListener('change', onchange);
				form.removeEventListener('submit', onsubmit);
				form.removeEventListener('lantern-sent', onsent);
				form.removeEventListener('lantern-refused', onrefused);
			};
		}
	};
}
