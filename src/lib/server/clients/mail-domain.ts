import { DomainError } from '$lib/core/errors/domain-error';
import type { MailDomains } from '../platform/mail/mail-domains';

/** The domain of an address, if it surely takes no mail; null otherwise, and while nobody can say. */
export async function domainWithoutMail(domains: MailDomains, email: string): Promise<string | null> {
	const domain = email.slice(email.lastIndexOf('@') + 1);
	return (await domains.takesMail(domain)) === 'no' ? domain : null;
}

/**
 * @param anyway the person was told, and keeps the address all the same
 * @throws DomainError invalid, with `anyway` among its fields, if no mail goes there
 */
export async function requireMailDomain(domains: MailDomains, email: string, anyway: boolean): Promise<void> {
	const domain = anyway ? null : await domainWithoutMail(domains, email);
	if (domain)
		throw new DomainError('invalid', `No mail server takes mail for ${domain}. Is the address written right?`, {
			email: 'Look at it once more.',
			anyway: 'yes'
		});
}
