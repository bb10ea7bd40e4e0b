import type { Locator, Page } from '@playwright/test';
import { expect } from './product';

/** Holds every letter that is a shortcut of the desk, so that a key that acts while somebody types is noticed. */
const SENTENCE = 'bad wqn 17 /?.';
/** Milliseconds between two keys, as a quick typist's. */
const BETWEEN_KEYS = 12;

/** How many rows of one list are opened. */
const ROWS = 6;

const FIELDS =
	'input:not([type=hidden],[type=checkbox],[type=radio],[type=file],[type=range],[type=color],[type=submit],[type=button]), textarea, [contenteditable=true]';
/** What opens something in place: it says so itself. */
const OPENERS = 'summary, :not(input)[aria-expanded=false], [aria-haspopup=dialog]';
const TABBABLE = 'a[href], button, input, select, textarea, summary, iframe, [tabindex], [contenteditable=true]';

/** What a walk went through. */
export interface Walked {
	views: Set<string>;
	fields: number;
	kept: number;
	controls: number;
	opened: number;
	/** what is wrong, each with where it was found */
	faults: string[];
}

export const nothingYet = (): Walked => ({ views: new Set(), fields: 0, kept: 0, controls: 0, opened: 0, faults: [] });

/** Prints how much a walk went through. */
export const told = (side: string, { views, fields, kept, controls, opened }: Walked): void =>
	console.log(
		`${side}: ${views.size} views, ${opened} things opened, ${fields} fields typed into, ${kept} kept over a reload, ${controls} controls reached`
	);

/** How many views of one shape are opened: more where what they show differs by kind of item. */
export const most = (shape: string): number => (/\/item\/|\/rounds\/item/.test(shape) ? 3 : /\/clients\/:id$/.test(shape) ? 2 : 1);

/** An address without what tells one client, item or message from another. */
export function shapeOf(address: string): string {
	const url = new URL(address, 'http://walk');
	const path = url.pathname.replace(/[0-9a-f]{8}-[0-9a-f-]{27}/g, ':id').replace(/\d{4}-\d{2}-\d{2}/g, ':day');
	// what narrows a list down makes no other view; what a page begins with does
	return url.search ? `${path}?` : path;
}

interface FieldKind {
	/** its place among all fields of the view */
	place: number;
	name: string;
	type: string;
	max: number;
	kept: boolean;
	/** stands at the head or foot of every view */
	everywhere: boolean;
}

/** The fields inside `scope` that somebody could type into now. */
const fieldsIn = (scope: Locator): Promise<FieldKind[]> =>
	scope.locator(FIELDS).evaluateAll((elements) =>
		elements.flatMap((element, place) => {
			const field = element as HTMLInputElement;
			if (!field.checkVisibility({ visibilityProperty: true }) || field.disabled || field.readOnly || field.closest('[inert]')) return [];
			const label =
				field.getAttribute('aria-label') ??
				field
					.getAttribute('aria-labelledby')
					?.split(' ')
					.map((id) => document.getElementById(id)?.textContent)
					.join(' ') ??
				field.labels?.[0]?.textContent ??
				field.name ??
				'';
			return [
				{
					place,
					name: label.replace(/\s+/g, ' ').trim().slice(0, 60),
					type: field.isContentEditable ? 'words' : field.tagName === 'TEXTAREA' ? 'textarea' : field.type,
					max: field.maxLength > 0 ? field.maxLength : 10_000,
					kept: field.closest('[data-kept]') !== null && field.closest('[data-not-kept]') === null,
					everywhere: field.closest('header, footer') !== null && field.closest('main, dialog') === null
				}
			];
		})
	);

/** What could be opened now. */
const openersOn = (page: Page): Promise<{ place: number; name: string; everywhere: boolean; inRow: boolean }[]> =>
	page.locator(OPENERS).evaluateAll((elements) =>
		(elements as HTMLButtonElement[]).flatMap((element, place) =>
			!element.checkVisibility({ visibilityProperty: true }) || element.disabled || element.closest('[inert]')
				? []
				: [
						{
							place,
							name: (element.getAttribute('aria-label') ?? element.textContent ?? '').replace(/\s+/g, ' ').trim(),
							everywhere: element.closest('header, footer') !== null && element.closest('main, dialog') === null,
							inRow: element.closest('li, tr, [id^=row-]') !== null
						}
					]
		)
	);

/** A name without what tells one client or thing from another. */
const alike = (name: string): string => name.replace(/[“"].*[”"]|\d+/g, '…');

function wordsFor({ type, max }: FieldKind): { keys: string; value: string } {
	if (type === 'date') return { keys: '06152026', value: '2026-06-15' };
	if (type === 'time') return { keys: '1030', value: '' };
	// its parts differ with the language of the browser
	if (type === 'datetime-local') return { keys: '', value: '' };
	if (type === 'number') return { keys: '42', value: '42' };
	const words = (type === 'email' ? 'bad.wqn1234567@d.example' : SENTENCE).slice(0, max);
	return { keys: words, value: words };
}

/** Where the focus is, in words; empty if it is nowhere. */
const focusOf = (page: Page): Promise<string> =>
	page.evaluate(() => {
		const at = document.activeElement;
		return !at || at === document.body
			? ''
			: `${at.tagName.toLowerCase()} ${(at.getAttribute('aria-label') ?? at.textContent ?? '').trim().slice(0, 40)}`;
	});

/** Types into one field key by key, as a person does, and reads what then stands there. */
async function typeInto(page: Page, field: Locator, kind: FieldKind, at: string, walked: Walked): Promise<string | null> {
	const { keys, value } = wordsFor(kind);
	if (!keys) return null;
	const address = page.url();
	const dialogs = await page.locator('dialog[open]').count();
	await field.focus();
	if (!/^(date|time)$/.test(kind.type)) await page.keyboard.press('ControlOrMeta+a');
	await page.keyboard.type(keys, { delay: BETWEEN_KEYS });
	const fault = (what: string) => void walked.faults.push(`${at}, “${kind.name}”: ${what}`);
	walked.fields++;
	const where = page.url();
	if (where.split('?')[0] !== address.split('?')[0]) {
		fault(`typing led to ${where}`);
		return null;
	}
	if ((await page.locator('dialog[open]').count()) !== dialogs) fault('typing opened or closed a dialog');
	const now = await field
		.evaluate((element) => ({
			value: (element as HTMLElement).isContentEditable ? (element as HTMLElement).innerText.trimEnd() : (element as HTMLInputElement).value,
			focused: element === document.activeElement
		}))
		.catch(() => null);
	if (!now) fault('it was gone after typing');
	else {
		if (!now.focused) fault(`after typing the focus was on ${(await focusOf(page)) || 'nothing'}`);
		if (value && now.value !== value) fault(`“${now.value}” stands there after typing “${value}”`);
	}
	return now?.value ?? null;
}

/** Types into every field inside `scope` whose like was not met before. @returns what was typed where it says that it is kept */
export async function typeEverywhere(
	page: Page,
	scope: Locator,
	at: string,
	walked: Walked,
	met: Set<string>
): Promise<{ name: string; value: string }[]> {
	const kept: { name: string; value: string }[] = [];
	for (;;) {
		const keyOf = (kind: FieldKind) => `${kind.everywhere ? '' : at} ${kind.type} ${alike(kind.name)}`;
		const kind = (await fieldsIn(scope)).find((one) => !met.has(keyOf(one)));
		if (!kind) return kept;
		met.add(keyOf(kind));
		const value = await typeInto(page, scope.locator(FIELDS).nth(kind.place), kind, at, walked);
		if (kind.kept && value !== null) kept.push({ name: kind.name, value });
	}
}

/** Opens everything that opens in place and was not met before; types there, and closes it with Esc. @returns what was typed where it says that it is kept */
export async function openEverything(page: Page, at: string, walked: Walked, met: Set<string>): Promise<{ name: string; value: string }[]> {
	const kept: { name: string; value: string }[] = [];
	let rows = 0;
	for (;;) {
		const keyOf = (one: { name: string; everywhere: boolean }) => `${one.everywhere ? '' : at} opens ${alike(one.name)}`;
		// of a list some rows stand for all: what opens in one opens in the others
		const next = (await openersOn(page)).find((one) => !met.has(keyOf(one)) && !(one.inRow && rows >= ROWS));
		if (!next) return kept;
		met.add(keyOf(next));
		if (next.inRow) rows++;
		const { name } = next;
		const opener = page.locator(OPENERS).nth(next.place);
		const fault = (what: string) => void walked.faults.push(`${at}, opening “${name.slice(0, 60)}”: ${what}`);
		const address = page.url();
		if (process.env.WALK_LOG) console.log('  opens', name);
		const open = await opener.elementHandle();
		await opener.focus();
		await page.keyboard.press('Enter');
		await page.waitForTimeout(60);
		walked.opened++;
		if (page.url() !== address) {
			await page.goto(address);
			continue;
		}
		if (!(await focusOf(page))) fault('the focus was on nothing');
		// what is there for a password manager alone takes no letter
		if (await page.evaluate(() => document.activeElement instanceof HTMLInputElement && document.activeElement.tabIndex < 0))
			fault('the focus was on a field that is not for people');
		const dialog = page.locator('dialog[open]');
		const scope = (await dialog.count()) > 0 ? dialog.last() : page.locator('body');
		const where = next.inRow ? `${at} › a row` : `${at} › ${name.slice(0, 40)}`;
		kept.push(...(await typeEverywhere(page, scope, where, walked, met)));
		if ((await dialog.count()) > 0) await tabThrough(page, where, walked, 'dialog[open]');
		await page.keyboard.press('Escape');
		await page.waitForTimeout(60);
		if ((await dialog.count()) > 0) fault('Esc did not close the dialog');
		else if (page.url() !== address) fault(`Esc led to ${page.url()}`);
		else if (!(await focusOf(page))) fault('after Esc the focus was on nothing');
		else if (await open?.evaluate((element) => element.isConnected && element.getAttribute('aria-expanded') === 'true'))
			fault('Esc did not close it');
		if (page.url() !== address) await page.goto(address);
	}
}

/** Holds Tab down, alone or with Shift, until it was repeated so many times: quicker than to let go of it after each. */
async function hold(page: Page, key: 'Tab' | 'Shift+Tab', times: number): Promise<void> {
	if (key === 'Shift+Tab') await page.keyboard.down('Shift');
	await Promise.all(Array.from({ length: times }, () => page.keyboard.down('Tab')));
	await page.keyboard.up('Tab');
	if (key === 'Shift+Tab') await page.keyboard.up('Shift');
}

/** Goes through a view with Tab and back with Shift-Tab: every control is reached in order, none twice, and the focus is never lost between. */
export async function tabThrough(page: Page, at: string, walked: Walked, inside = 'body'): Promise<void> {
	const count = await page.evaluate(
		({ inside, tabbable }) => {
			const groups = new Set<string>();
			let n = 0;
			const root = [...document.querySelectorAll(inside)].at(-1)!;
			for (const element of document.querySelectorAll('[data-walk]')) element.removeAttribute('data-walk');
			for (const element of root.querySelectorAll<HTMLElement>(tabbable)) {
				if (
					element.tabIndex < 0 ||
					element.matches(':disabled') ||
					element.closest('[inert]') ||
					!element.checkVisibility({ visibilityProperty: true })
				)
					continue;
				if (element.tagName === 'IFRAME') continue;
				// what is folded away in a closed details is not there
				const folded = element.closest('details:not([open])');
				if (folded && !(element.tagName === 'SUMMARY' && element.parentElement === folded)) continue;
				if (element instanceof HTMLInputElement && element.type === 'radio') {
					// the buttons of one choice are one stop
					const group = `${element.name} ${element.form?.action}`;
					if (groups.has(group)) {
						element.dataset.walk = String(n - 1);
						continue;
					}
					groups.add(group);
				}
				element.dataset.walk = String(n++);
			}
			if (inside === 'body') {
				document.body.tabIndex = -1;
				document.body.focus();
				document.body.removeAttribute('tabindex');
			}
			return n;
		},
		{ inside, tabbable: TABBABLE }
	);
	walked.controls += count;
	if (inside !== 'body' || count === 0) return;
	// the page notes where the focus goes: asking after each key would take minutes
	await page.evaluate(() => {
		const noted: { at: number | null; name: string }[] = [];
		const note = (element: Element | null) => {
			const n = (element as HTMLElement | null)?.dataset?.walk;
			const name = element
				? `${element.tagName.toLowerCase()} ${(element.getAttribute('aria-label') ?? element.textContent ?? '').trim().slice(0, 40)}`
				: '';
			// a part of the page that scrolls takes the focus by itself
			if (!element || n !== undefined) noted.push({ at: n === undefined ? null : Number(n), name });
		};
		document.addEventListener('focusin', (event) => note(event.target as Element));
		document.addEventListener('focusout', (event) => event.relatedTarget ?? setTimeout(() => document.activeElement === document.body && note(null)));
		Object.assign(window, { noted });
	});
	for (const key of ['Tab', 'Shift+Tab'] as const) {
		const [start, end, step] = key === 'Tab' ? [-1, count - 1, 1] : [count - 1, 0, -1];
		let noted: { at: number | null; name: string }[] = [];
		await page.evaluate(() => ((window as unknown as { noted: unknown[] }).noted.length = 0));
		for (let round = 0; round < 8; round++) {
			await hold(page, key, Math.max(8, Math.ceil(count / 2)));
			noted = await page.evaluate(() => (window as unknown as { noted: { at: number | null; name: string }[] }).noted);
			if (noted.some(({ at }) => at === end || at === null)) break;
		}
		let last = start;
		for (const { at: now, name } of noted) {
			// past the last control the focus leaves the page
			if (now === null || last === end) break;
			if (now !== last + step && now !== last) {
				walked.faults.push(`${at}, ${key}: after control ${last} of ${count} came ${now} (${name})`);
				return;
			}
			last = now;
		}
		if (last !== end) {
			walked.faults.push(`${at}, ${key}: the focus was lost after control ${last} of ${count}`);
			return;
		}
		// on the way back the walk begins at the last control
		await page.evaluate((n) => [...document.querySelectorAll<HTMLElement>(`[data-walk="${n}"]`)].at(-1)?.focus(), count - 1);
	}
}

/** The addresses a view links to that lead to another view of the same side. */
export async function linksOf(page: Page, within: string): Promise<string[]> {
	const addresses = await page.evaluate(() =>
		[...document.querySelectorAll<HTMLAnchorElement>('a[href]:not([download]):not([target=_blank])')]
			.filter((link) => link.checkVisibility())
			.map((link) => link.pathname + link.search)
	);
	return [...new Set(addresses)].filter((address) => address.startsWith(within));
}

/**
 * Walks from view to view along the links. Every view of the same shape is gone through once more where it shows what was not met before.
 * @param most how many views of one shape are opened
 * @param ready waits until a view answers to keys
 */
export async function walk(
	page: Page,
	from: string,
	within: string,
	ready: () => Promise<void>,
	walked: Walked,
	met: Set<string>,
	most: (shape: string) => number
): Promise<void> {
	const waiting = [from];
	const queued = new Set(waiting);
	const times = new Map<string, number>();
	for (let address = waiting.shift(); address !== undefined; address = waiting.shift()) {
		const shape = shapeOf(address);
		if ((times.get(shape) ?? 0) >= most(shape)) continue;
		times.set(shape, (times.get(shape) ?? 0) + 1);
		if (process.env.WALK_LOG) console.log(new Date().toISOString().slice(14, 21), walked.fields, walked.opened, address);
		const answer = await page.goto(address).catch(() => null);
		// a file, or a view that has become another one
		if (!answer || !(answer.headers()['content-type'] ?? '').includes('text/html')) continue;
		if (!answer.ok()) {
			walked.faults.push(`${address}: answered ${answer.status()}`);
			continue;
		}
		await ready();
		const before = walked.faults.length;
		const first = !walked.views.has(shape);
		walked.views.add(shape);
		for (const link of await linksOf(page, within))
			if (!queued.has(link)) {
				queued.add(link);
				waiting.push(link);
			}
		const here = page.url();
		const done = walked.fields + walked.opened;
		const kept = await typeEverywhere(page, page.locator('body'), shape, walked, met);
		const opened = await openEverything(page, shape, walked, met);
		if (kept.length + opened.length > 0) {
			await page.goto(here);
			await ready();
			for (const { name, value } of [...kept, ...opened]) {
				const field = page.getByLabel(name, { exact: true }).first();
				// what was opened by a person, and is closed again now, is looked at where it stays in the page
				if ((await field.count()) === 0) continue;
				walked.kept++;
				await expect
					.poll(() =>
						field.evaluate((element) =>
							(element as HTMLElement).isContentEditable ? (element as HTMLElement).innerText.trimEnd() : (element as HTMLInputElement).value
						)
					)
					.toBe(value)
					.catch(() => void walked.faults.push(`${shape}, “${name}”: not kept after a reload`));
			}
		}
		if (first) {
			// what was typed or opened may stand in the way
			if (walked.fields + walked.opened > done) {
				await page.goto(here);
				await ready();
			}
			await tabThrough(page, shape, walked);
		}
		if (process.env.WALK_LOG) for (const fault of walked.faults.slice(before)) console.log('   FAULT', fault);
	}
}
