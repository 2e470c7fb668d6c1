import { it } from 'vitest';
import { openConsole } from '../setup/console.js';

it('x', async () => {
  const { page, service, close } = await openConsole();
  page.setDefaultTimeout(8000);
  await page.setViewportSize({ width: 1280, height: 800 });
  const text = () => page.getByRole('textbox', { name: 'The same as text' });
  const pol = async () => (await service.call('GET', '/api/objects/policy/ticket-site')).body;
  const put = async (f: (t: string) => string) => {
    const p = await pol();
    const r = await service.call(
      'PUT',
      '/api/objects/policy/ticket-site',
      { text: f(p.text) },
      { 'if-match': `"${p.version}"` },
    );
    console.log(r.status, JSON.stringify(r.body.issues ?? ''));
  };
  await page.goto(`${service.url}/policies/ticket-site?edit=old-booking-calls`);
  await text().waitFor();
  await text().fill((await text().inputValue()).replace('count before closing', 'count it'));
  await put((t) => t.replace('count before closing', 'theirs'));
  await page.getByText('changed this rule while').waitFor({ timeout: 20000 });
  await page.screenshot({ path: '/tmp/s1.png' });
  await page.getByRole('button', { name: 'Keep mine in its place' }).click();
  await put((t) => t.replace('They take the whole', 'By a colleague, they take the'));
  await page.getByRole('button', { name: 'Keep in the draft' }).click();
  await page.waitForTimeout(2500);
  await page.screenshot({ path: '/tmp/s2.png' });
  await close();
});
