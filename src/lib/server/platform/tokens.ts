import { createCipheriv, createDecipheriv, createHash, createHmac, randomBytes } from 'node:crypto';

/** A secret for a link or a cookie: 256 bits. It is given away once and kept only as its hash. */
export function newToken(): { token: string; hash: Buffer } {
	const token = randomBytes(32).toString('base64url');
	return { token, hash: hashToken(token) };
}

/**
 * A secret that is the same each time for the same thing, for links that stand in several messages: nobody makes it
 * without the key, which is not in the database.
 */
export function derivedToken(purpose: string, id: string, keyHex: string): { token: string; hash: Buffer } {
	const token = createHmac('sha256', Buffer.from(keyHex, 'hex')).update(`${purpose} ${id}`).digest('base64url');
	return { token, hash: hashToken(token) };
}

export function hashToken(token: string): Buffer {
	return createHash('sha256').update(token).digest();
}

/** Encrypts with AES-256-GCM; the result holds nonce, tag and cipher text. */
export function encrypt(plain: Buffer, keyHex: string): Buffer {
	const nonce = randomBytes(12);
	const cipher = createCipheriv('aes-256-gcm', Buffer.from(keyHex, 'hex'), nonce, { authTagLength: 16 });
	const text = Buffer.concat([cipher.update(plain), cipher.final()]);
	return Buffer.concat([nonce, cipher.getAuthTag(), text]);
}

/** @throws Error if the key is another one or the data was changed */
export function decrypt(sealed: Buffer, keyHex: string): Buffer {
	const decipher = createDecipheriv('aes-256-gcm', Buffer.from(keyHex, 'hex'), sealed.subarray(0, 12), { authTagLength: 16 });
	decipher.setAuthTag(sealed.subarray(12, 28));
	return Buffer.concat([decipher.update(sealed.subarray(28)), decipher.final()]);
}
