import { isAlias, isMap, isScalar, isSeq, type Node, Scalar, type YAMLSeq } from 'yaml';
import type { DocumentPath, Fault, Issue, Shape, Site } from '../issue/index.js';
import { suggest } from '../issue/index.js';
import { itemsOf, type Run } from './runs.js';

/** A node of a document, and its range in the file. */
export interface Place extends Site {
  readonly node: Node | null;
}

/** A value that was read, with the place it was read from. */
export interface Word {
  readonly text: string;
  readonly place: Place;
}

export interface MapEntry {
  readonly key: Word;
  readonly value: Place;
}

/** The runs of plain items that the parser did not read, and the text that has them. */
export interface Cut {
  readonly text: string;
  readonly runs: readonly Run[];
}

const NOTHING_CUT: Cut = { text: '', runs: [] };

/** Collects the issues of one file while it is read: a reader returns undefined where it has added an issue. */
export class Sink {
  readonly file: string;
  readonly #issues: Issue[];
  readonly #cut: Cut;
  /** For each map, the known keys that misspelt keys most likely mean. */
  readonly #meant = new WeakMap<Node, Set<string>>();

  constructor(file: string, issues: Issue[], cut: Cut = NOTHING_CUT) {
    this.file = file;
    this.#issues = issues;
    this.#cut = cut;
  }

  add(place: Place, fault: Fault): void {
    this.#issues.push({ ...fault, file: this.file, span: place.span, path: place.path });
  }

  wrongShape(place: Place, expected: Shape): undefined {
    if (isAlias(place.node)) this.add(place, { code: 'alias', text: `*${place.node.source}` });
    else this.add(place, { code: 'wrong-shape', expected, found: shapeOf(place) });
    return undefined;
  }

  /** The entries of a map, without repeated and unknown keys. */
  entries(place: Place, known?: readonly string[]): Map<string, MapEntry> | undefined {
    if (!isMap(place.node)) return this.wrongShape(place, 'map');
    const found = new Map<string, MapEntry>();
    for (const pair of place.node.items) {
      const keyPlace = child(place, pair.key as Node | null, place.path);
      const key = this.word(keyPlace);
      if (key === undefined) continue;
      const path = [...place.path, key.text];
      const at = { ...keyPlace, path };
      if (found.has(key.text)) this.add(at, { code: 'duplicate-key', key: key.text });
      else if (known && !known.includes(key.text)) this.#unknownKey(place.node, at, key.text, known);
      else
        found.set(key.text, { key: { ...key, place: at }, value: child(place, pair.value as Node | null, path, at) });
    }
    return found;
  }

  /** Adds an issue that a map lacks a key, unless a misspelt key that is already reported means it. */
  missingKey(map: Place, at: Place, key: string, known: readonly string[] = []): void {
    if (map.node === null || !this.#meant.get(map.node)?.has(key)) this.add(at, { code: 'missing-key', key, known });
  }

  #unknownKey(map: Node, at: Place, key: string, known: readonly string[]): void {
    const suggestion = suggest(key, known);
    this.add(at, { code: 'unknown-key', key, known, suggestion });
    const meant = this.#meant.get(map) ?? new Set();
    this.#meant.set(map, suggestion === undefined ? meant : meant.add(suggestion));
  }

  /** The items of a list; a single value counts as a list of one. */
  items(place: Place): Place[] | undefined {
    if (isSeq(place.node))
      return this.#nodesOf(place, place.node).map((item, index) => child(place, item, [...place.path, index]));
    if (isNothing(place)) return this.wrongShape(place, 'list');
    return [place];
  }

  /** The items of a list as the parser gave them, and those of runs that it was not given. */
  #nodesOf(place: Place, list: YAMLSeq): (Node | null)[] {
    const nodes = list.items as (Node | null)[];
    const runs = this.#cut.runs.filter(({ start, end }) => start >= place.span.start && end <= place.span.end);
    if (runs.length === 0) return nodes;
    const all: (Node | null)[] = [];
    let at = 0;
    for (const run of runs) {
      for (; (nodes[at]?.range?.[0] ?? run.start) < run.start; at++) all.push(nodes[at] ?? null);
      for (const { start, end, word } of itemsOf(this.#cut.text, run)) {
        const node = new Scalar(word);
        node.type = 'PLAIN';
        node.source = word;
        node.range = [start, end, end];
        all.push(node);
      }
    }
    for (; at < nodes.length; at++) all.push(nodes[at] ?? null);
    return all;
  }

  /** A single value as it was written; numbers and dates are not read as such. */
  word(place: Place): Word | undefined {
    if (!isScalar(place.node) || isNothing(place)) return this.wrongShape(place, 'word');
    const { source, value, type } = place.node;
    const text = type === 'PLAIN' && source !== undefined ? source : String(value);
    return { text: text.trim(), place };
  }

  /** A value that must be one of the known ones. */
  choice<T extends string>(place: Place, known: readonly T[]): T | undefined {
    const word = this.word(place);
    if (word === undefined) return undefined;
    const found = known.find((each) => each === word.text);
    if (found === undefined)
      this.add(place, { code: 'unknown-value', text: word.text, known, suggestion: suggest(word.text, known) });
    return found;
  }
}

/** The place without its node, for the model to keep. */
export const siteOf = ({ span, path }: Place): Site => ({ span, path });

/** True where a map is written. */
export const isMapPlace = (place: Place): boolean => isMap(place.node);

/** True where a map without keys is written. */
export const isEmptyMap = (place: Place): boolean => isMap(place.node) && place.node.items.length === 0;

/** True where a list is written. */
export const isListPlace = (place: Place): boolean => isSeq(place.node);

/** True where nothing is written, or `null`. A `~` is no nothing: it begins an expression. */
export function isNothing(place: Place): boolean {
  return place.node === null || (isScalar(place.node) && place.node.value === null && place.node.source !== '~');
}

function shapeOf(place: Place): Shape {
  if (isMap(place.node)) return 'map';
  if (isSeq(place.node)) return 'list';
  return isNothing(place) ? 'nothing' : 'word';
}

function child(parent: Place, node: Node | null, path: DocumentPath, fallback: Place = parent): Place {
  const range = node?.range;
  return { node, span: range ? { start: range[0], end: range[1] } : fallback.span, path };
}
