import { createHash } from 'node:crypto';
import type pg from 'pg';
import { RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible';
import { DomainError } from '$lib/core/errors/domain-error';
import { saying } from '$lib/words/sayings';

export interface RateLimits {
	/**
	 * Counts one try to sign in; refuses when there were too many for the account from that network, for the account from anywhere, or from
	 * that address. Tries of a device the account was entered with before are counted by themselves: strangers do not shut its owner out.
	 */
	signInTry(account: string, ip: string, knownDevice?: string): Promise<void>;
	/** Forgets the failures of an account after it was entered rightly. */
	signInSucceeded(account: string, ip: string, knownDevice?: string): Promise<void>;
	/** The same for a code, or the own password, of a person who has taken the first step. */
	codeTry(who: string, ip: string, knownDevice?: string): Promise<void>;
	codeSucceeded(who: string, ip: string, knownDevice?: string): Promise<void>;
	/** Counts one question for a passkey by somebody who is not signed in: each leaves something behind for a while. */
	passkeyAsked(ip: string): Promise<void>;
	/** Counts one request for a reset link. */
	resetTry(account: string, ip: string): Promise<void>;
	/** Counts one opening of a public page, from a network. */
	publicPageOpened(ip: string): Promise<void>;
	/** Counts one look for a sealed file by its digest, from a network. */
	fileChecked(ip: string): Promise<void>;
	/** Counts what somebody sends to a public page: from their network, and to this page from anywhere. */
	publicAnswer(page: string, ip: string): Promise<void>;
	/** Counts one reading of somebody's calendar of what is due, from anywhere. */
	calendarRead(staffId: string): Promise<void>;
	/** Counts one file that somebody adds to what they sent, from their network. */
	publicFile(ip: string): Promise<void>;
	/** Counts one code that is mailed to an address because somebody unknown gave it. */
	answerCode(email: string, ip: string): Promise<void>;
}

/**
 * The network an address belongs to, as far as one household or office goes: the first three numbers of an IPv4 address, the first
 * 64 bits of an IPv6 one (RFC 6177).
 */
export function networkOf(ip: string): string {
	const four = /(?:^|:)(\d{1,3}\.\d{1,3}\.\d{1,3})\.\d{1,3}$/.exec(ip);
	if (four) return four[1];
	const [before, after] = ip.toLowerCase().split('%')[0].split('::');
	const groups = before.split(':').filter(Boolean);
	if (after !== undefined) groups.push(...Array<string>(Math.max(0, 8 - groups.length - after.split(':').filter(Boolean).length)).fill('0'));
	return groups
		.slice(0, 4)
		.map((group) => group.replace(/^0+(?=.)/, ''))
		.join(':');
}

/** What is counted, by a name that fits its column: whatever somebody types is counted, however long it is. */
function keyOf(what: string): string {
	const key = what.toLowerCase();
	return key.length <= 180 ? key : createHash('sha256').update(key).digest('hex');
}

/** Limits kept in the database, so that they hold over all processes. */
export function openRateLimits(pool: pg.Pool, perAddress = { signIn: 60, reset: 20, passkey: 120, page: 300, answer: 20, check: 60 }): RateLimits {
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
	const signInFromAnywhere = limiter('sign_in_anywhere', 80, 15);
	const signInByIp = limiter('sign_in_ip', perAddress.signIn, 15);
	const codeByPerson = limiter('code_person', 10, 15);
	const codeFromAnywhere = limiter('code_anywhere', 40, 15);
	const passkeyByNetwork = limiter('passkey_network', perAddress.passkey, 15);
	const resetByAccount = limiter('reset_account', 4, 60);
	const resetByIp = limiter('reset_ip', perAddress.reset, 60);

	const checksByNetwork = limiter('file_checked', perAddress.check, 15);
	const pagesByNetwork = limiter('public_page_network', perAddress.page, 15);
	const answersByNetwork = limiter('public_answer_network', perAddress.answer, 60);
	const answersFromAnywhere = limiter('public_answer_page', 500, 24 * 60);
	const filesByNetwork = limiter('public_file_network', 60, 60);
	const calendarsByReader = limiter('calendar_reader', 120, 15);
	const codesByNetwork = limiter('answer_code_network', 10, 60);
	const codesToAddress = limiter('answer_code_address', 3, 60);

	const consume = async (limiter: RateLimiterPostgres, key: string) => {
		try {
			await limiter.consume(keyOf(key));
		} catch (refused) {
			if (!(refused instanceof RateLimiterRes)) throw refused;
			const minutes = Math.max(1, Math.ceil(refused.msBeforeNext / 60_000));
			throw new DomainError('too_many', saying('wrong.tries', { minutes }));
		}
	};
	const tried = async (here: RateLimiterPostgres, anywhere: RateLimiterPostgres, who: string, ip: string, knownDevice?: string) => {
		await consume(signInByIp, ip);
		await consume(here, `${who} ${knownDevice ?? networkOf(ip)}`);
		if (!knownDevice) await consume(anywhere, who);
	};
	const succeeded = async (here: RateLimiterPostgres, anywhere: RateLimiterPostgres, who: string, ip: string, knownDevice?: string) => {
		await here.delete(keyOf(`${who} ${knownDevice ?? networkOf(ip)}`));
		await anywhere.delete(keyOf(who));
	};
	return {
		signInTry: (account, ip, knownDevice) => tried(signInByAccount, signInFromAnywhere, account, ip, knownDevice),
		signInSucceeded: (account, ip, knownDevice) => succeeded(signInByAccount, signInFromAnywhere, account, ip, knownDevice),
		codeTry: (who, ip, knownDevice) => tried(codeByPerson, codeFromAnywhere, who, ip, knownDevice),
		codeSucceeded: (who, ip, knownDevice) => succeeded(codeByPerson, codeFromAnywhere, who, ip, knownDevice),
		passkeyAsked: (ip) => consume(passkeyByNetwork, networkOf(ip)),
		async resetTry(account, ip) {
			await consume(resetByIp, ip);
			await consume(resetByAccount, account);
		},
		publicPageOpened: (ip) => consume(pagesByNetwork, networkOf(ip)),
		fileChecked: (ip) => consume(checksByNetwork, networkOf(ip)),
		async publicAnswer(page, ip) {
			await consume(answersByNetwork, networkOf(ip));
			await consume(answersFromAnywhere, page);
		},
		publicFile: (ip) => consume(filesByNetwork, networkOf(ip)),
		calendarRead: (staffId) => consume(calendarsByReader, staffId),
		async answerCode(email, ip) {
			await consume(codesByNetwork, networkOf(ip));
			await consume(codesToAddress, email);
		}
	};
}
