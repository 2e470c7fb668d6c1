import type { Entry, List } from '../list/index.js';
import { type Policy, type Rule, ruleSentence } from '../policy/index.js';
import type { WorkspaceObject } from '../workspace/index.js';
import { wholeWords } from './difference.js';
import { counted } from './list.js';
import { policyWords } from './policy.js';
import { quoted, some, textWords } from './words.js';

/**
 * What is lost of the edits between two states of an object where a third is put in its place, a sentence each; none where
 * the third has all of them.
 *
 * @param base the state that was edited; undefined where the object was not there
 * @param current what the edits made of it
 * @param next what it is to be; undefined where it is to be removed
 */
export function lostWords(
  base: WorkspaceObject | undefined,
  current: WorkspaceObject,
  next: WorkspaceObject | undefined,
): string[] {
  if (next === undefined) return ['it would be removed, as it was changed since'];
  if (current.type === 'list' && next.type === 'list') return lostOfList(base as List | undefined, current, next);
  if (current.type === 'policy' && next.type === 'policy')
    return lostOfPolicy(base as Policy | undefined, current, next);
  const sentences = [base, current, next].map((each) => each && wholeWords({ object: each }));
  const [was, is, willBe] = sentences;
  return is === was || is === willBe ? [] : textWords('it', is, willBe);
}

function lostOfList(base: List | undefined, current: List, next: List): string[] {
  const texts = (list: List | undefined) => new Set(list?.entries.map(({ text }) => text));
  const [old, now, then] = [texts(base), texts(current), texts(next)];
  const added = current.entries.filter(({ text }) => !old.has(text) && !then.has(text));
  const removed = next.entries.filter(({ text }) => old.has(text) && !now.has(text));
  return [
    ...(added.length > 0 ? [`${counted(current, added)} added since would be gone: ${named(added)}`] : []),
    ...(removed.length > 0 ? [`${counted(next, removed)} taken out since would be back: ${named(removed)}`] : []),
  ];
}

const named = (entries: readonly Entry<unknown>[]): string => some(entries.map(({ text }) => text));

function lostOfPolicy(base: Policy | undefined, current: Policy, next: Policy): string[] {
  const byName = (policy: Policy | undefined) => new Map(policy?.rules.map((rule) => [rule.name, rule]));
  const [old, now, then] = [byName(base), byName(current), byName(next)];
  const same = (a: Rule | undefined, b: Rule | undefined) =>
    (a && ruleSentence(a)) === (b && ruleSentence(b)) && a?.note === b?.note;
  const edited = current.rules.filter((rule) => !same(rule, old.get(rule.name)) && !same(rule, then.get(rule.name)));
  const removed = next.rules.filter(({ name }) => old.has(name) && !now.has(name));
  const others = (to: Policy): string[] =>
    base === undefined ? [] : policyWords({ ...base, rules: [] }, { ...to, rules: [] });
  const kept = new Set(others(next));
  return [
    ...edited.map((rule) => {
      const what = `rule ${quoted(rule.name)}, which was ${old.has(rule.name) ? 'changed' : 'added'} since`;
      return `${what}, would be ${then.has(rule.name) ? 'overwritten' : 'gone'}: ${ruleSentence(rule)}`;
    }),
    ...removed.map(({ name }) => `rule ${quoted(name)}, which was removed since, would be back`),
    ...others(current)
      .filter((words) => !kept.has(words))
      .map((words) => `it would be as before: ${words}`),
  ];
}
