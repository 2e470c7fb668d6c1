import fc from 'fast-check';
import { expect, it } from 'vitest';
import { rowKindsIn } from '../../column/index.js';
import { ChunkBuilder } from '../../log/index.js';
import type { Policy } from '../../policy/index.js';
import { ChunkClients } from '../../replay/clients.js';
import { decisionOf, Judge } from './judge.js';
import { PENDING } from './outcome-table.js';
import { compilePlan } from './plan.js';
import { chunkFacts } from './source/chunk-facts.js';
import { documents, preparedOf, request } from './workspace.arbitrary.js';

it('judges some rows of a chunk, whatever columns it has, as each request by itself', { timeout: 60_000 }, () => {
  const requests = fc.array(request, { minLength: 1, maxLength: 12 });
  const lacking = fc.constantFrom<readonly string[]>([], ['path', 'query'], ['path', 'query', 'port'], ['host']);
  fc.assert(
    fc.property(documents, requests, lacking, fc.integer({ min: 1, max: 3 }), (all, made, without, everyth) => {
      const prepared = preparedOf(all);
      const policy = prepared.workspace.policies.get('p') as Policy;
      const asked = made.map((each) => ({ ...each, ...Object.fromEntries(without.map((name) => [name, undefined])) }));
      const builder = new ChunkBuilder();
      for (const [at, each] of asked.entries()) builder.add(each, at + 1);
      const table = builder.build();
      const rows = Uint32Array.from(asked.keys()).filter((row) => row % everyth === everyth - 1);
      const clients = new ChunkClients(table, prepared).joined([policy.name], false).of(policy.name, rows);
      const [judge, alone] = [new Judge(compilePlan(policy, prepared)), new Judge(compilePlan(policy, prepared))];
      const facts = chunkFacts(table, prepared.resolutions);
      const { outcomes } = judge.rows({ ...facts, rows, clients, kinds: rowKindsIn(facts.kinds, rows) });
      // The judge keeps nothing of the run of before where it judges for another.
      const other = chunkFacts(table, prepared.resolutions);
      const again = judge.rows({ ...other, rows, clients, kinds: rowKindsIn(other.kinds, rows) });
      expect(again.outcomes).toEqual(outcomes);
      for (const [place, row] of rows.entries()) {
        const outcome = outcomes[place] as number;
        // What depends on limits is resolved with those of other rows.
        if (outcome === PENDING) continue;
        const one = alone.one({ ...(asked[row] as (typeof asked)[number]), met: [] }, () => false);
        const found = judge.outcomes[outcome];
        expect(found && decisionOf(judge.plan, found)).toEqual(decisionOf(alone.plan, one));
      }
    }),
    { numRuns: 300 },
  );
});
