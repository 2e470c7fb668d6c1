import { timeOf } from './columns.js';
import { ANY_HEADER, type Mapping } from './mapping.js';
import { fieldsOfLine, REQUEST_LINE } from './request-line.js';

type Json = Readonly<Record<string, unknown>>;

/** Where a field of a mapping is in objects of JSON. */
export interface JsonPlace {
  readonly field: string;
  /** The names of the members on the way to the value, from outside in. */
  readonly path: readonly string[];
  /** The whole place as one name, where it is no pointer: members may have dots in their names. */
  readonly whole: string | undefined;
}

const HEADER = 'header.';

/** Takes the fields of JSON objects from where a mapping says that they are. Made once a log. */
export class JsonMapping {
  readonly #places: readonly JsonPlace[];
  readonly #zone: string | undefined;

  constructor(mapping: Mapping) {
    this.#places = jsonPlaces(mapping);
    this.#zone = mapping.zone;
  }

  /**
   * The object in our field names: the values that the mapping names, and all other members of the object by the names
   * that they have. `missing` counts the fields whose place the object does not have.
   */
  fields(given: Json, missing: Map<string, number>): Json {
    const found = new Map<string, unknown>();
    const headers = new Map<string, unknown>();
    const used = new Set<string>();
    for (const place of this.#places) {
      const member = place.whole !== undefined && Object.hasOwn(given, place.whole) ? [place.whole] : place.path;
      const value = valueAt(given, member);
      used.add(member[0] as string);
      if (value === undefined) missing.set(place.field, (missing.get(place.field) ?? 0) + 1);
      else if (place.field === ANY_HEADER) addHeaders(headers, value);
      else if (place.field.startsWith(HEADER)) headers.set(place.field.slice(HEADER.length), value);
      else if (place.field === REQUEST_LINE)
        for (const [field, text] of Object.entries(fieldsOfLine(value))) found.set(field, text);
      else found.set(place.field, scalarText(place.field, value));
    }
    for (const [name, value] of Object.entries(given)) if (!used.has(name) && !found.has(name)) found.set(name, value);
    if (headers.size > 0) found.set('some-headers', Object.fromEntries(headers));
    const time = timeOf({ time: found.get('time') }, this.#zone);
    if (time !== undefined) found.set('time', time);
    return Object.fromEntries(found);
  }
}

/** The places of a mapping, in its order. */
export const jsonPlaces = ({ columns }: Mapping): JsonPlace[] =>
  Object.entries(columns).map(([field, place]) => ({ field, ...placeOf(place) }));

/** A JSON Pointer begins with a slash; anything else is a name, or names with dots between. */
function placeOf(text: string): Omit<JsonPlace, 'field'> {
  if (!text.startsWith('/')) return { path: text.split('.'), whole: text };
  const path = text
    .slice(1)
    .split('/')
    .map((part) => part.replaceAll('~1', '/').replaceAll('~0', '~'));
  return { path, whole: undefined };
}

/** RFC 6901, section 4. */
const INDEX = /^(?:0|[1-9]\d{0,8})$/;

function valueAt(given: unknown, path: readonly string[]): unknown {
  let value = given;
  for (const name of path) {
    if (Array.isArray(value)) value = INDEX.test(name) ? value[Number(name)] : undefined;
    else if (value === null || typeof value !== 'object' || !Object.hasOwn(value, name)) return undefined;
    else value = (value as Json)[name];
  }
  return value;
}

function addHeaders(headers: Map<string, unknown>, value: unknown): void {
  if (value === null || typeof value !== 'object' || Array.isArray(value)) return;
  for (const [name, each] of Object.entries(value)) headers.set(name, each);
}

const NUMBERS: readonly string[] = ['time', 'port', 'size', 'status', 'bytes'];

/** Programs write numbers where texts are meant, such as users. */
const scalarText = (field: string, value: unknown): unknown =>
  typeof value === 'number' && !NUMBERS.includes(field) ? String(value) : value;
