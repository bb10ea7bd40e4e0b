/** What can be typed into or pressed, and is reached by Tab. */
const FIELD = 'input:not([type=hidden], :disabled), select:not(:disabled), textarea:not(:disabled), [contenteditable=true]';
const FOCUSABLE = `a[href], button:not(:disabled), summary, ${FIELD}`;
/** What opens something in place says so itself, and closes it when it is pressed again. */
const OPENER = 'summary, :not(input)[aria-expanded]';

const seen = (element: Element) => element.checkVisibility({ visibilityProperty: true }) && !element.closest('[inert]');
export const focusable = (inside: ParentNode, what = FOCUSABLE): HTMLElement[] =>
	[...inside.querySelectorAll<HTMLElement>(what)].filter((element) => element.tabIndex >= 0 && seen(element));
const firstField = (inside: ParentNode): HTMLElement | undefined => focusable(inside, '[data-first]')[0] ?? focusable(inside, FIELD)[0];

/** What is filled in first, or else pressed first, inside something. */
export const firstOf = (inside: ParentNode): HTMLElement | undefined => firstField(inside) ?? focusable(inside)[0];

const isOpen = (opener: HTMLElement): boolean =>
	opener.isConnected &&
	(opener.tagName === 'SUMMARY' ? (opener.parentElement as HTMLDetailsElement).open : opener.getAttribute('aria-expanded') === 'true');

/**
 * Holds on every page, however it is made:
 * - What is opened in place has the focus in its first field; Esc closes what was opened last, and the focus goes back to what opened it.
 * - When what had the focus is taken away (a line that was removed, a button that made room for what it opened), the focus goes to what
 *   came in its place, else to what stands where it stood. A button that could not be pressed while it was at work has it again.
 * @returns what ends it
 */
export function keepFocus(): () => void {
	/** whatever had the focus last, with what it stood in and at which place there */
	let path: { element: HTMLElement; place: number }[] = [];
	/** what was opened and not closed yet, the last one at the end */
	let openers: HTMLElement[] = [];
	let justPressed: HTMLElement | null = null;

	function note({ target }: FocusEvent) {
		if (!(target instanceof HTMLElement) || target === document.body) return;
		path = [{ element: target, place: 0 }];
		for (let element = target.parentElement; element; element = element.parentElement) {
			path.push({ element, place: focusable(element).indexOf(target) });
			if (element.matches('main, aside, dialog, body')) break;
		}
	}
	function press({ target }: MouseEvent) {
		const opener = (target as Element).closest<HTMLElement>(OPENER);
		justPressed = opener;
		if (!opener) return;
		// what it opens is there once the page has been drawn anew
		setTimeout(() => {
			openers = [...openers.filter((one) => one !== opener && isOpen(one)), ...(isOpen(opener) ? [opener] : [])];
			if (opener.tagName === 'SUMMARY' && isOpen(opener)) firstField(opener.parentElement!)?.focus();
		});
	}
	function escape(event: KeyboardEvent) {
		// an editor takes the key for itself, and does nothing with it that anybody waits for
		if (event.key !== 'Escape' || (event.defaultPrevented && !(event.target as HTMLElement).isContentEditable)) return;
		const dialog = document.querySelector('dialog[open]');
		const opener = openers.findLast((one) => isOpen(one) && (!dialog || dialog.contains(one)));
		if (!opener) return;
		event.preventDefault();
		opener.click();
		opener.focus();
	}
	const observer = new MutationObserver((changes) => {
		const added = () =>
			changes.flatMap((change) => [...change.addedNodes]).filter((node): node is Element => node instanceof Element && node.isConnected);
		if (justPressed && isOpen(justPressed)) {
			// what has to be fetched first opens later
			if (!openers.includes(justPressed)) openers.push(justPressed);
			const field = added().map(firstField).find(Boolean);
			if (field && !field.contains(document.activeElement)) {
				justPressed = null;
				return field.focus();
			}
		}
		if (path.length === 0 || document.activeElement !== document.body) return;
		const had = path[0].element;
		if (had.isConnected) {
			if (changes.some((change) => change.target === had) && !had.matches(':disabled')) had.focus({ preventScroll: true });
			return;
		}
		const { element, place } = path.find((one) => one.element.isConnected) ?? {};
		path = [];
		if (!element) return;
		const came = added().filter((node) => element.contains(node));
		const recurring = focusable(element);
		(
			came.map(firstField).find(Boolean) ??
			recurring[Math.min(place!, recurring.length - 1)] ??
			element.closest<HTMLElement>('[tabindex], main')
		)?.focus({
			preventScroll: true
		});
	});
	document.addEventListener('focusin', note);
	document.addEventListener('click', press, true);
	document.addEventListener('keydown', escape);
	observer.observe(document.body, { childList: true, subtree: true, attributeFilter: ['disabled'] });
	return () => {
		document.removeEventListener('focusin', note);
		document.removeEventListener('click', press, true);
		document.removeEventListener('keydown', escape);
		observer.disconnect();
	};
}
