import { type Document, isMap, isScalar, isSeq, type Node, type Pair, parseDocument, type YAMLMap } from 'yaml';

/*
 * Edits of the text of one document, each from text to text: comments, and all that is not edited, stay as they are.
 */

export const NO_WRAP = { lineWidth: 0, flowCollectionPadding: false };

/** Lists of words that are longer than this in one line, in letters, are written a line each. */
const LONGEST_FLOW = 100;

/**
 * Sets the value at a path of keys, or takes it out where the value is undefined. Maps on the way that are missing are made.
 * `order` is that of the keys at the top, as people write them; others come last.
 */
export function withValue(
  text: string,
  path: readonly [string, ...string[]],
  value: unknown,
  order: readonly string[] = [],
): string {
  const document = parseDocument(text, { version: '1.2' });
  if (!isMap(document.contents)) document.contents = document.createNode({}) as never;
  let parent: YAMLMap | undefined = document.contents as unknown as YAMLMap;
  let keyOrder = order;
  for (const key of path.slice(0, -1)) {
    parent = mapAt(document, parent, key, keyOrder, value !== undefined);
    if (parent === undefined) return text;
    keyOrder = [];
  }
  const last = path.at(-1) as string;
  if (value !== undefined) setIn(document, parent, last, value, keyOrder);
  else parent.items = parent.items.filter((pair) => !isKey(pair, last));
  return document.toString(NO_WRAP);
}

/** The map below a key; made where there is none and it is needed. */
function mapAt(document: Document, map: YAMLMap, key: string, order: readonly string[], isNeeded: boolean) {
  const found = map.items.find((pair) => isKey(pair, key));
  if (found && isMap(found.value)) return found.value as YAMLMap;
  if (!isNeeded) return undefined;
  const made = document.createNode({}) as YAMLMap;
  if (found) found.value = made;
  else put(document, map, key, made, order);
  return made;
}

function setIn(document: Document, map: YAMLMap, key: string, value: unknown, order: readonly string[]): void {
  const found = map.items.find((pair) => isKey(pair, key));
  if (found) found.value = renewed(document, found.value, value);
  else put(document, map, key, written(document, value), order);
}

function put(document: Document, map: YAMLMap, key: string, node: Node, order: readonly string[]): void {
  // An empty map is in one line only because it has nothing to put in others.
  if (map.items.length === 0) map.flow = false;
  map.items.splice(rankIn(map, key, order), 0, document.createPair(key, node) as never);
}

const isKey = ({ key }: Pair, wanted: string): boolean => (isScalar(key) ? String(key.value) : String(key)) === wanted;

/** Where a key belongs among those that are there. */
function rankIn({ items }: YAMLMap, key: string, order: readonly string[]): number {
  const rank = order.indexOf(key);
  const behind = items.findIndex((pair) => isScalar(pair.key) && order.indexOf(String(pair.key.value)) > rank);
  return behind < 0 || rank < 0 ? items.length : behind;
}

/** The node with another value: what it holds as before stays, with its comments and its style. */
function renewed(document: Document, node: unknown, value: unknown): Node {
  if (isScalar(node) && (value === null || typeof value !== 'object')) {
    node.value = value;
    return node;
  }
  if (isSeq(node) && Array.isArray(value)) {
    const left = [...(node.items as Node[])];
    node.items = value.map((each) => {
      const same = left.findIndex((item) => isScalar(item) && item.value === each);
      return same < 0 ? written(document, each) : (left.splice(same, 1)[0] as Node);
    });
    if (node.items.length === 0) node.flow = true;
    return node;
  }
  if (isMap(node) && value !== null && typeof value === 'object' && !Array.isArray(value)) {
    node.items = Object.entries(value)
      .filter(([, each]) => each !== undefined)
      .map(([key, each]) => {
        const found = node.items.find((pair) => isKey(pair, key));
        if (!found) return document.createPair(key, written(document, each)) as never;
        found.value = renewed(document, found.value, each) as never;
        return found;
      });
    return node;
  }
  return written(document, value);
}

/** A new node as people mostly write it: maps and lists in one line, but for lists that are long. */
function written(document: Document, value: unknown): Node {
  const node = document.createNode(value) as Node;
  if (!(isSeq(node) && isLong(value))) flow(node);
  return node;
}

const isLong = (value: unknown): boolean => JSON.stringify(value).length > LONGEST_FLOW;

/** Maps and lists in one line. */
function flow(node: unknown): void {
  if (isMap(node) || isSeq(node)) {
    node.flow = true;
    for (const item of node.items) flow('value' in (item as object) ? (item as { value: unknown }).value : item);
  }
}
