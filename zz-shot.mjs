import { chromium } from 'playwright-core';
const steps = (await import(process.argv[2])).default;
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium-headless-shell' });
export async function desk(who, width = 1280, height = 800) {
  const ctx = await browser.newContext({ viewport: { width, height } });
  const page = await ctx.newPage();
  page.on('pageerror', e => console.log('PAGEERROR', e.message));
  page.on('console', m => m.type() === 'error' && console.log('CONSOLE', m.text()));
  await page.goto('http://localhost:3000/desk/sign-in');
  await page.getByLabel('E-mail').fill(`${who}@pennywhistle.example`);
  await page.getByLabel('Password', { exact: true }).fill('lamplight ledger harbour');
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await page.waitForURL(/desk\/(rounds|clients|you)/);
  return page;
}
export async function portal(width = 390, height = 844) {
  const ctx = await browser.newContext({ viewport: { width, height } });
  const page = await ctx.newPage();
  page.on('pageerror', e => console.log('PAGEERROR', e.message));
  page.on('console', m => m.type() === 'error' && console.log('CONSOLE', m.text()));
  await page.goto('http://localhost:3000/portal/pennywhistle-row/sign-in');
  await page.getByLabel('E-mail').fill('mara@gullstring.example');
  await page.getByLabel('Password', { exact: true }).fill('kites above the harbour');
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
  await page.waitForURL(/portal\/pennywhistle-row$/);
  return page;
}
export const awake = (page) => page.waitForFunction(() => document.documentElement.dataset.live === 'yes');
await steps({ desk, portal, awake });
await browser.close();
