import { Resolver } from 'node:dns/promises';

/** Whether mail for a domain goes anywhere; 'unknown' while nobody can say. */
export type TakesMail = 'yes' | 'no' | 'unknown';

export interface MailDomains {
	/** @param domain what stands behind the @ */
	takesMail(domain: string): Promise<TakesMail>;
}

const KEPT = 2000;
const KEPT_MS = 3600_000;

/** The part of a resolver that is asked. */
export type Lookups = Pick<Resolver, 'resolveMx' | 'resolve4' | 'resolve6'>;

/**
 * Asks the domain name system: a mail exchanger, or else an address of the domain itself (RFC 5321, 5.1); a null
 * exchanger says that it takes none (RFC 7505). Answers are kept for an hour.
 */
export function dnsMailDomains(resolver: Lookups = new Resolver({ timeout: 1500, tries: 1 }), wallNow: () => number = Date.now): MailDomains {
	const known = new Map<string, { answer: TakesMail; until: number }>();
	const code = (error: unknown) => (error as { code?: string }).code;

	async function ask(domain: string): Promise<TakesMail> {
		try {
			const exchangers = await resolver.resolveMx(domain);
			if (exchangers.length > 0) return exchangers.every(({ exchange }) => exchange === '' || exchange === '.') ? 'no' : 'yes';
		} catch (error) {
			if (code(error) === 'ENOTFOUND') return 'no';
			if (code(error) !== 'ENODATA') return 'unknown';
		}
		for (const lookUp of [() => resolver.resolve4(domain), () => resolver.resolve6(domain)])
			try {
				if ((await lookUp()).length > 0) return 'yes';
			} catch (error) {
				if (!['ENODATA', 'ENOTFOUND'].includes(code(error) ?? '')) return 'unknown';
			}
		return 'no';
	}

	return {
		async takesMail(domain) {
			const name = domain.toLowerCase();
			const kept = known.get(name);
			if (kept && kept.until > wallNow()) return kept.answer;
			const answer = await ask(name);
			if (answer === 'unknown') return answer;
			if (known.size >= KEPT) known.clear();
			known.set(name, { answer, until: wallNow() + KEPT_MS });
			return answer;
		}
	};
}

/** For the demo and the tests, where nothing is asked outside: domains that begin with `no-mail.` or end in `.invalid` take no mail. */
export const standinMailDomains: MailDomains = {
	takesMail: async (domain) => (/^no-mail\.|\.invalid$/i.test(domain) ? 'no' : 'yes')
};
