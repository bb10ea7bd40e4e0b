/**
 * How many fields a form holds, counted in its bytes before anything is parsed: taking a form apart costs by the field.
 * @param contentType of the request; of what is no form the answer is 0
 * @param most counting ends here
 */
export function fieldsIn(body: Buffer, contentType: string, most: number): number {
	const boundary = /^multipart\/form-data\b.*\bboundary="?([^";]+)/i.exec(contentType)?.[1];
	const parting = boundary ? `--${boundary}` : /^application\/x-www-form-urlencoded\b/i.test(contentType) ? '&' : null;
	if (parting === null || body.length === 0) return 0;
	// the last boundary ends the form, the first field has no & before it
	let fields = boundary ? -1 : 1;
	for (let at = body.indexOf(parting); at !== -1 && fields < most; at = body.indexOf(parting, at + parting.length)) fields++;
	return fields;
}
