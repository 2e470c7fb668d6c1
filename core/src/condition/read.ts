import { suggest } from '../issue/index.js';
import { isEmptyMap, isListPlace, isMapPlace, isNothing, type MapEntry, type Place, type Sink } from '../text/index.js';
import type { Condition, Test, Value } from './condition.js';
import { FIELD_HINTS, type Field, type FieldPlace, fieldName, tryField } from './field.js';
import {
  nameOrNone,
  readAddressTerm,
  readAgentTerm,
  readCountryTerm,
  readHostTerm,
  readMethodTerm,
  readNameTerm,
  readPathTerm,
  readPortTerm,
  readProtocolTerm,
  readSchemeTerm,
  readSizeTerm,
  readTextTerm,
  readUrlTerm,
  readUserTerm,
  type TermReader,
} from './terms.js';

const MOST_VALUES = 10_000;
/** Every map of a rule is one more thing to test on every request. */
const MOST_MAPS = 100;

const READERS: Record<Field, TermReader<unknown>> = {
  client: readAddressTerm,
  peer: readAddressTerm,
  destination: readAddressTerm,
  country: readCountryTerm,
  'destination-country': readCountryTerm,
  host: readHostTerm,
  path: readPathTerm,
  url: readUrlTerm,
  category: nameOrNone('uncategorised'),
  application: nameOrNone('unidentified'),
  tag: readNameTerm,
  method: readMethodTerm,
  scheme: readSchemeTerm,
  protocol: readProtocolTerm,
  port: readPortTerm,
  user: readUserTerm,
  group: readUserTerm,
  agent: readAgentTerm,
  referrer: readTextTerm,
  size: readSizeTerm,
  time: readNameTerm,
  header: readTextTerm,
  query: readTextTerm,
  cookie: readTextTerm,
};

/**
 * Reads `when` or `unless`: a map, all of whose fields must match, or a list of maps of which any may. Where only some
 * fields make sense, `fields` names them.
 */
export function readConditions(sink: Sink, place: Place | undefined, fields?: readonly Field[]): Condition[] {
  if (place === undefined) return [];
  if (isMapPlace(place)) return readCondition(sink, place, fields);
  if (!isListPlace(place)) {
    sink.wrongShape(place, 'map or list');
    return [];
  }
  const items = sink.items(place) ?? [];
  if (items.length === 0) sink.add(place, { code: 'empty-condition' });
  if (items.length > MOST_MAPS) {
    sink.add(place, { code: 'too-many', what: 'maps in one condition', limit: MOST_MAPS });
    return [];
  }
  return items.flatMap((item) => readCondition(sink, item, fields));
}

function readCondition(sink: Sink, place: Place, fields: readonly Field[] | undefined): Condition[] {
  const entries = sink.entries(place);
  if (entries === undefined) return [];
  if (isEmptyMap(place)) sink.add(place, { code: 'empty-condition' });
  const seen = new Set<string>();
  return [
    [...entries].flatMap(([text, entry]) => {
      const test = readTest(sink, text, entry, fields);
      const name = test && fieldName(test);
      if (name !== undefined && seen.has(name)) sink.add(entry.key.place, { code: 'duplicate-key', key: text });
      if (name !== undefined) seen.add(name);
      return test ?? [];
    }),
  ];
}

function readTest(
  sink: Sink,
  text: string,
  { key, value }: MapEntry,
  fields: readonly Field[] | undefined,
): Test | undefined {
  const found = tryField(text);
  if (found && (fields === undefined || fields.includes(found.field)))
    return testOf(found, readValues(sink, value, READERS[found.field]));
  const known = fields ?? FIELD_HINTS;
  sink.add(key.place, { code: 'unknown-key', key: text, known, suggestion: suggest(text, known) });
  return undefined;
}

function testOf({ field, name }: FieldPlace, values: readonly Value<unknown>[]): Test {
  // The table of readers gives each field its own terms.
  return { field, name, values } as Test;
}

/** One value, a list of values, or `not:` and either; `not:` may also be among the values of a list. */
function readValues<T>(sink: Sink, place: Place, read: TermReader<T>): Value<T>[] {
  if (isMapPlace(place)) return readNot(sink, place, read);
  const items = itemsOf(sink, place);
  return items.flatMap((item): Value<T>[] => {
    if (isMapPlace(item)) return readNot(sink, item, read);
    if (isListPlace(item)) return readValues(sink, item, read);
    const term = read(sink, item);
    return term === undefined ? [] : [term];
  });
}

function readNot<T>(sink: Sink, place: Place, read: TermReader<T>): Value<T>[] {
  const inner = sink.entries(place, ['not'])?.get('not')?.value;
  if (inner === undefined) return [];
  const values = itemsOf(sink, inner).flatMap((item) => read(sink, item) ?? []);
  const types = values.map((value) => (value as { readonly type?: string }).type);
  if (types.includes('present') && types.includes('absent')) sink.add(place, { code: 'never-matches' });
  return [{ type: 'not', values }];
}

function itemsOf(sink: Sink, place: Place): Place[] {
  const items = isNothing(place) ? [] : (sink.items(place) ?? []);
  if (items.length === 0) sink.add(place, { code: 'empty-condition' });
  if (items.length > MOST_VALUES) sink.add(place, { code: 'too-many', what: 'values in one test', limit: MOST_VALUES });
  return items;
}
