import { X509Certificate } from 'node:crypto';
import * as asn1js from 'asn1js';
import * as pkijs from 'pkijs';
import { crypto } from '../pki';

const ALGORITHM = { name: 'ECDSA', namedCurve: 'P-256' } as const;

export interface SealCertificates {
	rootPem: string;
	leafPem: string;
	/** PKCS #8, DER */
	leafKey: Uint8Array;
}

/**
 * Makes a firm's own root and the certificate under it that seals letters (ECDSA P-256, X.509 v3, valid
 * for 10 years). The root's key is thrown away: it never signs anything else.
 * @param serials two random numbers of 16 bytes
 */
export async function makeSealCertificates(firmName: string, notBefore: Date): Promise<SealCertificates> {
	const rootKeys = (await crypto.subtle.generateKey(ALGORITHM, true, ['sign', 'verify'])) as CryptoKeyPair;
	const leafKeys = (await crypto.subtle.generateKey(ALGORITHM, true, ['sign', 'verify'])) as CryptoKeyPair;
	const rootName = name(`${firmName} Root`, firmName);
	const root = await certificate(rootName, rootName, rootKeys.publicKey, rootKeys, notBefore, true);
	const leaf = await certificate(name(`${firmName} Letters`, firmName), rootName, leafKeys.publicKey, rootKeys, notBefore, false);
	return {
		rootPem: pem(root),
		leafPem: pem(leaf),
		leafKey: new Uint8Array(await crypto.subtle.exportKey('pkcs8', leafKeys.privateKey))
	};
}

type NameParts = [type: string, value: string][];
function name(commonName: string, organisation: string): NameParts {
	return [
		['2.5.4.10', organisation.slice(0, 64)],
		['2.5.4.3', commonName.slice(0, 64)]
	];
}

/** A distinguished name as a sequence of single RDNs, which every reader understands. */
function distinguishedName(parts: NameParts): pkijs.RelativeDistinguishedNames {
	const sequence = new asn1js.Sequence({
		value: parts.map(
			([type, value]) =>
				new asn1js.Set({
					value: [new asn1js.Sequence({ value: [new asn1js.ObjectIdentifier({ value: type }), new asn1js.Utf8String({ value })] })]
				})
		)
	});
	return new pkijs.RelativeDistinguishedNames({ schema: sequence });
}

async function certificate(
	subject: NameParts,
	issuer: NameParts,
	publicKey: CryptoKey,
	issuerKeys: CryptoKeyPair,
	notBefore: Date,
	isRoot: boolean
): Promise<pkijs.Certificate> {
	const made = new pkijs.Certificate();
	made.version = 2;
	const serial = crypto.getRandomValues(new Uint8Array(16));
	serial[0] = (serial[0] & 0x7f) | 0x40;
	made.serialNumber = new asn1js.Integer({ valueHex: serial.buffer });
	made.subject = distinguishedName(subject);
	made.issuer = distinguishedName(issuer);
	const notAfter = new Date(notBefore);
	notAfter.setUTCFullYear(notAfter.getUTCFullYear() + 10);
	made.notBefore = new pkijs.Time({ type: 0, value: notBefore });
	made.notAfter = new pkijs.Time({ type: 0, value: notAfter });
	await made.subjectPublicKeyInfo.importKey(publicKey);
	const keyUsage = isRoot ? new Uint8Array([0x06]) : new Uint8Array([0xc0]);
	made.extensions = [
		new pkijs.Extension({
			extnID: '2.5.29.19',
			critical: true,
			extnValue: new pkijs.BasicConstraints(isRoot ? { cA: true, pathLenConstraint: 0 } : {}).toSchema().toBER(false)
		}),
		new pkijs.Extension({
			extnID: '2.5.29.15',
			critical: true,
			extnValue: new asn1js.BitString({ valueHex: keyUsage.buffer, unusedBits: isRoot ? 1 : 6 }).toBER(false)
		}),
		new pkijs.Extension({
			extnID: '2.5.29.14',
			extnValue: new asn1js.OctetString({ valueHex: await keyId(publicKey) }).toBER(false)
		}),
		new pkijs.Extension({
			extnID: '2.5.29.35',
			extnValue: new pkijs.AuthorityKeyIdentifier({ keyIdentifier: new asn1js.OctetString({ valueHex: await keyId(issuerKeys.publicKey) }) })
				.toSchema()
				.toBER(false)
		})
	];
	await made.sign(issuerKeys.privateKey, 'SHA-256');
	return made;
}

async function keyId(key: CryptoKey): Promise<ArrayBuffer> {
	return crypto.subtle.digest('SHA-1', await crypto.subtle.exportKey('raw', key));
}

function pem(made: pkijs.Certificate): string {
	return new X509Certificate(Buffer.from(made.toSchema(true).toBER(false))).toString();
}
