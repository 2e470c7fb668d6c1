import { isEmptyMap, isListPlace, isMapPlace, isNothing, type Place, type Sink } from '../text/index.js';
import { type Condition, FIELDS, type Field, type Test, type Value } from './policy.js';
import {
  readAddressTerm,
  readCountryTerm,
  readHostTerm,
  readMethodTerm,
  readPathTerm,
  readPortTerm,
  readProtocolTerm,
  readSchemeTerm,
  type TermReader,
} from './terms.js';

const MOST_VALUES = 10_000;

/** Reads `when` or `unless`: a map, all of whose fields must match, or a list of maps of which any may. */
export function readConditions(sink: Sink, place: Place | undefined): Condition[] {
  if (place === undefined) return [];
  if (isMapPlace(place)) return readCondition(sink, place);
  if (!isListPlace(place)) {
    sink.wrongShape(place, 'map or list');
    return [];
  }
  const items = sink.items(place) ?? [];
  if (items.length === 0) sink.add(place, { code: 'empty-condition' });
  return items.flatMap((item) => readCondition(sink, item));
}

function readCondition(sink: Sink, place: Place): Condition[] {
  const entries = sink.entries(place, FIELDS);
  if (entries === undefined) return [];
  if (isEmptyMap(place)) sink.add(place, { code: 'empty-condition' });
  return [[...entries].flatMap(([field, { value }]) => readTest(sink, field as Field, value))];
}

function readTest(sink: Sink, field: Field, place: Place): Test[] {
  switch (field) {
    case 'client':
    case 'peer':
      return testOf(field, readValues(sink, place, readAddressTerm));
    case 'country':
      return testOf(field, readValues(sink, place, readCountryTerm));
    case 'host':
      return testOf(field, readValues(sink, place, readHostTerm));
    case 'path':
      return testOf(field, readValues(sink, place, readPathTerm));
    case 'method':
      return testOf(field, readValues(sink, place, readMethodTerm));
    case 'scheme':
      return testOf(field, readValues(sink, place, readSchemeTerm));
    case 'protocol':
      return testOf(field, readValues(sink, place, readProtocolTerm));
    case 'port':
      return testOf(field, readValues(sink, place, readPortTerm));
  }
}

function testOf<F extends Field, T>(
  field: F,
  values: readonly Value<T>[],
): { field: F; values: readonly Value<T>[] }[] {
  return [{ field, values }];
}

/** One value, a list of values, or `not:` and either; `not:` may also stand among the values of a list. */
function readValues<T>(sink: Sink, place: Place, read: TermReader<T>): Value<T>[] {
  if (isMapPlace(place)) return readNot(sink, place, read);
  const items = itemsOf(sink, place);
  return items.flatMap((item): Value<T>[] => {
    if (isMapPlace(item)) return readNot(sink, item, read);
    const term = read(sink, item);
    return term === undefined ? [] : [term];
  });
}

function readNot<T>(sink: Sink, place: Place, read: TermReader<T>): Value<T>[] {
  const inner = sink.entries(place, ['not'])?.get('not')?.value;
  if (inner === undefined) return [];
  const values = itemsOf(sink, inner).flatMap((item) => read(sink, item) ?? []);
  return [{ type: 'not', values }];
}

function itemsOf(sink: Sink, place: Place): Place[] {
  const items = isNothing(place) ? [] : (sink.items(place) ?? []);
  if (items.length === 0) sink.add(place, { code: 'empty-condition' });
  if (items.length > MOST_VALUES) sink.add(place, { code: 'too-many', what: 'values in one test', limit: MOST_VALUES });
  return items;
}
