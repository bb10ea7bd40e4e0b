/** The languages the portal and the messages speak, each as its readers call it (BCP 47). */
export const LANGUAGES = { en: 'English', fr: 'français' } as const;
export type Language = keyof typeof LANGUAGES;
export const LANGUAGE_CODES = Object.keys(LANGUAGES) as Language[];

/**
 * The language a browser would rather read, of those the product speaks: the header Accept-Language (RFC 9110, 12.5.4),
 * by its weights, the primary subtag alone.
 */
export function languageOfBrowser(acceptLanguage: string | null): Language | null {
	const wanted = (acceptLanguage ?? '')
		.slice(0, 500)
		.split(',')
		.map((part) => {
			const [tag, ...parameters] = part.trim().toLowerCase().split(';');
			const weight = parameters.map((parameter) => /^\s*q=([01](?:\.\d{0,3})?)\s*$/.exec(parameter)?.[1]).find(Boolean);
			return { language: tag.split('-')[0], weight: weight === undefined ? 1 : Number(weight) };
		})
		.filter(({ language, weight }) => weight > 0 && (LANGUAGE_CODES as string[]).includes(language))
		.sort((a, b) => b.weight - a.weight);
	return (wanted[0]?.language as Language) ?? null;
}
