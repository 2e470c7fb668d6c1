import fc from 'fast-check';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { decidesAlike, replaysAlike } from '../../core/src/engine/plan/equal.property.js';
import { documents, wideDocuments } from '../../core/src/engine/plan/workspace.arbitrary.js';
import { decidesLiveAlike } from '../../core/src/live/live.property.js';
import {
  combinedReadsAlike,
  jsonReadsAlike,
  mappedReadsAlike,
  textReadsAlike,
} from '../../core/src/log/block/read-block.property.js';
import { urlsAsNode } from '../../core/src/log/log.property.js';
import { clientAsReadFromTheLeft, clientWhateverStandsLeft } from '../../core/src/request/client.property.js';
import {
  fewEscapes,
  pathAsNode,
  pathStaysNormal,
  patternsUnderSettings,
  queryStaysTheSame,
} from '../../core/src/url/url.property.js';
import { startService, type TestService } from '../setup/service.js';
import { gateAsRules, publishRules } from './gate.js';

/*
 * Looks for a case that breaks a property, for as long as it is given. All properties take turns; the seed of the first
 * round is the one that is reported, and each further round's is one more. A failure prints the property, its seed and the
 * smallest case, and how to see it again.
 */

type Property = fc.IRawProperty<unknown>;

const SECONDS = Number(process.env.FUZZ_SECONDS ?? 10);
const SEED = Number(process.env.FUZZ_SEED ?? Date.now() % 2 ** 31);
const ONLY = process.env.FUZZ_ONLY;
const LONGEST_TURN_MS = 10_000;
const SHRINKING_MS = 60_000;

const PROPERTIES: Record<string, Property> = {
  decisions: decidesAlike(documents) as Property,
  'decisions-of-many-rules': decidesAlike(wideDocuments) as Property,
  replays: replaysAlike(documents) as Property,
  'replays-of-many-rules': replaysAlike(wideDocuments) as Property,
  live: decidesLiveAlike as Property,
  'read-json-lines': jsonReadsAlike as Property,
  'read-combined': combinedReadsAlike as Property,
  'read-text': textReadsAlike as Property,
  'read-mapped-json': mappedReadsAlike as Property,
  'urls-as-node': urlsAsNode as Property,
  'paths-as-node': pathAsNode as Property,
  'paths-stay-normal': pathStaysNormal as Property,
  'paths-keep-few-escapes': fewEscapes as Property,
  'patterns-by-settings': patternsUnderSettings as Property,
  queries: queryStaysTheSame as Property,
  'client-by-plain-reading': clientAsReadFromTheLeft as Property,
  'client-whatever-stands-left': clientWhateverStandsLeft as Property,
};

let service: TestService;

beforeAll(async () => {
  service = await startService();
  await publishRules(service);
  PROPERTIES.gate = gateAsRules(service, await service.gatewayToken()) as Property;
});
afterAll(() => service?.stop());

it(`${SECONDS} s from seed ${SEED} find no difference`, { timeout: (SECONDS + 300) * 1000 }, async () => {
  const chosen = Object.entries(PROPERTIES).filter(([name]) => ONLY === undefined || name === ONLY);
  expect(chosen, `there is no property ${ONLY}; there are ${Object.keys(PROPERTIES).join(', ')}`).not.toEqual([]);
  const turn = Math.min(LONGEST_TURN_MS, (SECONDS * 1000) / chosen.length);
  const cases = new Map<string, number>();
  const end = Date.now() + SECONDS * 1000;
  console.log(`Fuzzing for ${SECONDS} s from seed ${SEED}`);
  for (let round = 0; Date.now() < end; round++)
    for (const [name, property] of chosen) {
      const seed = (SEED + round) % 2 ** 31;
      const numRuns = await casesOf(name, property, seed, Math.max(200, Math.min(turn, end - Date.now())));
      cases.set(name, (cases.get(name) ?? 0) + numRuns);
    }
  console.log([...cases].map(([name, count]) => `${String(count).padStart(10)} cases of ${name}`).join('\n'));
});

/** Tries cases of one property for a time, and answers how many; throws what it finds. */
async function casesOf(name: string, property: Property, seed: number, time: number): Promise<number> {
  const found = await fc.check(property, { seed, numRuns: 2 ** 31, interruptAfterTimeLimit: time });
  if (!found.failed) {
    expect(found.numRuns, `not one case of ${name} was tried`).toBeGreaterThan(0);
    return found.numRuns;
  }
  const path = found.counterexamplePath ?? '';
  const smallest = await fc.check(property, { seed, path, interruptAfterTimeLimit: SHRINKING_MS });
  const shown = fc.defaultReportMessage(smallest.failed ? smallest : found);
  throw new Error(`${name} fails; see it again by: npm run fuzz -- --only ${name} --seed ${seed}\n${shown}`, {
    cause: smallest.errorInstance ?? found.errorInstance,
  });
}
