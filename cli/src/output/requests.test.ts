import type { JudgedBody } from '@jade-fence/contract';
import pc from 'picocolors';
import { describe, expect, it } from 'vitest';
import { formatRequests } from './requests.js';

const paint = pc.createColors(false);

const JUDGED: JudgedBody = {
  number: 7,
  log: 'week',
  line: 7,
  request: { time: '2026-11-09T04:44:22.000Z', method: 'GET', host: 'tickets.fennelhill.example', path: '/whats-on' },
  client: 'client-1b9564815922 in 198.18.96.0/24',
  destinationCountry: null,
  country: 'XM',
  verdict: 'block',
  effect: 'block',
  policy: 'ticket-site',
  rule: 'no-harvesters',
} as JudgedBody;

const longest = (text: string): number => Math.max(...text.split('\n').map((line) => line.length));

describe('a table of requests', () => {
  it.each([160, 140, 136])('fits a terminal of %i columns, a line for each', (columns) => {
    const text = formatRequests([JUDGED, { ...JUDGED, number: 8 }], { paint, columns });
    expect(text.split('\n')).toHaveLength(3);
    expect(longest(text)).toBeLessThanOrEqual(columns);
  });

  it('shortens what was requested in its middle, and nothing else', () => {
    const text = formatRequests([JUDGED], { paint, columns: 136 });
    expect(text).toMatch(/ GET tickets.*….*\/whats-on /);
    expect(text).toContain('ticket-site / no-harvesters');
    expect(formatRequests([JUDGED], { paint, columns: 160 })).toContain('GET tickets.fennelhill.example/whats-on');
  });

  it('leaves enough to distinguish requests where there is no room', () => {
    const text = formatRequests([JUDGED], { paint, columns: 40 });
    expect(text).toContain(' GET tickets…ple/whats-on ');
  });
});
