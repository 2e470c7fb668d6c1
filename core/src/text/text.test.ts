import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Issue } from '../issue/index.js';
import { parseDocuments, parseTime } from './index.js';

describe('times of RFC 3339', () => {
  it('are read as Node reads them', () => {
    const day = fc.date({ min: new Date('1980-01-01'), max: new Date('2090-01-01'), noInvalidDate: true });
    fc.assert(
      fc.property(day, fc.constantFrom('Z', '+01:00', '-09:30'), (date, zone) => {
        const text = date.toISOString().replace('Z', zone);
        expect(parseTime(text)).toBe(Date.parse(text));
      }),
    );
  });

  it.each([
    '2026-13-01T00:00:00Z',
    '2026-02-30T00:00:00Z',
    '2026-01-01',
    '2026-01-01T25:00:00Z',
    '2026-01-01T00:00:00',
    'tomorrow',
    '',
  ])('are not %j', (text) => {
    expect(parseTime(text)).toBeUndefined();
  });
});

describe('documents', () => {
  const codes = (text: string) => {
    const issues: Issue[] = [];
    const documents = parseDocuments('file.yaml', text, issues);
    return { documents: documents.length, codes: issues.map((issue) => issue.code) };
  };

  it('are as many to a file as it has; empty ones count for nothing', () => {
    expect(codes('policy: a\n---\nlist: b\n---\n# nothing\n')).toEqual({ documents: 2, codes: [] });
    expect(codes('')).toEqual({ documents: 0, codes: [] });
  });

  it('start with what they are', () => {
    expect(codes('polcy: a')).toEqual({ documents: 0, codes: ['unknown-document'] });
    expect(codes('- a')).toEqual({ documents: 0, codes: ['wrong-shape'] });
    expect(codes('just words')).toEqual({ documents: 0, codes: ['wrong-shape'] });
  });

  it('that are no YAML say so and do not hide the others', () => {
    expect(codes('policy: [\n---\nlist: b\n').codes).toContain('syntax');
  });

  it('cannot explode or overflow', () => {
    const bomb = `a: &a [x]\n${Array.from({ length: 40 }, (_, at) => `${'b'.repeat(at + 1)}: [*a, *a, *a]`).join('\n')}`;
    expect(codes(bomb).codes).toEqual(['unknown-document']);
    const deep = [
      '['.repeat(100_000),
      `list: ${'{a: '.repeat(20_000)}`,
      '- '.repeat(50_000),
      Array.from({ length: 3000 }, (_, at) => `${' '.repeat(at)}a:`).join('\n'),
    ];
    for (const text of deep) expect(codes(`list: good\n---\n${text}`)).toEqual({ documents: 1, codes: ['too-deep'] });
  });
});
