import { createHash, randomBytes, X509Certificate } from 'node:crypto';
import { PDFArray, PDFDict, PDFDocument, PDFHexString, PDFName, PDFString } from '@cantoo/pdf-lib';
import * as asn1js from 'asn1js';
import * as pkijs from 'pkijs';
import { crypto, exactBuffer, isOneSpelling } from '../pki';
import { readTimeStamp } from '../time-stamps/time-stamp';

/** Bytes kept for the CMS signature: with a time stamp, the service's certificates are in it. */
const CONTENTS_BYTES = { plain: 8192, stamped: 32768 };

const OID = {
	data: '1.2.840.113549.1.7.1',
	signedData: '1.2.840.113549.1.7.2',
	contentType: '1.2.840.113549.1.9.3',
	messageDigest: '1.2.840.113549.1.9.4',
	signingCertificateV2: '1.2.840.113549.1.9.16.2.47',
	sha256: '2.16.840.1.101.3.4.2.1',
	ecdsaWithSha256: '1.2.840.10045.4.3.2',
	timeStampToken: '1.2.840.113549.1.9.16.2.14'
};

/**
 * Saves a document with one seal over all of it: a PAdES baseline signature (ETSI EN 319 142-1,
 * SubFilter ETSI.CAdES.detached, SHA-256, signing-certificate-v2, no signing-time attribute) that
 * forbids every later change (DocMDP, P = 1).
 * @param sealedAt goes into the signature dictionary's /M
 * @param stamp makes a time stamp over the signature (RFC 3161), which makes it PAdES B-T; null for none
 */
export async function sealDocument(
	document: PDFDocument,
	key: { leafPem: string; leafKey: Uint8Array },
	sealedAt: Date,
	reason: string,
	stamp: ((signature: Uint8Array) => Promise<Uint8Array | null>) | null = null
): Promise<Uint8Array> {
	const { context } = document;
	const contentsBytes = stamp ? CONTENTS_BYTES.stamped : CONTENTS_BYTES.plain;
	const marker = randomBytes(32).toString('hex');
	const rangeMarks = [1, 2, 3].map((n) => 9_000_000_000 + n * 100_000_000 + randomBytes(3).readUIntBE(0, 3));

	const signature = context.obj({
		Type: 'Sig',
		Filter: 'Adobe.PPKLite',
		SubFilter: 'ETSI.CAdES.detached'
	}) as PDFDict;
	signature.set(PDFName.of('ByteRange'), context.obj([0, ...rangeMarks]));
	signature.set(PDFName.of('Contents'), PDFHexString.of(marker + '0'.repeat(contentsBytes * 2 - marker.length)));
	signature.set(PDFName.of('M'), PDFString.fromDate(sealedAt));
	signature.set(PDFName.of('Reason'), PDFHexString.fromText(reason));
	const signatureRef = context.register(signature);
	const reference = context.obj({
		Type: 'SigRef',
		TransformMethod: 'DocMDP',
		TransformParams: { Type: 'TransformParams', P: 1, V: '1.2' }
	}) as PDFDict;
	signature.set(PDFName.of('Reference'), context.obj([reference]));

	const page = document.getPages().at(-1)!;
	const widget = context.register(
		context.obj({ Type: 'Annot', Subtype: 'Widget', FT: 'Sig', Rect: [0, 0, 0, 0], V: signatureRef, T: PDFString.of('Seal'), F: 132, P: page.ref })
	);
	const annotations = page.node.Annots() ?? (context.obj([]) as PDFArray);
	annotations.push(widget);
	page.node.set(PDFName.of('Annots'), annotations);
	document.catalog.set(PDFName.of('AcroForm'), context.obj({ SigFlags: 3, Fields: [widget] }));
	document.catalog.set(PDFName.of('Perms'), context.obj({ DocMDP: signatureRef }));

	const bytes = Buffer.from(await document.save({ useObjectStreams: false, updateFieldAppearances: false }));
	const at = onlyPlaceOf(bytes, marker) - 1;
	const end = at + 2 + contentsBytes * 2;
	const range = [0, at, end, bytes.length - end];
	const placeholder = `0 ${rangeMarks.join(' ')}`;
	const rangeAt = onlyPlaceOf(bytes, placeholder);
	bytes.write(range.join(' ').padEnd(placeholder.length, ' '), rangeAt, 'latin1');

	const signed = Buffer.concat([bytes.subarray(0, at), bytes.subarray(end)]);
	const cms = await detachedSignature(signed, key, stamp);
	if (cms.length > contentsBytes) throw new Error('the signature does not fit its place');
	bytes.write(cms.toString('hex').padEnd(contentsBytes * 2, '0'), at + 1, 'latin1');
	return bytes;
}

function onlyPlaceOf(bytes: Buffer, text: string): number {
	const at = bytes.indexOf(text, 0, 'latin1');
	if (at < 0 || bytes.indexOf(text, at + 1, 'latin1') >= 0) throw new Error('the place for the seal is not unique');
	return at;
}

async function detachedSignature(
	content: Uint8Array,
	key: { leafPem: string; leafKey: Uint8Array },
	stamp: ((signature: Uint8Array) => Promise<Uint8Array | null>) | null
): Promise<Buffer> {
	const certificateBytes = new Uint8Array(new X509Certificate(key.leafPem).raw);
	const certificate = pkijs.Certificate.fromBER(certificateBytes);
	const privateKey = await crypto.subtle.importKey('pkcs8', key.leafKey as BufferSource, { name: 'ECDSA', namedCurve: 'P-256' }, false, ['sign']);
	const digest = createHash('sha256').update(content).digest();
	const certificateDigest = createHash('sha256').update(certificateBytes).digest();

	const attributes = [
		new pkijs.Attribute({ type: OID.contentType, values: [new asn1js.ObjectIdentifier({ value: OID.data })] }),
		new pkijs.Attribute({ type: OID.messageDigest, values: [new asn1js.OctetString({ valueHex: exactBuffer(digest) })] }),
		new pkijs.Attribute({
			type: OID.signingCertificateV2,
			// SigningCertificateV2 with one ESSCertIDv2; SHA-256 is the default hash and left out (RFC 5035)
			values: [
				new asn1js.Sequence({
					value: [
						new asn1js.Sequence({ value: [new asn1js.Sequence({ value: [new asn1js.OctetString({ valueHex: exactBuffer(certificateDigest) })] })] })
					]
				})
			]
		})
	].sort((a, b) => Buffer.compare(der(a), der(b)));

	const signedData = new pkijs.SignedData({
		version: 1,
		encapContentInfo: new pkijs.EncapsulatedContentInfo({ eContentType: OID.data }),
		certificates: [certificate],
		signerInfos: [
			new pkijs.SignerInfo({
				version: 1,
				sid: new pkijs.IssuerAndSerialNumber({ issuer: certificate.issuer, serialNumber: certificate.serialNumber }),
				signedAttrs: new pkijs.SignedAndUnsignedAttributes({ type: 0, attributes })
			})
		]
	});
	await signedData.sign(privateKey, 0, 'SHA-256', exactBuffer(content));
	const token = await stamp?.(signedData.signerInfos[0].signature.valueBlock.valueHexView);
	if (token) {
		const values = [asn1js.fromBER(exactBuffer(token)).result];
		signedData.signerInfos[0].unsignedAttrs = new pkijs.SignedAndUnsignedAttributes({
			type: 1,
			attributes: [new pkijs.Attribute({ type: OID.timeStampToken, values })]
		});
	}
	const info = new pkijs.ContentInfo({ contentType: OID.signedData, content: signedData.toSchema(true) });
	return Buffer.from(info.toSchema().toBER(false));
}

function der(attribute: pkijs.Attribute): Buffer {
	return Buffer.from(attribute.toSchema().toBER(false));
}

export type SealFinding =
	{ ok: true; leafPem: string; /** the instant of its time stamp; null without one */ stampedAt: string | null } | { ok: false; why: string };

/**
 * Says whether a file is sealed by one of the given certificates and is, to the last byte, what was
 * sealed. Looks also where `pdfsig` does not: spelling and padding of /Contents, what follows the
 * covered range, extra attributes, more than one seal.
 */
export async function checkSeal(file: Uint8Array, pinnedLeafPems: readonly string[]): Promise<SealFinding> {
	const no = (why: string): SealFinding => ({ ok: false, why });
	try {
		const bytes = Buffer.from(file);
		const text = bytes.toString('latin1');
		if (!text.startsWith('%PDF-')) return no('this is not a PDF');
		const ranges = [...text.matchAll(/\/ByteRange \[ ?(\d+) (\d+) (\d+) (\d+) *\]/g)];
		if (ranges.length !== 1) return no('it does not hold exactly one seal');
		const [start, at, end, tail] = ranges[0].slice(1).map(Number);
		if (start !== 0 || end + tail !== bytes.length || !Object.values(CONTENTS_BYTES).includes((end - at - 2) / 2))
			return no('the seal does not cover the whole file');
		if (bytes[at] !== 0x3c || bytes[end - 1] !== 0x3e) return no('the seal is not where it says');
		const hex = text.slice(at + 1, end - 1);
		if (!/^[0-9a-f]+$/.test(hex)) return no('the seal is not spelled as we spell it');
		const padded = Buffer.from(hex, 'hex');
		const length = derLength(padded);
		if (padded.subarray(length).some((byte) => byte !== 0)) return no('something was written behind the seal');

		const cms = padded.subarray(0, length);
		const info = pkijs.ContentInfo.fromBER(exactBuffer(cms));
		const signedData = new pkijs.SignedData({ schema: info.content });
		const again = Buffer.from(
			new pkijs.ContentInfo({ contentType: OID.signedData, content: new pkijs.SignedData({ schema: info.content }).toSchema() })
				.toSchema()
				.toBER(false)
		);
		if (info.contentType !== OID.signedData || !again.equals(cms)) return no('the seal is not in its one canonical form');
		if (signedData.signerInfos.length !== 1 || signedData.certificates?.length !== 1) return no('the seal names more than one signer');
		const certificate = Buffer.from((signedData.certificates[0] as pkijs.Certificate).toSchema().toBER(false));
		const leafPem = pinnedLeafPems.find((pem) => new X509Certificate(pem).raw.equals(certificate));
		if (!leafPem) return no('it was sealed by somebody else');
		const signer = signedData.signerInfos[0];
		if (!isAsWeMakeIt(signedData, signer)) return no('the seal says other things than ours do');
		const content = Buffer.concat([bytes.subarray(0, at), bytes.subarray(end)]);
		const good = await signedData.verify({ signer: 0, data: exactBuffer(content), checkChain: false });
		if (!good) return no('the file was changed after it was sealed');
		const token = tokenOf(signer);
		const stamp = token && (await readTimeStamp(token, signer.signature.valueBlock.valueHexView));
		if (token && !stamp) return no('its time stamp belongs to something else');
		return { ok: true, leafPem, stampedAt: stamp ? stamp.at : null };
	} catch {
		return no('the seal cannot be read');
	}
}

/** The parts of a seal that its own signature does not cover must be exactly what we write. */
function isAsWeMakeIt(signedData: pkijs.SignedData, signer: pkijs.SignerInfo): boolean {
	const certificate = signedData.certificates![0] as pkijs.Certificate;
	const sid = signer.sid as pkijs.IssuerAndSerialNumber;
	const types = signer.signedAttrs?.attributes.map((attribute) => attribute.type).sort();
	return (
		signedData.version === 1 &&
		signedData.crls === undefined &&
		signedData.encapContentInfo.eContentType === OID.data &&
		signedData.encapContentInfo.eContent === undefined &&
		signedData.digestAlgorithms.length === 1 &&
		isPlain(signedData.digestAlgorithms[0], OID.sha256) &&
		signer.version === 1 &&
		isPlain(signer.digestAlgorithm, OID.sha256) &&
		isPlain(signer.signatureAlgorithm, OID.ecdsaWithSha256) &&
		sid instanceof pkijs.IssuerAndSerialNumber &&
		sid.issuer.isEqual(certificate.issuer) &&
		sid.serialNumber.isEqual(certificate.serialNumber) &&
		(signer.unsignedAttrs === undefined || tokenOf(signer) !== null) &&
		isOneSpelling(Buffer.from(signer.signature.valueBlock.valueHexView)) &&
		JSON.stringify(types) === JSON.stringify([OID.contentType, OID.messageDigest, OID.signingCertificateV2].sort())
	);
}

/** The time stamp of a seal, in DER, if that is all that was added to it; null otherwise. */
function tokenOf(signer: pkijs.SignerInfo): Buffer | null {
	const [attribute, ...more] = signer.unsignedAttrs?.attributes ?? [];
	if (!attribute || more.length > 0 || attribute.type !== OID.timeStampToken || attribute.values.length !== 1) return null;
	return Buffer.from((attribute.values[0] as asn1js.Sequence).toBER(false));
}

/** An algorithm without parameters, or with NULL for them. */
function isPlain(algorithm: pkijs.AlgorithmIdentifier, id: string): boolean {
	const parameters = algorithm.algorithmParams as { toBER?(sizeOnly: boolean): ArrayBuffer } | undefined;
	return algorithm.algorithmId === id && (!parameters?.toBER || Buffer.from(parameters.toBER(false)).equals(Buffer.from([5, 0])));
}

/** Whole length of the DER value at the beginning of a buffer (ITU-T X.690, 8.1.3). */
function derLength(bytes: Buffer): number {
	const first = bytes[1];
	if (first < 0x80) return 2 + first;
	const count = first & 0x7f;
	return 2 + count + bytes.readUIntBE(2, count);
}
