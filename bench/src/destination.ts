import { decodeTable, encodeTable } from '@jade-fence/core/column';
import { prepare } from '@jade-fence/core/engine';
import type { Policy } from '@jade-fence/core/policy';
import { Run } from '@jade-fence/core/replay';
import { makeRequest, type Request } from '@jade-fence/core/request';
import { readWorkspace } from '@jade-fence/core/workspace';
import { COUNTRY_COUNT, codes } from './large/countries.js';
import { chunksOf, largeLog } from './large/log.js';
import { Random } from './large/random.js';
import { largeCountryData } from './large/workspace.js';
import type { Pair } from './measure.js';

const REQUESTS = 1_000_000;
const DESTINATIONS = 20_000;
const RULES = 20;
const SEED = 1821;

/** The large log with the address of each request's destination: a host has a few, and most requests go to few hosts. */
function* withDestinations(): Generator<Request> {
  const random = new Random(SEED);
  const addresses = Array.from({ length: DESTINATIONS }, () => ({
    family: 4 as const,
    value: 0x01000000 + random.below(0xde000000),
  }));
  for (const { headers, met, allHeaders, ...request } of largeLog(REQUESTS))
    yield makeRequest({ ...request, destination: addresses[random.skewed(DESTINATIONS)] });
}

/** Rules by the country of the client, each also by that of the destination, or not. */
function policyText(withDestination: boolean): string {
  const random = new Random(SEED);
  const known = codes().slice(0, COUNTRY_COUNT);
  const some = () => Array.from({ length: 3 }, () => random.choose(known)).join(', ');
  const rules = Array.from({ length: RULES }, (_, index) => {
    const [country, destination] = [some(), some()];
    const more = withDestination ? `, destination-country: [${destination}]` : '';
    return `  - {rule: rule-${index}, when: {country: [${country}]${more}}, then: block}\n`;
  });
  return `policy: p\ndefault: allow\nrules:\n${rules.join('')}`;
}

/** A replay by rules of both countries, beside one by rules of the client's alone. */
export function destinationPair(): Pair {
  const chunks = chunksOf(withDestinations()).map((table) => encodeTable(table));
  const replay = (withDestination: boolean) => {
    const { workspace } = readWorkspace([{ name: 'p.yaml', text: policyText(withDestination) }]);
    const prepared = prepare(workspace, { countryData: largeCountryData(), at: Date.UTC(2026, 10, 9) });
    prepared.shared();
    const policy = workspace.policies.get('p') as Policy;
    return () => {
      const run = new Run(prepared, policy, { breakdowns: ['country', 'host'] });
      for (const chunk of chunks) run.chunk(decodeTable(chunk));
      run.report();
    };
  };
  return {
    name: 'replay-destination-country',
    unit: 'ms for 1,000,000 stored requests',
    figure: replay(true),
    floorName: 'the same by the country of the client alone',
    floor: replay(false),
  };
}
