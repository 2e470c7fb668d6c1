import { type JsonPlace, jsonPlaces } from '../read/json-mapping.js';
import type { Mapping } from '../read/mapping.js';
import { isConventionalName } from '../read/names.js';
import { REQUEST_FIELDS } from '../read/request-fields.js';
import { FIELDS } from './line-fields.js';

/** The purpose of a value, beside the number of a field: it is not read, or the line has to be left. */
export const IGNORED = -1;
export const LEFT = -2;
/** An object or a list that fields are inside of. */
export const INSIDE = -3;
/** What holds conventional names is flattened by who reads whole lines. */
const FLATTENED = 'attributes';
/** Places are kept as bits of a word, and looked for this deep. */
const MOST_PLACES = 30;
const DEEPEST = 16;
/** RFC 6901, section 4. */
const INDEX = /^(?:0|[1-9]\d{0,8})$/;

/** What a value is to the scanners. */
export interface Member {
  /** The number of a field, or one of the purposes above. */
  readonly purpose: number;
  /** The number of the mapping's place that it is; −1 for none. */
  readonly place: number;
}

/** What scanners of JSON look for in the objects of lines: our own names, and the places of a mapping. */
export class JsonTree {
  readonly #places: readonly JsonPlace[];
  /** The bits of all places. */
  readonly #all: number;

  constructor(mapping: Mapping) {
    this.#places = jsonPlaces(mapping);
    this.#all = 2 ** this.#places.length - 1;
  }

  /** Whether all places are of fields that scanners find, and none is inside another. */
  static knows(mapping: Mapping): boolean {
    const places = jsonPlaces(mapping);
    const isInside = (a: readonly string[], b: readonly string[]) =>
      a.length <= b.length && a.every((part, at) => part === b[at]);
    return (
      (mapping.zone === undefined || mapping.zone === 'UTC') &&
      places.length <= MOST_PLACES &&
      places.every(({ field, path }) => (FIELDS as readonly string[]).includes(field) && path.length <= DEEPEST) &&
      places.every(({ path }, at) => places.every((other, place) => place === at || !isInside(path, other.path)))
    );
  }

  /** The member of this name of the object at the path, which begins with the line itself. */
  member(path: readonly string[], name: string): Member {
    const isOuter = path.length === 0;
    // A name with dots is a member itself before it is a way to one inside.
    if (isOuter && this.#places.some(({ whole, path: own }) => whole === name && own.length > 1))
      return { purpose: LEFT, place: -1 };
    const place = this.#places.findIndex((each) => begins(each.path, [...path, name]));
    if (place < 0) return { purpose: isOuter ? this.#outer(name) : IGNORED, place };
    const { path: whole, field } = this.#places[place] as JsonPlace;
    if (whole.length > path.length + 1) return { purpose: INSIDE, place: -1 };
    return { purpose: (FIELDS as readonly string[]).indexOf(field), place };
  }

  /** The elements that places name of the list at the path. */
  elements(path: readonly string[]): number[] {
    const names = this.#places.flatMap((each) => (begins(each.path, path) ? (each.path[path.length] ?? '') : []));
    return [...new Set(names)].filter((name) => INDEX.test(name)).map(Number);
  }

  /** The fields of the places that are not among those found, as bits. */
  eachMissing(found: number, take: (field: string) => void): void {
    if (found === this.#all) return;
    for (const [number, { field }] of this.#places.entries()) if ((found & (1 << number)) === 0) take(field);
  }

  /** The purpose of a member of the line itself that the mapping does not name. */
  #outer(name: string): number {
    if (name === FLATTENED || this.#places.some(({ field }) => field === name)) return LEFT;
    const field = (FIELDS as readonly string[]).indexOf(name);
    if (field >= 0) return field;
    return (REQUEST_FIELDS as readonly string[]).includes(name) || isConventionalName(name) ? LEFT : IGNORED;
  }
}

const begins = (path: readonly string[], start: readonly string[]): boolean =>
  path.length >= start.length && start.every((part, at) => part === path[at]);
