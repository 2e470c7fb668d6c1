import { decodeTable, encodeTable } from '@jade-fence/core/column';
import { prepare } from '@jade-fence/core/engine';
import type { Policy } from '@jade-fence/core/policy';
import { Run } from '@jade-fence/core/replay';
import { makeRequest, type Request } from '@jade-fence/core/request';
import { type Answer, compileAnswers } from '@jade-fence/core/resolution';
import { readWorkspace } from '@jade-fence/core/workspace';
import { COUNTRY_COUNT, codes } from './large/countries.js';
import { chunksOf, largeLog } from './large/log.js';
import { Random } from './large/random.js';
import { largeCountryData } from './large/workspace.js';
import type { Pair } from './measure.js';

const REQUESTS = 1_000_000;
const HOSTS = 1_000_000;
/** Requests go to so many of them, far apart in the table. */
const VISITED = 20_000;
const RULES = 20;
const SEED = 1836;

const hostOf = (number: number): string => `www.site-${number}.example`;

/** The large log, to a few of a million hosts, of which half the requests show the address and the others do not. */
function* toManyHosts(addresses: Uint32Array): Generator<Request> {
  const random = new Random(SEED);
  for (const { headers, met, allHeaders, ...request } of largeLog(REQUESTS)) {
    const host = random.skewed(VISITED) * (HOSTS / VISITED);
    const destination = random.chance(0.5) ? { family: 4 as const, value: addresses[host] as number } : undefined;
    yield makeRequest({ ...request, host: hostOf(host), destination });
  }
}

function* answers(addresses: Uint32Array, random: Random): Generator<Answer> {
  const from = { kind: 'csv', name: 'made-up' } as const;
  for (let host = 0; host < HOSTS; host++) {
    const four = { family: 4 as const, value: addresses[host] as number };
    const more = random.chance(0.2) ? [{ family: 4 as const, value: (four.value + 1) >>> 0 }] : [];
    yield { host: hostOf(host), addresses: [four, ...more], seen: 0, holds: 3600, from };
  }
}

function policyText(resolve: boolean): string {
  const random = new Random(SEED);
  const known = codes().slice(0, COUNTRY_COUNT);
  const some = () => Array.from({ length: 3 }, () => random.choose(known)).join(', ');
  const rules = Array.from(
    { length: RULES },
    (_, index) =>
      `  - {rule: rule-${index}, when: {country: [${some()}], destination-country: [${some()}]}, then: block}\n`,
  );
  return `policy: p\ndestinations: {resolve: ${resolve}}\ndefault: allow\nrules:\n${rules.join('')}`;
}

/** A replay that takes the destinations of half the requests from the resolutions of a million hosts. */
export function resolvedPair(): Pair {
  const random = new Random(SEED);
  const addresses = Uint32Array.from({ length: HOSTS }, () => 0x01000000 + random.below(0xde000000));
  const chunks = chunksOf(toManyHosts(addresses)).map((table) => encodeTable(table));
  const resolutions = { table: compileAnswers(answers(addresses, random)), later: new Map() };
  const replay = (resolve: boolean) => {
    const { workspace } = readWorkspace([{ name: 'p.yaml', text: policyText(resolve) }]);
    const prepared = prepare(workspace, {
      countryData: largeCountryData(),
      resolutions,
      at: Date.UTC(2026, 10, 9),
    });
    prepared.shared();
    const policy = workspace.policies.get('p') as Policy;
    return () => {
      const run = new Run(prepared, policy, { breakdowns: ['country', 'host', 'destination-country'] });
      for (const chunk of chunks) run.chunk(decodeTable(chunk));
      run.report();
    };
  };
  return {
    name: 'replay-resolved',
    unit: 'ms for 1,000,000 stored requests',
    figure: replay(true),
    floorName: 'the same without resolutions, blind where requests show no destination',
    floor: replay(false),
  };
}
