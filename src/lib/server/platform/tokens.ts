import { createCipheriv, createDecipheriv, createHash, createHmac, randomBytes, randomInt } from 'node:crypto';

/** A secret for a link or a cookie: 256 bits. It is given away once and kept only as its hash. */
export function newToken(): { token: string; hash: Buffer } {
	const token = randomBytes(32).toString('base64url');
	return { token, hash: hashToken(token) };
}

/** A code that is sent to somebody and typed by them: eight digits. It is kept only as its hash. */
export const newCode = (): string => String(randomInt(100_000_000)).padStart(8, '0');

/** A code as it stands in a message. */
export const codeInWords = (code: string): string => `${code.slice(0, 4)} ${code.slice(4)}`;

/** The keys of the setting: the one that is written with, and while it is changed also the one before. */
export function keysOf(setting: string): Buffer[] {
	return setting.split(',').map((hex) => Buffer.from(hex, 'hex'));
}

/**
 * A secret that is the same each time for the same thing, for links that stand in several messages: nobody makes it
 * without the key, which is not in the database.
 */
export function derivedToken(purpose: string, id: string, key: Buffer): { token: string; hash: Buffer } {
	const token = createHmac('sha256', key).update(`${purpose} ${id}`).digest('base64url');
	return { token, hash: hashToken(token) };
}

export function hashToken(token: string): Buffer {
	return createHash('sha256').update(token).digest();
}

/** Encrypts with AES-256-GCM; the result holds nonce, tag and cipher text. */
export function encrypt(plain: Buffer, secretKey: string): Buffer {
	const nonce = randomBytes(12);
	const cipher = createCipheriv('aes-256-gcm', keysOf(secretKey)[0], nonce, { authTagLength: 16 });
	const text = Buffer.concat([cipher.update(plain), cipher.final()]);
	return Buffer.concat([nonce, cipher.getAuthTag(), text]);
}

function opened(sealed: Buffer, key: Buffer): Buffer {
	const decipher = createDecipheriv('aes-256-gcm', key, sealed.subarray(0, 12), { authTagLength: 16 });
	decipher.setAuthTag(sealed.subarray(12, 28));
	return Buffer.concat([decipher.update(sealed.subarray(28)), decipher.final()]);
}

/** @throws Error if the key is another one, also than the one before, or the data was changed */
export function decrypt(sealed: Buffer, secretKey: string): Buffer {
	const [key, before] = keysOf(secretKey);
	try {
		return opened(sealed, key);
	} catch (error) {
		if (!before) throw error;
		return opened(sealed, before);
	}
}

/** The same encrypted with the newest key, or null if it is already. @throws Error as `decrypt` does */
export function encryptedAnew(sealed: Buffer, secretKey: string): Buffer | null {
	try {
		opened(sealed, keysOf(secretKey)[0]);
		return null;
	} catch {
		return encrypt(decrypt(sealed, secretKey), secretKey);
	}
}
