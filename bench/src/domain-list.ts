import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { type DomainSet, domainSet, domainSetContains } from '@jade-fence/core/domain';
import { Random } from './large/random.js';
import { type Figure, figureOf, type Pair } from './measure.js';

const NAMES = 1_000_000;
const FEW = 1_000;
const PROBES = 200_000;
const SEED = 1821;
const RUNS = 5;
const MEGABYTE = 2 ** 20;

const SYLLABLES = ['fen', 'nel', 'ros', 'ma', 'thy', 'sor', 'rel', 'bas', 'il', 'mal', 'low', 'sa', 'ge', 'dil', 'la'];

function* names(count: number, seed = SEED): Generator<string> {
  const random = new Random(seed);
  for (let index = 0; index < count; index++) {
    const word = Array.from({ length: 3 + random.below(2) }, () => random.choose(SYLLABLES)).join('');
    yield `${word}-${index.toString(36)}.example`;
  }
}

const listOf = (count: number): DomainSet =>
  domainSet(Array.from(names(count), (name) => ({ reach: 'under' as const, name })));

/** The memory of a list of a million names, against a `Set` of the same. */
export async function domainListMemory(): Promise<Figure> {
  const ours: number[] = [];
  const sets: number[] = [];
  for (let run = 0; run < RUNS; run++) {
    ours.push(await held(() => listOf(NAMES)));
    sets.push(await held(() => new Set(names(NAMES))));
  }
  return figureOf({ name: 'domain-list', unit: 'MB for 1,000,000 names', floorName: 'a Set of them' }, ours, sets);
}

/** The megabytes that what is made keeps. */
async function held(make: () => unknown): Promise<number> {
  const before = await settled();
  const kept = { made: make() };
  const after = await settled();
  return kept.made === undefined ? 0 : (after - before) / MEGABYTE;
}

async function settled(): Promise<number> {
  setFlagsFromString('--expose-gc');
  const collect = runInNewContext('gc') as () => void;
  // What typed arrays held is given back a turn after they are collected.
  for (let turn = 0; turn < 3; turn++) {
    collect();
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
  const { heapUsed, arrayBuffers } = process.memoryUsage();
  return heapUsed + arrayBuffers;
}

/** A million names asked about hosts of which half are in the list, against a list of 1,000. */
export function domainListSizePair(): Pair {
  const probing = (count: number) => {
    const set = listOf(count);
    const random = new Random(SEED + 1);
    const known = [...names(count)];
    const hosts = Array.from({ length: PROBES }, (_, index) =>
      index % 2 === 0 ? `www.${random.choose(known)}` : `www.larch-${random.below(PROBES)}.example`,
    );
    return () => {
      let found = 0;
      for (const host of hosts) if (domainSetContains(set, host)) found++;
      if (found !== PROBES / 2) throw new Error(`${found} hits of ${PROBES / 2}`);
    };
  };
  return {
    name: 'domain-list-vs-1000',
    unit: 'ms for one host in 1,000,000 names',
    figure: probing(NAMES),
    times: PROBES,
    floorName: 'a list of 1,000',
    floor: probing(FEW),
  };
}
