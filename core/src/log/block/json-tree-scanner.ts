import { type JsonPlace, jsonPlaces } from '../read/json-mapping.js';
import type { Mapping } from '../read/mapping.js';
import { FIRST_KEY, JsonKeys } from './json-keys.js';
import { purposeOf } from './json-scanner.js';
import { IGNORED, JsonValues, LEFT } from './json-values.js';
import { FIELDS, LineFields } from './line-fields.js';

const QUOTE = 34;
const COLON = 58;
const COMMA = 44;
const OPEN = 123;
const CLOSE = 125;
const OPEN_LIST = 91;
const CLOSE_LIST = 93;
const SPACE = 32;
const NEWLINE = 10;
const RETURN = 13;
const LEFT_LINE = -1;
const MOST_IGNORED = 64;
/** An object or a list that fields are inside of. */
const INSIDE = -3;
/** What holds conventional names is flattened by who reads whole lines. */
const FLATTENED = 'attributes';

/** A place on the way to fields: its keys, with the purpose of each. */
interface Node {
  readonly keys: JsonKeys;
  readonly purposes: number[];
  readonly inside: (Node | undefined)[];
  /** By key, the line that it was last met in: one that comes twice is left. */
  readonly met: number[];
  readonly names: string[];
  /** By key, the number of the mapping's place that it is; −1 for none. */
  readonly places: number[];
  /** In a list, the purpose of each element that a place names, by its number. */
  readonly elements: ReadonlyMap<
    number,
    { readonly purpose: number; readonly place: number; readonly inside: Node | undefined }
  >;
}

/**
 * Finds the fields of lines of nested JSON where a mapping says that they are, without making objects of them. Takes lines
 * in ASCII without escapes, in which no field is there by its mapping and by its own name; it leaves all others to who
 * reads any line.
 */
export class JsonTreeScanner {
  readonly fields = new LineFields();
  readonly #bytes: Uint8Array;
  readonly #values: JsonValues;
  readonly #places: readonly JsonPlace[];
  readonly #root: Node;
  #line = 0;
  /** The places that the line has, as bits. */
  #found = 0;
  readonly #ignored: string[] = [];

  /** Every line of the bytes ends with a line feed. */
  constructor(bytes: Uint8Array, mapping: Mapping) {
    this.#bytes = bytes;
    this.#values = new JsonValues(bytes, this.fields);
    this.#places = jsonPlaces(mapping);
    this.#root = this.#node([]);
  }

  /** Whether all places are of fields that scanners find, and none is inside another. */
  static knows(mapping: Mapping): boolean {
    const places = jsonPlaces(mapping);
    const isInside = (a: readonly string[], b: readonly string[]) =>
      a.length <= b.length && a.every((part, at) => part === b[at]);
    return (
      (mapping.zone === undefined || mapping.zone === 'UTC') &&
      places.length <= 30 &&
      places.every(({ field }) => (FIELDS as readonly string[]).includes(field)) &&
      places.every(({ path }, at) => places.every((other, place) => place === at || !isInside(path, other.path)))
    );
  }

  /** Scans the line that begins there; returns the offset of its line feed, or below 0 when it must be parsed whole. */
  scan(start: number): number {
    const { fields } = this;
    const bytes = this.#bytes;
    fields.seen = 0;
    fields.none = 0;
    this.#found = 0;
    this.#ignored.length = 0;
    this.#line = start;
    if (bytes[start] !== OPEN) return LEFT_LINE;
    let at = this.#object(start, this.#root);
    if (at < 0 || (fields.seen === 0 && this.#found === 0)) return LEFT_LINE;
    while (bytes[at] === SPACE || bytes[at] === RETURN) at++;
    return bytes[at] === NEWLINE ? at : LEFT_LINE;
  }

  /** The names of the line's members that are not a request's. */
  eachIgnored(take: (name: string) => void): void {
    for (const name of this.#ignored) take(name);
  }

  /** The fields of the mapping whose place the line does not have. */
  eachMissing(take: (field: string) => void): void {
    for (const [number, { field }] of this.#places.entries()) if ((this.#found & (1 << number)) === 0) take(field);
  }

  /** Takes the members of an object; answers where it ends, or below 0 where the line has to be left. */
  #object(start: number, node: Node): number {
    const bytes = this.#bytes;
    const values = this.#values;
    const { keys, purposes, met } = node;
    let at = values.blanks(start + 1);
    if (bytes[at] === CLOSE) return at + 1;
    let previous = FIRST_KEY;
    for (;;) {
      if (bytes[at] !== QUOTE) return LEFT_LINE;
      const key = keys.key(at + 1, previous);
      if (key < 0) return LEFT_LINE;
      previous = key + 1;
      at = values.blanks(at + keys.length(key) + 2);
      if (bytes[at] !== COLON) return LEFT_LINE;
      at = values.blanks(at + 1);
      if (met[key] === this.#line) return LEFT_LINE;
      met[key] = this.#line;
      const purpose = purposes[key] as number;
      at = this.#value(at, purpose, node.places[key] as number, node.inside[key]);
      if (at < 0) return LEFT_LINE;
      if (purpose === IGNORED && node === this.#root) {
        if (this.#ignored.length === MOST_IGNORED) return LEFT_LINE;
        this.#ignored.push(node.names[key] as string);
      }
      at = values.blanks(at);
      if (bytes[at] === CLOSE) return at + 1;
      if (bytes[at] !== COMMA) return LEFT_LINE;
      at = values.blanks(at + 1);
    }
  }

  #value(start: number, purpose: number, place: number, inside: Node | undefined): number {
    if (purpose === LEFT) return LEFT_LINE;
    if (purpose === IGNORED) return this.#values.skip(start);
    if (purpose === INSIDE) {
      const byte = this.#bytes[start];
      if (byte === OPEN) return this.#object(start, inside as Node);
      return byte === OPEN_LIST ? this.#list(start, inside as Node) : LEFT_LINE;
    }
    if ((this.fields.seen & (1 << purpose)) !== 0) return LEFT_LINE;
    if (place >= 0) this.#found |= 1 << place;
    return this.#values.take(start, purpose);
  }

  #list(start: number, { elements }: Node): number {
    const bytes = this.#bytes;
    const values = this.#values;
    let at = values.blanks(start + 1);
    if (bytes[at] === CLOSE_LIST) return at + 1;
    for (let number = 0; ; number++) {
      const element = elements.get(number);
      at = element ? this.#value(at, element.purpose, element.place, element.inside) : values.skip(at);
      if (at < 0) return LEFT_LINE;
      at = values.blanks(at);
      if (bytes[at] === CLOSE_LIST) return at + 1;
      if (bytes[at] !== COMMA) return LEFT_LINE;
      at = values.blanks(at + 1);
    }
  }

  #node(path: readonly string[]): Node {
    const places = this.#places;
    const below = (name: string) =>
      places.flatMap((place, number) =>
        place.path.length > path.length && [...path, name].every((part, at) => part === place.path[at]) ? [number] : [],
      );
    /** What is at the name below this place. */
    const at = (name: string) => {
      // A name with dots is a member itself before it is a way to one inside.
      if (path.length === 0 && places.some(({ whole, path: own }) => whole === name && own.length > 1))
        return { purpose: LEFT, place: -1, inside: undefined };
      const inside = below(name);
      const [first = -1] = inside;
      if (first < 0) return { purpose: path.length === 0 ? this.#outer(name) : IGNORED, place: -1, inside: undefined };
      const isEnd = places[first]?.path.length === path.length + 1;
      return isEnd
        ? { purpose: FIELDS.indexOf(places[first]?.field as (typeof FIELDS)[number]), place: first, inside: undefined }
        : { purpose: INSIDE, place: -1, inside: this.#node([...path, name]) };
    };
    const names = [
      ...new Set(
        places.flatMap((place) =>
          below(place.path[path.length] ?? '').length > 0 ? (place.path[path.length] as string) : [],
        ),
      ),
    ];
    const node: Node = {
      keys: new JsonKeys(this.#bytes, (name) => {
        const { purpose, place, inside } = at(name);
        node.purposes.push(purpose);
        node.places.push(place);
        node.inside.push(inside);
        node.names.push(name);
        node.met.push(-1);
      }),
      ...{ purposes: [], inside: [], met: [], names: [], places: [] },
      elements: new Map(names.filter((name) => INDEX.test(name)).map((name) => [Number(name), at(name)])),
    };
    return node;
  }

  /** The purpose of a member of the line itself that the mapping does not name. */
  #outer(name: string): number {
    const isMapped = this.#places.some(({ field }) => field === name);
    return isMapped || name === FLATTENED ? LEFT : purposeOf(name);
  }
}

const INDEX = /^(?:0|[1-9]\d{0,8})$/;
