/** Letters without their marks, in lower case: of the same length as the text, sign for sign, so that places in both are the same. */
export const bareText = (text: string): string =>
	Array.from(text, (sign) => {
		const bare = sign.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase();
		return bare.length === sign.length ? bare : sign;
	}).join('');
