import { browserSupportsWebAuthn, startAuthentication, startRegistration } from '@simplewebauthn/browser';
import type { PublicKeyCredentialCreationOptionsJSON, PublicKeyCredentialRequestOptionsJSON } from '@simplewebauthn/browser';

export interface Asked<Options> {
	challengeId: string;
	options: Options;
}

export const canUsePasskeys = browserSupportsWebAuthn;

/** Asks the browser for a passkey; null if the person left, or it has none. */
export async function answerWithPasskey(asked: Asked<PublicKeyCredentialRequestOptionsJSON>): Promise<string | null> {
	const answer = await startAuthentication({ optionsJSON: asked.options }).catch(() => null);
	return answer && JSON.stringify(answer);
}

/** Has the browser make a passkey; null if the person left, or it cannot. */
export async function makePasskey(asked: Asked<PublicKeyCredentialCreationOptionsJSON>): Promise<string | null> {
	const answer = await startRegistration({ optionsJSON: asked.options }).catch(() => null);
	return answer && JSON.stringify(answer);
}
