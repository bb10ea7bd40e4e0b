/** Copies a text to the clipboard, and knows whether that worked. */
export function copier(): { readonly copied: boolean; copy(text: string): Promise<void> } {
	let copied = $state(false);
	return {
		get copied() {
			return copied;
		},
		async copy(text) {
			await navigator.clipboard?.writeText(text).then(
				() => (copied = true),
				() => (copied = false)
			);
		}
	};
}
