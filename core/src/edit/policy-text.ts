import {
  Document,
  isMap,
  isNode,
  isScalar,
  isSeq,
  LineCounter,
  type Node,
  parseDocument,
  type YAMLMap,
  type YAMLSeq,
} from 'yaml';
import { NO_WRAP, withValue } from './document-text.js';
import { ruleLines, ruleSlice } from './rule-slice.js';
import { joined, rulesIn } from './rule-slices.js';

/*
 * Edits of a policy's text, each from text to text: comments, and all that is not edited, stay as they are.
 */

/** The texts of the rules, in order; each a map of YAML. */
export function ruleTexts(policy: string): string[] {
  const own = rulesIn(policy)?.rules.map(ruleSlice);
  if (own?.every((slice) => slice !== undefined)) return own.map(({ rule }) => rule);
  return itemsOf(parseDocument(policy)).map((item) => {
    const own = new Document();
    own.contents = item as never;
    return own.toString(NO_WRAP);
  });
}

/** The place of a rule by its name; -1 where there is none. */
export const placeOf = (policy: string, rule: string): number =>
  itemsOf(parseDocument(policy)).findIndex((item) => nameOf(item) === rule);

/** The line of the rule at a place that a line of the whole policy is, from 1; undefined for one that is not of it. */
export function lineInRule(policy: string, place: number, line: number): number | undefined {
  const lineCounter = new LineCounter();
  const range = itemsOf(parseDocument(policy, { lineCounter }))[place]?.range;
  if (!range) return undefined;
  const [first, last] = [lineCounter.linePos(range[0]).line, lineCounter.linePos(range[1]).line];
  return line >= first && line <= last ? line - first + 1 : undefined;
}

/** Moves the rule at a place to another. */
export function withMoved(policy: string, from: number, to: number): string {
  const slices = rulesIn(policy);
  if (slices) return joined({ ...slices, rules: moved(slices.rules, from, to) });
  return edited(policy, (items) => void items.splice(0, items.length, ...moved(items, from, to)));
}

function moved<T>(items: readonly T[], from: number, to: number): T[] {
  const left = [...items];
  left.splice(to, 0, ...left.splice(from, 1));
  return left;
}

/** Takes a rule out, with the comments right above it. */
export function withoutRule(policy: string, place: number): string {
  const slices = rulesIn(policy);
  if (slices && slices.rules.length > 1 && place in slices.rules)
    return joined({ ...slices, rules: slices.rules.toSpliced(place, 1) });
  return edited(policy, (items) => void items.splice(place, 1));
}

/** Puts a rule in the place of another; all else stays to the letter. */
export function withRule(policy: string, place: number, rule: string): string {
  const slices = rulesIn(policy);
  const own = slices && ruleSlice(slices.rules[place] ?? '');
  if (slices && own && isOneMap(rule)) {
    const text = own.above + ruleLines(rule, indentOf(slices.rules[place] as string)) + own.behind;
    return joined({ ...slices, rules: slices.rules.with(place, text) });
  }
  return edited(policy, (items) => {
    const before = items[place];
    const node = nodeOf(rule);
    if (isNode(before) && isNode(node)) {
      node.spaceBefore = before.spaceBefore === true;
      if (before.commentBefore) node.commentBefore = before.commentBefore;
    }
    items[place] = node;
  });
}

/** Adds a rule at a place; the others go down. */
export function withAdded(policy: string, place: number, rule: string): string {
  const slices = rulesIn(policy);
  if (!slices || !isOneMap(rule)) return edited(policy, (items) => void items.splice(place, 0, nodeOf(rule)));
  const { rules } = slices;
  const added = ruleLines(rule, indentOf(rules[0] as string));
  const isApart = rules.some((each) => /\n[ ]*\n$/.test(each));
  const apart = (text: string) => (isApart && !/\n[ ]*\n$/.test(text) ? `${text}\n` : text);
  const before = rules.slice(0, place);
  const behind = rules.slice(place);
  const last = before.at(-1);
  return joined({
    ...slices,
    rules: [
      ...before.slice(0, -1),
      ...(last === undefined ? [] : [apart(last)]),
      behind.length > 0 ? apart(added) : added,
      ...behind,
    ],
  });
}

/** The indentation of the rules, as the spaces in front of them. */
const indentOf = (slice: string): string => /^( *)- /m.exec(slice)?.[1] ?? '';

/** Whether a text is one map, which can be put among the lines of a policy unchanged. */
function isOneMap(rule: string): boolean {
  if (/^(?:---|\.\.\.|%)|\t|\r/m.test(rule)) return false;
  const document = parseDocument(rule, { version: '1.2' });
  return document.errors.length === 0 && isMap(document.contents);
}

/** Sets a key of a rule, or takes it out where there is no value; `order` is that of its keys. */
export const withKey = (rule: string, key: string, value: unknown, order: readonly string[] = ORDER): string =>
  withValue(rule, [key], value, order);

/** The keys of a rule as people write them. */
const ORDER = ['rule', 'note', 'when', 'unless', 'limit', 'if-blind', 'then', 'stance', 'record'];

/** A rule, by its text, as a policy can take it beside its own: with another name where one of them has its name. */
export function copyFor(policy: string, rule: string): string {
  const names = new Set(itemsOf(parseDocument(policy)).map(nameOf));
  const name = nameOf(nodeOf(rule)) ?? 'rule';
  if (!names.has(name)) return rule;
  let number = 2;
  while (names.has(`${name}-${number}`)) number++;
  return withKey(rule, 'rule', `${name}-${number}`);
}

function edited(policy: string, edit: (items: Node[]) => void): string {
  const document = parseDocument(policy, { version: '1.2' });
  const items = itemsOf(document);
  edit(items);
  const rules = document.get('rules');
  // Comments of a list of none would come in front of its brackets.
  if (isSeq(rules) && items.length > 0) {
    // The first rule of `rules: []` begins a list of lines.
    if (rules.items.length === 0) rules.flow = false;
    (rules as YAMLSeq).items = items;
  } else document.set('rules', items);
  // As people write them, unless those that are there are written otherwise.
  const isFlush = /^rules:[^\n]*\n(?:\s*(?:#[^\n]*)?\n)*-/m.test(policy);
  return document.toString({ ...NO_WRAP, indentSeq: !isFlush });
}

function itemsOf(document: Document.Parsed): Node[] {
  const rules = document.get('rules');
  return isSeq(rules) ? [...(rules.items as Node[])] : [];
}

function nodeOf(rule: string): Node {
  const node = parseDocument(rule, { version: '1.2' }).contents as YAMLMap;
  if (isMap(node)) node.flow = false;
  return node;
}

function nameOf(item: unknown): string | undefined {
  const name = isMap(item) ? item.get('rule', true) : undefined;
  return isScalar(name) ? String(name.value) : undefined;
}
