import fc from 'fast-check';
import { expect, it } from 'vitest';
import { rowKindsIn, rowKindsOfExamples } from '../../../column/index.js';
import { ChunkBuilder } from '../../../log/index.js';
import type { Policy } from '../../../policy/index.js';
import { type ClientTrust, findClient } from '../../../request/index.js';
import { classAt } from '../class-column.js';
import { compilePlan } from '../plan.js';
import { documents, preparedOf, request } from '../workspace.arbitrary.js';
import { classesOf, wholeColumn } from './addresses.js';
import { chunkFacts } from './chunk-facts.js';

it('each source classifies the rows of a block as it classifies single requests, also by their kinds alone', {
  timeout: 60_000,
}, () => {
  const requests = fc.array(request, { minLength: 1, maxLength: 12 });
  fc.assert(
    fc.property(documents, requests, fc.integer({ min: 1, max: 4 }), (all, made, everyth) => {
      const prepared = preparedOf(all);
      const policy = prepared.workspace.policies.get('p') as Policy;
      const trust = prepared.trust.get(policy.name) as ClientTrust;
      const builder = new ChunkBuilder();
      for (const [at, each] of made.entries()) builder.add(each, at + 1);
      const table = builder.build();
      const rows = Uint32Array.from(made.keys()).filter((row) => row % everyth === 0);
      const facts = chunkFacts(table, prepared.resolutions);
      const kinds = rowKindsIn(facts.kinds, rows);
      const peers = wholeColumn(table, 'peer');
      const clients = {
        codes: Uint32Array.from(rows, (row) => peers.codes[row] as number),
        dictionary: peers,
        classes: classesOf(peers, prepared.shared().partition),
      };
      const plan = compilePlan(policy, prepared);
      for (const { start } of plan.sources) {
        const source = start(plan.clauseWords);
        const ofClient = source.columns === undefined;
        // Who is taken for the client is another test's; here it is the peer.
        const one = (row: number) => {
          const each = made[row] as (typeof made)[number];
          return source.one(each, { ...findClient(each, trust), address: each.peer });
        };
        const column = source.rows({ ...facts, rows, clients, kinds }, new Uint32Array(rows.length));
        const shown = [...rows.keys()].map((place) => classAt(column, place));
        expect(shown).toEqual([...rows].map(one));
        if (ofClient || !source.columns.every((name) => kinds.holds(name))) continue;
        const examples = kinds.examples;
        const block = { ...facts, rows: examples, clients, kinds: rowKindsOfExamples(kinds) };
        const ofKinds = source.rows(block, new Uint32Array(examples.length));
        expect([...kinds.codes].map((kind) => classAt(ofKinds, kind))).toEqual(shown);
      }
    }),
    { numRuns: 200 },
  );
});
