import fc from 'fast-check';
import { expect, it } from 'vitest';
import { EVIDENCE_DIMENSIONS, Evidence, type Features } from './evidence.js';

const features = fc.record(
  Object.fromEntries(EVIDENCE_DIMENSIONS.map((name) => [name, fc.constantFrom('a', 'b', 'c', null)])),
) as unknown as fc.Arbitrary<Features>;

const gathered = (all: readonly Features[]) => {
  const evidence = new Evidence<Features>((each) => each);
  for (const each of all) evidence.add(each);
  return evidence;
};

it('counts every request in each dimension, the most frequent value first', () => {
  fc.assert(
    fc.property(fc.array(features, { minLength: 1, maxLength: 40 }), (all) => {
      const shares = gathered(all).shares();
      for (const dimension of EVIDENCE_DIMENSIONS) {
        const { rows } = shares[dimension];
        expect(rows.reduce((sum, { requests }) => sum + requests, 0)).toBe(all.length);
        for (const { key, requests } of rows)
          expect(requests).toBe(all.filter((each) => each[dimension] === key).length);
        expect(rows.map(({ requests }) => requests)).toEqual(
          rows.map(({ requests }) => requests).sort((a, b) => b - a),
        );
      }
    }),
  );
});

it('samples requests that differ, before those that are like one it has', () => {
  const like = (host: string, country: string): Features => ({
    ...{ host, country, client: '192.0.2.1', path: '/', method: 'GET', agent: 'x' },
    'destination-country': null,
    ...{ status: '200', rule: 'ticket-site / rest' },
  });
  const many = Array.from({ length: 50 }, (_, at) => ({ ...like('a.example', 'PT'), client: `192.0.2.${at}` }));
  const samples = gathered([...many, like('b.example', 'PT'), like('c.example', 'ES')]).samples();
  expect(samples.map(({ host, country }) => `${host} ${country}`)).toEqual([
    'a.example PT',
    'c.example ES',
    'b.example PT',
  ]);
});
