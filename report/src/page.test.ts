import type { ColumnTable } from '@jade-fence/core/column';
import { prepare } from '@jade-fence/core/engine';
import { ChunkBuilder } from '@jade-fence/core/log';
import { Run } from '@jade-fence/core/replay';
import { makeRequest } from '@jade-fence/core/request';
import { readWorkspace } from '@jade-fence/core/workspace';
import { describe, expect, it } from 'vitest';
import { reportHtml } from './html.js';
import { reportMarkdown } from './markdown.js';

const HOUR = 3_600_000;
const { workspace } = readWorkspace([
  {
    name: 'site.yaml',
    text: 'policy: site\ncovers: {hosts: [.a.example]}\ndefault: allow\nrules:\n  - {rule: no-b, when: {path: /b}, then: block}\n  - {rule: idle, when: {path: /none}, then: block}',
  },
]);

function reportOf(hours: number) {
  const run = new Run(prepare(workspace, { countryData: undefined, at: 0 }));
  const builder = new ChunkBuilder();
  for (let at = 0; at < hours; at++)
    builder.add(makeRequest({ time: at * HOUR, host: 'a.example', path: at % 2 ? '/b' : '/', method: 'GET' }), at + 1);
  builder.add(makeRequest({ time: 0, host: 'x.example', method: '<b>|`x`' }), hours + 1);
  run.chunk(builder.build() as ColumnTable);
  return run.report();
}

const facts = { replay: 7, log: 'week' };

describe('a report as Markdown', () => {
  it('reports its totals, rules, remarks and breakdowns', () => {
    const text = reportMarkdown(reportOf(4), facts);
    expect(text).toMatch(/^# Replay 7 of log week\n\n5 requests, 1970-01-01 00:00 to 1970-01-01 03:00 UTC\.\n/);
    expect(text).toContain('| allow | 2 | 40.0 % |');
    expect(text).toContain('| no-b | Block requests for /b. |  | 4 | 2 | · | · | · | · |');
    expect(text).toContain('- `idle` matched no request of this log.');
    expect(text).toContain('## By host');
    expect(text).toContain('| 1970-01-01 01:00 | 0 | 1 | 0 |');
  });

  it('lets no text of a log be markup', () => {
    expect(reportMarkdown(reportOf(1), facts)).toContain('| \\<b\\>\\|`x` |');
  });
});

describe('a report as a page', () => {
  it('needs nothing else, and lets no text of a log be markup', () => {
    const page = reportHtml(reportOf(4), facts);
    expect(page).toContain('<h1>Replay 7 of log week</h1>');
    expect(page).toContain('&lt;b&gt;|');
    expect(page).not.toContain('<b>');
    expect(page).not.toMatch(/<script|src=|href=|@import|url\((?!#h)/);
  });

  it('draws hours, and days where there are many hours', () => {
    const few = reportHtml(reportOf(4), facts);
    expect(few.match(/<g><title>/g)).toHaveLength(4);
    expect(few).toContain('<title>1970-01-01 01:00: 0 uncovered, 1 not allowed, 0 allowed</title>');
    const many = reportHtml(reportOf(100), facts);
    expect(many.match(/<g><title>/g)).toHaveLength(5);
    expect(many).toContain('<h2>By day</h2>');
  });
});
