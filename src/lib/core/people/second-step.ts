import { z } from 'zod';

/** A sign-in that has passed its first step waits this long for the second. */
export const SIGN_IN_STEP_MINUTES = 10;
/** Wrong codes after which the first step has to be done again. */
export const SIGN_IN_STEP_TRIES = 5;
/** A device that is to be remembered is not asked for the second step for so many days. */
export const TRUST_DAYS = 30;
/** Time steps (of 30 seconds, RFC 6238) before and after the present one whose codes are taken: clocks differ. */
export const TOTP_WINDOW = 1;
export const TOTP_PERIOD_SECONDS = 30;
export const RECOVERY_CODES = 10;
/** Devices whose tokens one browser keeps, for people who share it. */
export const DEVICES_IN_COOKIE = 4;

/** Letters and digits that are not taken for one another, also when read aloud. */
export const RECOVERY_ALPHABET = 'abcdefghjkmnpqrstuvwxyz23456789';

/** A recovery code as it is compared: without case, spaces and hyphens; null if it cannot be one. */
export function bareRecoveryCode(typed: string): string | null {
	const bare = typed.toLowerCase().replace(/[\s-]/g, '');
	return bare.length === 12 && [...bare].every((sign) => RECOVERY_ALPHABET.includes(sign)) ? bare : null;
}

/** A recovery code as it is shown: in groups of four. */
export function recoveryCodeInWords(bare: string): string {
	return bare.replace(/(.{4})(?=.)/g, '$1-');
}

/**
 * Whether a time step may be taken: within the window around now, and newer than the last one taken, so that a code
 * that was seen over a shoulder is worth nothing.
 */
export function mayTakeTotpStep(step: number, nowStep: number, lastStep: number): boolean {
	return Math.abs(step - nowStep) <= TOTP_WINDOW && step > lastStep;
}

/** Six digits, as people type them. */
export const totpSchema = z
	.string()
	.transform((text) => text.replace(/\D/g, ''))
	.pipe(z.string().regex(/^\d{6}$/, 'wrong.code.form'));

/** The code that comes by mail or text: eight digits. */
export const mailedCodeSchema = z
	.string()
	.transform((text) => text.replace(/\D/g, ''))
	.pipe(z.string().regex(/^\d{8}$/, 'wrong.code.form'));

/** Second steps a person has set up. */
export interface SecondSteps {
	authenticator: boolean;
	passkeys: number;
	/** codes go to a phone */
	text: boolean;
}

export const hasSecondStep = (has: SecondSteps) => has.authenticator || has.text || has.passkeys > 0;

/** What happens after the first step of a sign-in. */
export type AfterFirstStep = 'ask' | 'set_up' | 'in';

/**
 * What follows the first step: somebody who has a second one is asked for it, unless the device is trusted; somebody
 * who must have one and has none sets it up before anything else.
 */
export function afterFirstStep(has: SecondSteps, required: boolean, trustedDevice: boolean): AfterFirstStep {
	if (hasSecondStep(has)) return trustedDevice ? 'in' : 'ask';
	return required ? 'set_up' : 'in';
}

export const passkeyNameSchema = z.string().trim().min(1).max(60).catch('Passkey');
