import type { WorkspaceBody } from '@jade-fence/contract';
import { PLAIN_FIELDS } from '@jade-fence/core/condition';
import { describe, expect, it } from 'vitest';
import { FIELDS, helpFor, suggestionsFor } from './fields.js';

const WORKSPACE = {
  lists: [
    { list: 'garden-offices', of: 'addresses', entries: 3 },
    { list: 'advert-hosts', of: 'domains', entries: 1200 },
    { list: 'ticket-countries', of: 'countries', entries: 2 },
  ],
  objects: [
    { kind: 'category', name: 'media', sentence: 'Holds 3 domains.', note: null },
    { kind: 'schedule', name: 'opening-hours', sentence: 'Monday to Friday', note: 'When the garden is open' },
  ],
} as unknown as WorkspaceBody;

describe('the fields that a rule can test', () => {
  it('are those of the language; headers, parameters and cookies are typed by their names', () => {
    const offered = FIELDS.map(({ field }) => field);
    expect(new Set(offered).size).toBe(offered.length);
    expect([...offered].sort()).toEqual([...PLAIN_FIELDS].sort());
  });

  it.each([
    ['client', ['garden-offices']],
    ['host', ['advert-hosts']],
    ['category', ['media', 'uncategorised']],
    ['time', ['opening-hours']],
    ['path', []],
    ['size', []],
    ['header.x-api-key', ['present', 'absent']],
    ['query.q', ['present', 'absent']],
    ['scheme', ['http', 'https', 'ws', 'wss']],
  ])('of %s the workspace offers %j', (field, values) => {
    expect(suggestionsFor(helpFor(field), WORKSPACE).map(({ value }) => value)).toEqual(values);
  });

  it('say what a name is by its note, or its sentence', () => {
    const detail = (field: string) => suggestionsFor(helpFor(field), WORKSPACE)[0]?.detail;
    expect(['category', 'time', 'host'].map(detail)).toEqual([
      'Holds 3 domains.',
      'When the garden is open',
      'list of 1,200',
    ]);
  });

  it('offer every country by code and name', () => {
    const offered = suggestionsFor(helpFor('country'), WORKSPACE);
    expect(offered.slice(0, 3).map(({ value }) => value)).toEqual(['ticket-countries', 'unknown', 'private']);
    expect(offered.find(({ value }) => value === 'SG')).toEqual({ value: 'SG', detail: 'Singapore' });
    expect(offered.length).toBeGreaterThan(240);
  });
});
