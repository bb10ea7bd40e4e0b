import { createHash, randomBytes } from 'node:crypto';
import * as asn1js from 'asn1js';
import * as pkijs from 'pkijs';
import { boundedBytes } from '../bounded-answer';
import { exactBuffer, isOneSpelling } from '../pki';

const SHA256 = '2.16.840.1.101.3.4.2.1';
/** Signed attributes that name the certificate by its hash (RFC 2634, 5.4; RFC 5035). */
const NAMED_BY = { '1.2.840.113549.1.9.16.2.12': 'sha1', '1.2.840.113549.1.9.16.2.47': 'sha256' } as const;
const HASHES = { [SHA256]: 'sha256', '2.16.840.1.101.3.4.2.2': 'sha384', '2.16.840.1.101.3.4.2.3': 'sha512' } as const;
/** ECDSA with any hash (RFC 5758). */
const ECDSA = /^1\.2\.840\.10045\.4\./;
const SIGNED_DATA = '1.2.840.113549.1.7.2';
const TST_INFO = '1.2.840.113549.1.9.16.1.4';
const SECONDS = 15;
/** No token with its certificates is larger. */
const MOST_BYTES = 22_000;

/**
 * Asks a time-stamping authority for a token over some bytes (RFC 3161, over HTTP: 3.4), with its certificate in it.
 * @returns the token in DER, and the instant it says
 * @throws Error if it does not answer within 15 seconds, refuses, or stamps something else
 */
export async function fetchTimeStamp(url: string, bytes: Uint8Array): Promise<{ token: Buffer; at: string }> {
	const nonce = randomBytes(8);
	nonce[0] &= 0x7f;
	const query = new pkijs.TimeStampReq({
		version: 1,
		messageImprint: new pkijs.MessageImprint({
			hashAlgorithm: new pkijs.AlgorithmIdentifier({ algorithmId: SHA256, algorithmParams: new asn1js.Null() }),
			hashedMessage: new asn1js.OctetString({ valueHex: exactBuffer(createHash('sha256').update(bytes).digest()) })
		}),
		nonce: asn1js.Integer.fromBigInt(nonce.readBigUInt64BE()),
		certReq: true
	});
	const response = await fetch(url, {
		method: 'POST',
		headers: { 'content-type': 'application/timestamp-query' },
		body: query.toSchema().toBER(false),
		redirect: 'error',
		signal: AbortSignal.timeout(SECONDS * 1000)
	});
	if (!response.ok || !response.body) throw new Error(`the time-stamp service answered with ${response.status}`);
	const answer = pkijs.TimeStampResp.fromBER(exactBuffer(await boundedBytes(response, MOST_BYTES)));
	if (answer.status.status > 1 || !answer.timeStampToken) throw new Error(`the time-stamp service refused, status ${answer.status.status}`);
	const token = Buffer.from(answer.timeStampToken.toSchema().toBER(false));
	const stamp = await readTimeStamp(token, bytes);
	if (!stamp) throw new Error('the time-stamp service did not stamp what it was asked to stamp');
	if (stamp.nonce !== nonce.readBigUInt64BE()) throw new Error('the time-stamp service answered another query');
	return { token, at: stamp.at };
}

/** Whether what its signature leaves open has its one spelling: the version by how the certificate is named (RFC 5652, 5.3), the signature itself. */
function isAsItAlwaysIs({ version, sid, signatureAlgorithm, signature }: pkijs.SignerInfo): boolean {
	if (version !== (sid instanceof pkijs.IssuerAndSerialNumber ? 1 : 3)) return false;
	return !ECDSA.test(signatureAlgorithm.algorithmId) || isOneSpelling(Buffer.from(signature.valueBlock.valueHexView));
}

/**
 * Whether a certificate in a token is the one that its signature names: the signature alone does not cover it. Where the hash is another
 * than the default, its algorithm stands before it.
 */
function namesItsCertificate(signed: pkijs.SignedData): boolean {
	const certificates = (signed.certificates ?? []).flatMap((one) =>
		one instanceof pkijs.Certificate ? [Buffer.from(one.toSchema().toBER(false))] : []
	);
	for (const { type, values } of signed.signerInfos[0].signedAttrs?.attributes ?? []) {
		const usual = NAMED_BY[type as keyof typeof NAMED_BY];
		if (!usual) continue;
		const first = ((values[0] as asn1js.Sequence).valueBlock.value[0] as asn1js.Sequence).valueBlock.value[0] as asn1js.Sequence;
		const [one, other] = first.valueBlock.value;
		if (one instanceof asn1js.OctetString) return has(certificates, usual, one);
		const named = (one as asn1js.Sequence).valueBlock.value[0] as asn1js.ObjectIdentifier;
		const algorithm = HASHES[named.valueBlock.toString() as keyof typeof HASHES];
		return algorithm !== undefined && other instanceof asn1js.OctetString && has(certificates, algorithm, other);
	}
	return false;
}
const has = (certificates: readonly Buffer[], algorithm: string, hash: asn1js.OctetString) =>
	certificates.some((one) => createHash(algorithm).update(one).digest().equals(Buffer.from(hash.valueBlock.valueHexView)));

/**
 * What a token says, if it is one over these bytes and signed by the certificate in it. Who issued that certificate is for whoever
 * relies on it to look at.
 */
export async function readTimeStamp(token: Uint8Array, bytes: Uint8Array): Promise<{ at: string; nonce: bigint | null } | null> {
	const info = pkijs.ContentInfo.fromBER(exactBuffer(token));
	const signed = new pkijs.SignedData({ schema: info.content });
	// what the signature does not cover must say what it says everywhere
	const [digest, ...more] = signed.digestAlgorithms;
	const { digestAlgorithm } = signed.signerInfos[0] ?? {};
	if (info.contentType !== SIGNED_DATA || signed.version !== 3 || more.length > 0 || !digest?.isEqual(digestAlgorithm)) return null;
	if (signed.encapContentInfo.eContentType !== TST_INFO || !signed.encapContentInfo.eContent) return null;
	const said = pkijs.TSTInfo.fromBER(exactBuffer(new Uint8Array(signed.encapContentInfo.eContent.getValue())));
	const stamped = createHash('sha256').update(bytes).digest();
	if (said.messageImprint.hashAlgorithm.algorithmId !== SHA256) return null;
	if (!stamped.equals(Buffer.from(said.messageImprint.hashedMessage.valueBlock.valueHexView))) return null;
	if (signed.signerInfos.length !== 1 || !isAsItAlwaysIs(signed.signerInfos[0]) || !namesItsCertificate(signed)) return null;
	const good = await signed.verify({ signer: 0, data: exactBuffer(bytes), checkChain: false });
	return good ? { at: said.genTime.toISOString(), nonce: said.nonce ? said.nonce.toBigInt() : null } : null;
}
