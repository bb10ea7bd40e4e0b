import { webcrypto } from 'node:crypto';
import * as pkijs from 'pkijs';

/** What certificates, seals and time stamps are made and read with; the library is told of it once. */
export const crypto = webcrypto as unknown as Crypto;
pkijs.setEngine('node', new pkijs.CryptoEngine({ name: 'node', crypto, subtle: crypto.subtle }));

/** Bytes in a buffer of exactly their length, as the library wants them. */
export function exactBuffer(bytes: Uint8Array): ArrayBuffer {
	return bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer;
}

/**
 * One byte more than the numbers of P-256 and of P-384 have: only the 0 that keeps them positive makes them so long. Of a longer second
 * number the library writes the first byte over the end of the first number, and where that is the same byte, takes it.
 */
const ONE_TOO_LONG = [33, 49];

/**
 * Whether an ECDSA-Sig-Value (RFC 3279, 2.2.3) is spelled in DER: two positive integers, as short as
 * they can be and no longer than those of their curve, and nothing else. The library that verifies also takes wrong lengths, so one and the
 * same signature could be written in several ways.
 */
export function isOneSpelling(signature: Buffer): boolean {
	if (signature[0] !== 0x30 || signature[1] !== signature.length - 2) return false;
	let at = 2;
	for (let integer = 0; integer < 2; integer++) {
		const length = signature[at + 1];
		const value = signature.subarray(at + 2, at + 2 + length);
		if (signature[at] !== 0x02 || length === 0 || value.length !== length || value[0] >= 0x80) return false;
		if (value[0] === 0 && length > 1 && value[1] < 0x80) return false;
		if (ONE_TOO_LONG.includes(length) && value[0] !== 0) return false;
		at += 2 + length;
	}
	return at === signature.length;
}
