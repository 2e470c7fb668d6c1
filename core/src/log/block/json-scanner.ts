import { tupleKey } from '../../column/index.js';
import { FIRST_KEY, JsonKeys } from './json-keys.js';
import { IGNORED, INSIDE, type JsonTree, LEFT } from './json-tree.js';
import { JsonValues } from './json-values.js';
import { LineFields } from './line-fields.js';

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

/** A place on the way to fields: its keys, with what the value of each is. */
interface Node {
  readonly keys: JsonKeys;
  readonly meanings: Meaning[];
  readonly names: string[];
  /** By key, the line that it was last met in: one that comes twice is left. */
  readonly met: number[];
  /** In a list, what the elements are that a place names, by their numbers. */
  readonly elements: ReadonlyMap<number, Meaning>;
}

interface Meaning {
  readonly purpose: number;
  readonly place: number;
  /** Where the purpose is `INSIDE`. */
  readonly inside: Node | undefined;
}

/**
 * Finds the fields of lines of JSON, by our names and where a mapping says that they are, without making objects of them.
 * Takes the lines that most logs have: in ASCII without escapes, in which no field is there by its mapping and by its own
 * name. It leaves all others, faulty ones too, to who reads any line.
 */
export class JsonScanner {
  readonly fields = new LineFields();
  readonly #bytes: Uint8Array;
  readonly #tree: JsonTree;
  readonly #values: JsonValues;
  readonly #root: Node;
  /** By path, since what is inside a name is the same in an object and in a list. */
  readonly #inside = new Map<string, Node>();
  #line = 0;
  /** The places that the line has, as bits. */
  #found = 0;
  readonly #ignored: string[] = [];

  /** Every line of the bytes ends with a line feed. */
  constructor(bytes: Uint8Array, tree: JsonTree) {
    this.#bytes = bytes;
    this.#tree = tree;
    this.#values = new JsonValues(bytes, this.fields);
    this.#root = this.#node([]);
  }

  /** Scans the line that begins there; returns the offset of its line feed, or below 0 when it must be parsed whole. */
  scan(start: number): number {
    const { fields } = this;
    const bytes = this.#bytes;
    fields.seen = 0;
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
    this.#tree.eachMissing(this.#found, take);
  }

  /** Takes the members of an object; answers where it ends, or below 0 where the line has to be left. */
  #object(start: number, node: Node): number {
    const bytes = this.#bytes;
    const values = this.#values;
    const { keys, meanings, met } = node;
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
      if (met[key] === this.#line) return LEFT_LINE;
      met[key] = this.#line;
      const meaning = meanings[key] as Meaning;
      at = this.#value(values.blanks(at + 1), meaning);
      if (at < 0) return LEFT_LINE;
      if (meaning.purpose === IGNORED && node === this.#root) {
        if (this.#ignored.length === MOST_IGNORED) return LEFT_LINE;
        this.#ignored.push(node.names[key] as string);
      }
      at = values.blanks(at);
      if (bytes[at] === CLOSE) return at + 1;
      if (bytes[at] !== COMMA) return LEFT_LINE;
      at = values.blanks(at + 1);
    }
  }

  #list(start: number, { elements }: Node): number {
    const bytes = this.#bytes;
    const values = this.#values;
    let at = values.blanks(start + 1);
    if (bytes[at] === CLOSE_LIST) return at + 1;
    for (let number = 0; ; number++) {
      const element = elements.get(number);
      at = element ? this.#value(at, element) : values.skip(at);
      if (at < 0) return LEFT_LINE;
      at = values.blanks(at);
      if (bytes[at] === CLOSE_LIST) return at + 1;
      if (bytes[at] !== COMMA) return LEFT_LINE;
      at = values.blanks(at + 1);
    }
  }

  #value(start: number, { purpose, place, inside }: Meaning): number {
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

  #nodeAt(path: readonly string[]): Node {
    const key = tupleKey(path);
    const known = this.#inside.get(key) ?? this.#node(path);
    this.#inside.set(key, known);
    return known;
  }

  #node(path: readonly string[]): Node {
    const meaning = (name: string): Meaning => {
      const member = this.#tree.member(path, name);
      return { ...member, inside: member.purpose === INSIDE ? this.#nodeAt([...path, name]) : undefined };
    };
    const names: string[] = [];
    const meanings: Meaning[] = [];
    const met: number[] = [];
    const keys = new JsonKeys(this.#bytes, (name) => {
      names.push(name);
      meanings.push(meaning(name));
      met.push(-1);
    });
    const elements = new Map(this.#tree.elements(path).map((number) => [number, meaning(String(number))]));
    return { keys, meanings, names, met, elements };
  }
}
