import type { CountrySources } from '../../../country/index.js';
import type { ListSets } from '../../../list/index.js';
import { type Partition, partition } from './partition.js';

/** The partition of a workspace's lists and country data, with the numbers of the lists in it. */
export interface SharedPartition {
  readonly partition: Partition;
  readonly lists: ReadonlyMap<string, number>;
}

/** Merges all address lists and the country data. Answers a function that does so when it is first called. */
export function sharedPartition(lists: ListSets, country: CountrySources): () => SharedPartition {
  let made: SharedPartition | undefined;
  return () => {
    made ??= {
      partition: partition([...lists.addresses.values()], country),
      lists: new Map([...lists.addresses.keys()].map((name, number) => [name, number])),
    };
    return made;
  };
}
