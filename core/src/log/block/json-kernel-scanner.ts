import { hashSecrets, tupleKey } from '../../column/index.js';
import type { ScanCalls } from '../../kernel/index.js';
import type { BatchScanner } from './batch-scanner.js';
import { INSIDE, type JsonTree } from './json-tree.js';
import type { LineBatch } from './line-batch.js';

/** More distinct keys than these, of the lines themselves and of what is inside them, and lines with new ones are left. */
const MOST_KEYS = 4096;
const MOST_INNER_KEYS = 512;
const IGNORED_ROOM = 16_384;
/** Words of the record, and those of them that name a key that is not known. */
const WORDS = 9;
const UNKNOWN_AT = 6;
const UNKNOWN_LENGTH = 7;
const UNKNOWN_NODE = 8;
/** Words of a node, two of them by name, and of what a value is. */
const NODE_WORDS = 11;
const KNOWN = 1;
const MEANINGS = 3;
const MEANING_WORDS = 3;

const decoder = new TextDecoder();

/** What is known of a node of the kernel: its place in the lines, and the names of its keys. */
interface Node {
  readonly path: readonly string[];
  readonly names: string[];
}

/** Scans lines of JSON in a kernel, which stops at a key that it does not know until that is learned. */
export class JsonKernelScanner implements BatchScanner {
  readonly #scan: ScanCalls;
  readonly #batch: LineBatch;
  readonly #tree: JsonTree;
  /** By their pointers; and these by path, since what is inside a name is the same in an object and in a list. */
  readonly #nodes = new Map<number, Node>();
  readonly #inside = new Map<string, number>();
  readonly #arenas: number[] = [];
  readonly #pointers: number[] = [];
  readonly #root: Node = { path: [], names: [] };
  readonly #record: number;
  readonly #ignored: number;
  readonly #ignoredEnds: number;
  readonly #founds: number;
  /** The ignored keys of the lines at hand, and where those of each line end; the places that each line has, as bits. */
  #keys: Uint32Array = new Uint32Array(0);
  #ends: Uint32Array = new Uint32Array(0);
  #found: Uint32Array = new Uint32Array(0);
  /** How many ignored keys they have together. */
  #count = 0;

  /** For one block; `end` gives the memory back. */
  constructor(scan: ScanCalls, batch: LineBatch, tree: JsonTree) {
    this.#scan = scan;
    this.#batch = batch;
    this.#tree = tree;
    const root = this.#node(this.#root, MOST_KEYS);
    this.#ignored = this.#allocate(IGNORED_ROOM);
    this.#ignoredEnds = this.#allocate(batch.most);
    this.#founds = this.#allocate(batch.most);
    this.#record = this.#keep([root, this.#ignored, this.#ignoredEnds, IGNORED_ROOM, this.#founds, 0, 0, 0, 0]);
  }

  scan({ kernel, bytes, record }: LineBatch, _: number, from: number, length: number): number {
    const { start, spread } = hashSecrets();
    for (;;) {
      const count = this.#scan.scanJson(bytes, from, length, record, this.#record, start, spread);
      const unknown = kernel.words(this.#record, WORDS);
      const at = unknown[UNKNOWN_AT] as number;
      if (at !== 0) {
        const name = decoder.decode(kernel.bytes(bytes + at, unknown[UNKNOWN_LENGTH] as number));
        this.#learn(unknown[UNKNOWN_NODE] as number, name);
      }
      if (at === 0 || count > 0) return this.#scanned(count);
    }
  }

  eachIgnored(line: number, take: (name: string) => void): void {
    if (this.#count === 0) return;
    this.#view();
    const end = this.#ends[line] as number;
    for (let at = line === 0 ? 0 : (this.#ends[line - 1] as number); at < end; at++)
      take(this.#root.names[this.#keys[at] as number] as string);
  }

  eachMissing(line: number, take: (field: string) => void): void {
    this.#view();
    this.#tree.eachMissing(this.#found[line] as number, take);
  }

  end(): void {
    const { calls } = this.#batch.kernel;
    for (const arena of this.#arenas) calls.releaseArena(arena);
    for (const pointer of this.#pointers) calls.release(pointer);
  }

  #scanned(count: number): number {
    this.#view();
    this.#count = this.#ends[count - 1] as number;
    return count;
  }

  /** Makes the views valid again, where the memory of the kernel has grown. */
  #view(): void {
    const { kernel, most } = this.#batch;
    if (this.#ends.length > 0) return;
    this.#ends = kernel.words(this.#ignoredEnds, most);
    this.#keys = kernel.words(this.#ignored, IGNORED_ROOM);
    this.#found = kernel.words(this.#founds, most);
  }

  /** Writes down what the value of a key is, which is the next of its node. */
  #learn(pointer: number, name: string): void {
    const { kernel } = this.#batch;
    const { path, names } = this.#nodes.get(pointer) as Node;
    const meaning = this.#meaning(path, name);
    const node = kernel.words(pointer, NODE_WORDS);
    const known = node[KNOWN] as number;
    kernel.write((node[MEANINGS] as number) + known * MEANING_WORDS * 4, Int32Array.from(meaning));
    node[KNOWN] = known + 1;
    names.push(name);
  }

  #meaning(path: readonly string[], name: string): number[] {
    const { purpose, place } = this.#tree.member(path, name);
    return [purpose, place, purpose === INSIDE ? this.#nodeAt([...path, name]) : 0];
  }

  #nodeAt(path: readonly string[]): number {
    const key = tupleKey(path);
    const known = this.#inside.get(key) ?? this.#node({ path, names: [] }, MOST_INNER_KEYS);
    this.#inside.set(key, known);
    return known;
  }

  /** A pointer to a new node that may have so many keys. */
  #node(node: Node, most: number): number {
    const { kernel } = this.#batch;
    const arena = kernel.calls.newArena();
    this.#arenas.push(arena);
    const elements = this.#tree
      .elements(node.path)
      .flatMap((each) => [each, ...this.#meaning(node.path, String(each))]);
    const met = this.#keep(Array<number>(most).fill(0));
    const words = [most * MEANING_WORDS, most + 1, most, most].map((count) => this.#allocate(count));
    const [meanings, next, ats, lengths] = words as [number, number, number, number];
    const list = [this.#keep(elements), elements.length / (MEANING_WORDS + 1)] as const;
    const pointer = this.#keep([arena, 0, most, meanings, met, next, 0, ats, lengths, ...list]);
    this.#nodes.set(pointer, node);
    return pointer;
  }

  #allocate(words: number): number {
    const pointer = this.#batch.kernel.calls.allocate(words * 4);
    this.#pointers.push(pointer);
    return pointer;
  }

  #keep(words: readonly number[]): number {
    const pointer = this.#batch.kernel.keep(Int32Array.from(words));
    this.#pointers.push(pointer);
    return pointer;
  }
}
