import { existsSync } from 'node:fs';
import { type Browser, chromium, type Page } from 'playwright-core';

const FLAGS = [
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];

/** Debian's Chromium without windows, with more flags if there are any. It refuses its sandbox to root. */
export function launchBrowser(...more: readonly string[]): Promise<Browser> {
  const executablePath =
    process.env.CHROMIUM ??
    ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium'].find((path) => existsSync(path)) ??
    'chromium-headless-shell';
  const root = process.getuid?.() === 0;
  return chromium.launch({ executablePath, args: [...(root ? ['--no-sandbox'] : []), ...FLAGS, ...more] });
}

/** A page, and what it complained of: errors of scripts, and refusals by the content policy. */
export async function openPage(browser: Browser): Promise<{ page: Page; complaints: string[] }> {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: 'light' });
  const complaints: string[] = [];
  page.on('pageerror', (error) => complaints.push(error.message));
  page.on('console', (message) => {
    // Asking for the workspace before signing in is answered with 401, which the browser writes down by itself.
    if (message.type() === 'error' && !message.text().includes('401')) complaints.push(message.text());
  });
  return { page, complaints };
}
