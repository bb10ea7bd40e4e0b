import type { Page } from '@playwright/test';
import { awake, expect, signInAtDesk, typeIn } from './product';

/** The path of the link in a message by which somebody signs. */
export const linkIn = (text: string) => new URL(/https?:\S+\/sign\/[\w-]{43}/.exec(text)![0]).pathname;
/** The code in a message that opens a letter. */
export const codeIn = (text: string) => /\b(\d{4} \d{4})\b/.exec(text)![1];

/** Adds a client whose one person, Ines Brandt, has no access, and begins to write them an engagement letter. @returns the client's address */
export async function beginLetterToNewClient(page: Page): Promise<string> {
	await signInAtDesk(page);
	await page.goto('/desk/clients/new');
	await awake(page);
	await typeIn(page.getByLabel('Name of the client'), 'Ninth Rock Oysters');
	await typeIn(page.getByLabel('Name', { exact: true }).first(), 'Ines Brandt');
	await typeIn(page.getByLabel('E-mail address').first(), 'ines@ninthrock.example');
	await page.getByRole('button', { name: 'Add the client' }).click();
	await page.waitForURL(/clients\/[0-9a-f-]{36}$/);
	const client = page.url();
	await page.getByRole('link', { name: 'Ask for something' }).click();
	await page.getByText('Taking on a company', { exact: true }).click();
	await awake(page);
	await typeIn(page.getByLabel('Start date'), '1 June 2026');
	await typeIn(page.getByLabel('Services'), 'the monthly books');
	await typeIn(page.getByLabel('Monthly fee'), '$280');
	await page.getByText('Engagement letter', { exact: true }).first().click();
	await page.getByRole('button', { name: 'Change who signs' }).click();
	return client;
}

/** Reads the letter that is open to its end and signs it. */
export async function signOpenLetter(mobile: Page): Promise<void> {
	await mobile.getByRole('checkbox').check();
	await mobile.getByRole('button', { name: 'Sign the letter' }).scrollIntoViewIfNeeded();
	await expect(mobile.getByText('You have reached the end of the letter.')).toBeVisible();
	await mobile.getByRole('button', { name: 'Sign the letter' }).click();
	await expect(mobile.getByText(/^You signed this letter on Monday 4 May/)).toBeVisible();
}
