/** What can be typed into or pressed, and is reached by Tab. */
const FOCUSABLE =
	'a[href], button:not(:disabled), input:not([type=hidden], :disabled), select:not(:disabled), textarea:not(:disabled), summary, [contenteditable=true]';
const FIELD = 'input:not([type=hidden], :disabled), select:not(:disabled), textarea:not(:disabled), [contenteditable=true]';

const seen = (element: Element) => element.checkVisibility({ visibilityProperty: true }) && !element.closest('[inert]');
export const focusable = (inside: ParentNode, what = FOCUSABLE): HTMLElement[] => [...inside.querySelectorAll<HTMLElement>(what)].filter(seen);

/** The field of something that was opened in place that is filled in first, or else what is pressed first in it. */
export const firstOf = (inside: ParentNode): HTMLElement | undefined =>
	focusable(inside, '[data-first]')[0] ?? focusable(inside, FIELD)[0] ?? focusable(inside)[0];

/**
 * From now on the focus does not fall out of the page when what had it is taken away: a line that was removed, a button that made room
 * for what it opened, a form that closed. It goes to what came in its place, else to what stands where it stood.
 * @returns what ends it
 */
export function keepFocus(): () => void {
	/** whatever had the focus last, with what it stood in and at which place there */
	let path: { element: Element; place: number }[] = [];
	function note({ target }: FocusEvent) {
		if (!(target instanceof HTMLElement) || target === document.body) return;
		path = [{ element: target, place: 0 }];
		for (let element = target.parentElement; element; element = element.parentElement) {
			path.push({ element, place: focusable(element).indexOf(target) });
			if (element.matches('main, aside, dialog, body')) break;
		}
	}
	const observer = new MutationObserver((changes) => {
		if (path.length === 0 || document.activeElement !== document.body) return;
		const had = path[0].element as HTMLElement;
		if (had.isConnected) {
			// a button that could not be pressed while it was at work
			if (changes.some((change) => change.target === had) && !had.matches(':disabled')) had.focus({ preventScroll: true });
			return;
		}
		const { element, place } = path.find((one) => one.element.isConnected) ?? {};
		path = [];
		if (!element) return;
		const added = changes
			.flatMap((change) => [...change.addedNodes])
			.filter((node): node is Element => node instanceof Element && element.contains(node));
		const opened = added.map((node) => (node.matches('form') || node.querySelector(FIELD) ? firstOf(node) : undefined)).find(Boolean);
		const standing = focusable(element);
		(opened ?? standing[Math.min(place!, standing.length - 1)] ?? element.closest<HTMLElement>('[tabindex], main'))?.focus({ preventScroll: true });
	});
	document.addEventListener('focusin', note);
	observer.observe(document.body, { childList: true, subtree: true, attributeFilter: ['disabled'] });
	return () => {
		document.removeEventListener('focusin', note);
		observer.disconnect();
	};
}
