import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Issue } from '../issue/index.js';
import { parseDocuments, parseTime } from './index.js';

describe('times of RFC 3339', () => {
  it('are read as Node reads them', () => {
    const [min, max] = [new Date('0000-01-01T00:00:00Z'), new Date('9999-12-31T00:00:00Z')];
    const day = fc.date({ min, max, noInvalidDate: true });
    fc.assert(
      fc.property(day, fc.constantFrom('Z', 'z', '+01:00', '-09:30', '+00:00'), fc.boolean(), (date, zone, whole) => {
        const iso = whole ? date.toISOString().replace(/\.\d+/, '') : date.toISOString();
        expect(parseTime(iso.replace('Z', zone))).toBe(Date.parse(iso.replace('Z', zone.toUpperCase())));
      }),
    );
  });

  it('are those of the grammar, and of days that there are', () => {
    const grammar = /^\d{4}-\d\d-\d\d[Tt]\d\d:\d\d:\d\d(?:\.\d+)?(?:[Zz]|[+-]\d\d:\d\d)$/;
    const two = fc.integer({ min: 0, max: 99 }).map((value) => String(value).padStart(2, '0'));
    const near = fc
      .tuple(
        fc.constantFrom('2024', '2026', '1900', '2000', '0000'),
        ...[two, two, two, two, two],
        fc.constantFrom('', '.5', '.', '.x'),
      )
      .map(
        ([year, month, day, hour, minute, second, end]) => `${year}-${month}-${day}T${hour}:${minute}:${second}${end}Z`,
      );
    const broken = fc
      .tuple(near, fc.nat(30), fc.constantFrom('', ' ', 'x', '0', ':', '\0', '٣'))
      .map(([text, at, put]) => {
        return text.slice(0, at) + put + text.slice(at + 1);
      });
    fc.assert(
      fc.property(fc.oneof(near, broken), (text) => {
        const [, month = 0, day = 0, hour = 0, minute = 0, second = 0] = text.split(/[-T:.Z]/).map(Number);
        const calendar = new Date(`${text.slice(0, 4)}-${text.slice(5, 7)}-01T00:00:00Z`);
        calendar.setUTCDate(day);
        const isDay = calendar.getUTCMonth() + 1 === month && day > 0;
        const holds = grammar.test(text) && isDay && hour < 24 && minute < 60 && second < 61;
        expect([text, parseTime(text) !== undefined]).toEqual([text, holds]);
      }),
      { numRuns: 3000 },
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
