import type pg from 'pg';
import { RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible';
import { DomainError } from '$lib/core/errors/domain-error';
import { saying } from '$lib/words/sayings';

export interface RateLimits {
	/** Counts one try to sign in; refuses when the account or the network address had too many. */
	signInTry(account: string, ip: string): Promise<void>;
	/** Forgets the failures of an account after it was entered rightly. */
	signInSucceeded(account: string): Promise<void>;
	/** Counts one try of a code or of the own password by a person who has taken the first step. */
	codeTry(personId: string, ip: string): Promise<void>;
	codeSucceeded(personId: string): Promise<void>;
	/** Counts one request for a reset link. */
	resetTry(account: string, ip: string): Promise<void>;
}

/** Limits kept in the database, so that they hold over all processes. */
export function openRateLimits(pool: pg.Pool, perAddress = { signIn: 60, reset: 20 }): RateLimits {
	const limiter = (keyPrefix: string, points: number, minutes: number) =>
		new RateLimiterPostgres({
			storeClient: pool,
			storeType: 'pool',
			tableName: 'rate_limit',
			tableCreated: true,
			keyPrefix,
			points,
			duration: minutes * 60
		});
	const signInByAccount = limiter('sign_in_account', 8, 15);
	const signInByIp = limiter('sign_in_ip', perAddress.signIn, 15);
	const codeByPerson = limiter('code_person', 10, 15);
	const resetByAccount = limiter('reset_account', 4, 60);
	const resetByIp = limiter('reset_ip', perAddress.reset, 60);

	const consume = async (limiter: RateLimiterPostgres, key: string) => {
		try {
			await limiter.consume(key.toLowerCase());
		} catch (refused) {
			if (!(refused instanceof RateLimiterRes)) throw refused;
			const minutes = Math.max(1, Math.ceil(refused.msBeforeNext / 60_000));
			throw new DomainError('too_many', saying('wrong.tries', { minutes }));
		}
	};
	return {
		async signInTry(account, ip) {
			await consume(signInByIp, ip);
			await consume(signInByAccount, account);
		},
		async signInSucceeded(account) {
			await signInByAccount.delete(account.toLowerCase());
		},
		async codeTry(personId, ip) {
			await consume(signInByIp, ip);
			await consume(codeByPerson, personId);
		},
		async codeSucceeded(personId) {
			await codeByPerson.delete(personId.toLowerCase());
		},
		async resetTry(account, ip) {
			await consume(resetByIp, ip);
			await consume(resetByAccount, account);
		}
	};
}
