import { z } from 'zod';
import type { CheckQuestion } from '$lib/core/signing/identity-check';
import { boundedBytes } from '../bounded-answer';

/** Somebody who is to show who they are. */
export interface CheckedPerson {
	/** ours for this one time: asked again with the same, the service answers with the same questions, and counts it once */
	reference: string;
	name: string;
	email: string;
	/** E.164 */
	phone: string | null;
	/** in which the questions are asked (BCP 47) */
	language: string;
	/** of the firm (ISO 3166-1 alpha-2) */
	country: string;
}
export interface CheckTerms {
	/** what the service calls itself */
	service: string;
	/** for one check, in decimal notation; null if it costs nothing */
	price: { amount: string; currency: string } | null;
}
/** What the service asks; null if it knows too little of the person to ask anything. */
export type CheckBegun = { key: string; questions: CheckQuestion[] } | null;

/** Finds out by questions whether somebody is who they say. */
export interface IdentityCheckService {
	/** @throws IdentityServiceAway */
	terms(): Promise<CheckTerms>;
	/** @throws IdentityServiceAway */
	begin(person: CheckedPerson): Promise<CheckBegun>;
	/**
	 * Hands in what was answered; a check is answered once, and answered again it stays with its result.
	 * @param answers the choice by question
	 * @returns whether they are who they say, and how sure that is, of 100
	 * @throws IdentityServiceAway
	 */
	answer(key: string, answers: Readonly<Record<string, string>>): Promise<{ passed: boolean; score: number }>;
}

/** The service cannot be reached, or does not answer as agreed: nothing is known about the person. */
export class IdentityServiceAway extends Error {}

const key = z.string().regex(/^[\w.-]{1,80}$/);
const words = z.string().trim().min(1).max(300);
const differ = (of: readonly { key: string }[]) => new Set(of.map((one) => one.key)).size === of.length;
const questionSchema = z.object({ key, words, choices: z.array(z.object({ key, words })).min(2).max(10).refine(differ) });
const termsSchema = z.object({
	service: z.string().trim().min(1).max(80),
	price: z.object({ amount: z.string().regex(/^\d{1,6}(\.\d{1,2})?$/), currency: z.string().regex(/^[A-Z]{3}$/) }).nullable()
});
const begunSchema = z.object({ check: key, questions: z.array(questionSchema).min(1).max(10).refine(differ) });
const resultSchema = z.object({ passed: z.boolean(), score: z.number().int().min(0).max(100) });

const SECONDS = 15;
/** No answer of such a service is longer. */
const MOST_BYTES = 64_000;

/**
 * Speaks to such a service over HTTP, with a bearer key and JSON (docs/running.md says how): `GET {url}/terms`, `POST {url}/checks` and
 * `POST {url}/checks/{check}/answers`.
 */
export function httpIdentityCheckService(given: { url: string; key: string }): IdentityCheckService {
	async function ask<T>(path: string, schema: z.ZodType<T>, body?: object): Promise<{ status: 'ok'; said: T } | { status: 'unknown' }> {
		try {
			const response = await fetch(`${given.url.replace(/\/$/, '')}${path}`, {
				method: body ? 'POST' : 'GET',
				headers: { authorization: `Bearer ${given.key}`, ...(body ? { 'content-type': 'application/json' } : {}) },
				...(body ? { body: JSON.stringify(body) } : {}),
				redirect: 'error',
				signal: AbortSignal.timeout(SECONDS * 1000)
			});
			if (response.status === 422) {
				await response.body?.cancel();
				return { status: 'unknown' };
			}
			if (!response.ok) throw new Error(`it answered ${response.status}`);
			return { status: 'ok', said: schema.parse(JSON.parse((await boundedBytes(response, MOST_BYTES)).toString('utf8'))) };
		} catch (error) {
			throw new IdentityServiceAway('the identity check service does not answer as agreed', { cause: error });
		}
	}
	async function expect<T>(...asked: [path: string, schema: z.ZodType<T>, body?: object]): Promise<T> {
		const answer = await ask(...asked);
		if (answer.status === 'ok') return answer.said;
		throw new IdentityServiceAway('the identity check service refused what it was asked');
	}
	return {
		terms: () => expect('/terms', termsSchema),
		async begin(person) {
			const begun = await ask('/checks', begunSchema, person);
			return begun.status === 'ok' ? { key: begun.said.check, questions: begun.said.questions } : null;
		},
		answer: (check, answers) => expect(`/checks/${encodeURIComponent(check)}/answers`, resultSchema, { answers })
	};
}
