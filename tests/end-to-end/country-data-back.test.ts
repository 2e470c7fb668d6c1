import { afterAll, beforeAll, expect, it } from 'vitest';
import { startService, type TestService } from '../setup/service.js';

/** Country data belongs to a revision as its objects do. */
let service: TestService;
beforeAll(async () => {
  service = await startService();
  await service.call('PUT', '/api/v1/workspace', {
    files: [{ name: 'p.yaml', text: 'policy: p\ncovers: {hosts: [a.example]}\ndefault: allow\n' }],
  });
});
afterAll(() => service.stop());

const load = (date: string, code: string) =>
  service.call('PUT', `/api/v1/country-data?source=made-up&date=${date}`, `198.18.0.0/16,${code}\n`);
const dated = async () => (await service.call('GET', '/api/v1/country-data')).body.date;

it('comes back with a revision, and goes with an edit that is discarded', async () => {
  await load('2026-11-01', 'PT');
  expect((await service.client('revision', 'publish', '-m', 'Data of the first', '--accept-warnings')).code).toBe(0);
  await load('2026-11-20', 'ES');
  expect((await service.client('revision', 'publish', '-m', 'Data of the twentieth', '--accept-warnings')).code).toBe(
    0,
  );
  expect(await dated()).toBe('2026-11-20');
  await service.client('revision', 'restore', '1', '--yes');
  expect(await dated()).toBe('2026-11-01');
  expect((await service.call('GET', '/api/v1/country-data/198.18.4.1')).body.country).toBe('PT');
  expect((await service.client('revision', 'compare', '1')).out).toContain('Nothing is different');
  await service.client('draft', 'discard', '--all', '--yes');
  expect(await dated()).toBe('2026-11-20');
  expect((await service.client('audit', 'list', '--action', 'country-data-restored')).out).toContain('made-up');
});
