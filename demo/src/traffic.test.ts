import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { Writable } from 'node:stream';
import { LogReader } from '@jade-fence/core/log';
import { describe, expect, it } from 'vitest';
import {
  LINE_FORMATS,
  type LineFormatName,
  TRAFFIC_DEFAULTS,
  type TrafficOptions,
  traffic,
  writeTraffic,
} from './index.js';

async function written(options: Partial<TrafficOptions>, format: LineFormatName): Promise<Buffer> {
  const pieces: Buffer[] = [];
  const to = new Writable({ write: (piece: Buffer, _encoding, done) => done(void pieces.push(piece)) });
  await writeTraffic({ ...TRAFFIC_DEFAULTS, ...options }, LINE_FORMATS[format], to);
  return Buffer.concat(pieces);
}

const hash = (bytes: Buffer) => createHash('sha256').update(bytes).digest('hex');

describe('the demo’s traffic', () => {
  it('is the shipped log, byte for byte', async () => {
    const shipped = readFileSync(new URL('../logs/week.jsonl', import.meta.url));
    expect(hash(await written({}, 'json-lines'))).toBe(hash(shipped));
  });

  it('comes of its seed', async () => {
    expect(hash(await written({ seed: 2 }, 'json-lines'))).not.toBe(hash(await written({ seed: 3 }, 'json-lines')));
    expect(hash(await written({ seed: 2 }, 'json-lines'))).toBe(hash(await written({ seed: 2 }, 'json-lines')));
  });

  it('is in order of time, within its days, and as long as ordered', () => {
    const times = [...traffic({ ...TRAFFIC_DEFAULTS, requests: 2345, days: 3 })].map((entry) => entry.time);
    expect(times).toHaveLength(2345);
    expect(times).toEqual([...times].sort((a, b) => a - b));
    expect(times[0]).toBeGreaterThanOrEqual(TRAFFIC_DEFAULTS.start);
    expect(times.at(-1)).toBeLessThan(TRAFFIC_DEFAULTS.start + 3 * 24 * 3_600_000);
  });

  it.each(['json-lines', 'combined'] as const)('can be read in every line, as %s', async (format) => {
    const found = { requests: 0, rejected: [] as string[] };
    const reader = new LogReader({
      request: () => void found.requests++,
      rejected: (_line, _fault, text) => void found.rejected.push(text),
    });
    reader.push(await written({ requests: 1500 }, format));
    reader.end();
    expect([found, reader.format, reader.ignoredFields.size]).toEqual([{ requests: 1500, rejected: [] }, format, 0]);
  });
});
