/**
 * A sentence of the message catalogue, with its values: what a client may read is put into words at the edge, in
 * their own language.
 */
export interface Saying {
	key: string;
	values?: Readonly<Record<string, string | number>>;
}

/**
 * Something a person can cause and put right. What is wrong is shown to them: a sentence where only the firm's
 * people read it, else a saying; `fields` says where. Bugs are ordinary exceptions.
 */
export class DomainError extends Error {
	constructor(
		readonly code:
			| 'not_found'
			| 'not_allowed'
			| 'changed_meanwhile'
			| 'invalid'
			| 'too_many'
			| 'unfilled_fields'
			| 'link_unusable'
			| 'unreadable_file'
			| 'storage_full',
		readonly what: string | Saying,
		readonly fields: Readonly<Record<string, string | Saying>> = {},
		/** where somebody was faster: what stands there by now, as a form notes what it has shown; for that form to be saved over it knowingly */
		readonly stands?: string
	) {
		super(typeof what === 'string' ? what : what.key);
		this.name = 'DomainError';
	}
}
