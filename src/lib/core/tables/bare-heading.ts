/** A heading of a table without case, accents and signs, for comparing. */
export function bareHeading(heading: string): string {
	return heading
		.normalize('NFKD')
		.replace(/\p{Mark}/gu, '')
		.toLowerCase()
		.split(/[^\p{Letter}\p{Number}]+/u)
		.filter(Boolean)
		.join(' ');
}
