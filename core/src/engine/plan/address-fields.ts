import { type AddressRange, addressSet } from '../../address/index.js';
import type { AddressTerm, CountryTerm } from '../../condition/index.js';
import type { Axis } from './axis.js';
import type { Matched } from './classes.js';
import { numbered } from './match/matcher.js';
import { matchCountries } from './match/names.js';
import { type AddressClass, partition } from './partition/partition.js';
import { addressSource } from './source/address-source.js';
import { resolvedSource } from './source/resolved-source.js';
import type { SourcePlan } from './source/source.js';
import type { SourcesInput } from './sources-input.js';

/** The source of a field of addresses; those of the client and the destination have an axis for the country, too. */
export function planAddresses(
  of: 'client' | 'peer' | 'destination',
  axes: readonly Axis[],
  { prepared, shared, resolve }: SourcesInput,
): SourcePlan {
  const sets = axes.flatMap((axis) => ownSets(axis));
  const own = partition(sets.map(({ ranges }) => addressSet(ranges)));
  const byAxis = axes.map((axis) => {
    if (axis.field === 'country' || axis.field === 'destination-country') {
      const match = matchCountries(axis.terms as CountryTerm[], prepared);
      return ({ country }: AddressClass): Matched => (country === undefined ? undefined : { matched: match(country) });
    }
    const listed = new Map(
      numbered(axis.terms as AddressTerm[], 'list').map(({ term, number }) => [shared.lists.get(term.name), number]),
    );
    return ({ sets: shareds }: AddressClass, { sets: owned }: AddressClass): Matched => ({
      matched: [
        ...shareds.flatMap((set) => listed.get(set) ?? []),
        ...owned.map((set) => (sets[set] as OwnSet).number),
      ],
    });
  });
  const match = (inShared: AddressClass, inOwn: AddressClass) => byAxis.map((matchAxis) => matchAxis(inShared, inOwn));
  const plan = { axes, of, shared: shared.partition, own, match };
  return of === 'destination' && resolve ? resolvedSource(plan, prepared.resolutions) : addressSource(plan);
}

/** Groups the addresses that rules name by the terms that they match, each with the number of one of them. */
interface OwnSet {
  readonly ranges: readonly AddressRange[];
  readonly number: number;
}

function ownSets(axis: Axis): OwnSet[] {
  const ranges = new Map(
    numbered(axis.terms as AddressTerm[], 'range').map(({ term, number }) => [number, term.range]),
  );
  return axis.alike([...ranges.keys()]).map((numbers) => ({
    ranges: numbers.map((number) => ranges.get(number) as AddressRange),
    number: numbers[0] as number,
  }));
}
