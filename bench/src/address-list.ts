import { BlockList } from 'node:net';
import {
  type Address,
  type AddressSet,
  addressSet,
  formatAddress,
  networkOf,
  setContains,
} from '@jade-fence/core/address';
import { Random } from './large/random.js';
import type { Pair } from './measure.js';

const NETWORKS = 100_000;
const FEW = 1_000;
const PROBES = 200_000;
const SAMPLE = 200;
const SEED = 1759;

interface Made {
  readonly set: AddressSet;
  readonly networks: readonly { readonly base: Address; readonly length: number }[];
}

function makeList(count: number): Made {
  const random = new Random(SEED);
  const networks = Array.from({ length: count }, () => {
    const length = 20 + random.below(13);
    return { base: networkOf({ family: 4, value: random.word() }, length).first, length };
  });
  return { set: addressSet(networks.map(({ base, length }) => networkOf(base, length))), networks };
}

function probes(): Address[] {
  const random = new Random(SEED + 1);
  return Array.from({ length: PROBES }, () => ({ family: 4, value: random.word() }) as const);
}

const lookUp = (set: AddressSet, asked: readonly Address[]) => () => {
  for (const address of asked) setContains(set, address);
};

/** A list of 100,000 networks, against Node’s block list over the same. */
export function addressListPair(): Pair {
  const { set, networks } = makeList(NETWORKS);
  const floor = new BlockList();
  for (const { base, length } of networks) floor.addSubnet(formatAddress(base), length, 'ipv4');
  const asked = probes();
  const texts = asked.slice(0, SAMPLE).map(formatAddress);
  return {
    name: 'address-list',
    unit: 'ms for one address in 100,000 networks',
    figure: lookUp(set, asked),
    times: PROBES,
    floorName: 'net.BlockList',
    floor: () => {
      for (const text of texts) floor.check(text, 'ipv4');
    },
    floorTimes: SAMPLE,
  };
}

/** The same, against a list of 1,000. */
export function addressListSizePair(): Pair {
  const asked = probes();
  return {
    name: 'address-list-vs-1000',
    unit: 'ms for one address in 100,000 networks',
    figure: lookUp(makeList(NETWORKS).set, asked),
    times: PROBES,
    floorName: 'a list of 1,000',
    floor: lookUp(makeList(FEW).set, asked),
  };
}
