/**
 * Something a person can cause and put right. Its message is shown to them; `fields` says where.
 * Bugs are ordinary exceptions.
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
		message: string,
		readonly fields: Readonly<Record<string, string>> = {}
	) {
		super(message);
		this.name = 'DomainError';
	}
}
