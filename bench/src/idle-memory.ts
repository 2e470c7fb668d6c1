import { setTimeout as sleep } from 'node:timers/promises';
import { codes } from './large/countries.js';
import { type Figure, figureOf } from './measure.js';
import { residentOf } from './resident.js';
import { benchService } from './service.js';

const NETWORKS = 1_200_000;
const LOADS = 10;
const IDLE_MS = 150_000;
const ASKED_MB = 500;

const POLICY = {
  name: 'policy.yaml',
  text: 'policy: visitor-web\ncovers: {clients: [0.0.0.0/0]}\ndefault: allow\nrules:\n  - {rule: abroad, when: {country: [PT]}, then: block}\n',
};

/** The memory of an idle service that country data of 1.2 million networks was loaded into ten times, and is in force. */
export async function idleMemory(): Promise<Figure> {
  const service = await benchService();
  await service.call('PUT', '/api/v1/workspace', { files: [POLICY], exact: true });
  for (let load = 0; load < LOADS; load++) {
    const date = `2026-10-${String(load + 1).padStart(2, '0')}`;
    await service.send('PUT', `/api/v1/country-data?source=measured&date=${date}`, networks(load));
    await service.call('POST', '/api/v1/revisions', { message: date, acceptWarnings: true });
    // Who looks at the draft has it prepared too.
    await service.call('GET', '/api/v1/draft');
  }
  await sleep(IDLE_MS);
  const shown = { name: 'idle-memory', unit: 'MB, ten loads of 1.2 million networks', floorName: 'target' };
  return figureOf(shown, [residentOf(service.pid) / 1e6], [ASKED_MB]);
}

function networks(load: number): string {
  const known = codes();
  const lines = ['network,code'];
  for (let at = 0; at < NETWORKS; at++) {
    const value = 0x01000000 + at * 2048;
    const text = [24, 16, 8, 0].map((bits) => (value >>> bits) & 255).join('.');
    lines.push(`${text}/${21 + (at % 3)},${known[(at * 7 + load) % known.length]}`);
  }
  return `${lines.join('\n')}\n`;
}
