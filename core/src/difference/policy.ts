import { formatTerm, type Term } from '../condition/index.js';
import { type ClientSource, defaultSentence, type Policy, type Rule, ruleSentence } from '../policy/index.js';
import { formatRedaction } from '../redact/index.js';
import { movesBetween } from './order.js';
import { quoted, setWords, textWords } from './words.js';

/** The differences between two states of one policy, a sentence each. */
export function policyWords(before: Policy, after: Policy): string[] {
  return [
    ...coverWords(before, after),
    ...clientWords(before.client, after.client),
    ...stanceWords(before, after),
    ...ruleWords(before.rules, after.rules),
    ...textWords('the default', defaultSentence(before), defaultSentence(after)),
    ...setWords('what is hidden of its requests', formatRedaction(before.redact), formatRedaction(after.redact)),
    ...textWords('its note', before.note, after.note),
  ];
}

function ruleWords(before: readonly Rule[], after: readonly Rule[]): string[] {
  const names = (rules: readonly Rule[]) => rules.map(({ name }) => name);
  const old = new Map(before.map((rule) => [rule.name, rule]));
  const known = new Set(names(after));
  const added = after.flatMap((rule, place) =>
    old.has(rule.name) ? [] : [`rule ${quoted(rule.name)} added ${placeOf(after, place)}: ${ruleSentence(rule)}`],
  );
  const removed = before
    .filter(({ name }) => !known.has(name))
    .map((rule) => `rule ${quoted(rule.name)} removed: ${ruleSentence(rule)}`);
  const moved = movesBetween(names(before), names(after)).map(
    ({ name, side, of }) => `rule ${quoted(name)} moved ${side} ${quoted(of)}`,
  );
  const changed = after.flatMap((rule) => {
    const was = old.get(rule.name);
    if (was === undefined) return [];
    const what = `rule ${quoted(rule.name)}`;
    return [
      ...textWords(what, ruleSentence(was), ruleSentence(rule)),
      ...textWords(`the note of ${what}`, was.note, rule.note),
    ];
  });
  return [...removed, ...added, ...moved, ...changed];
}

function placeOf(rules: readonly Rule[], place: number): string {
  const below = rules[place + 1];
  return below ? `above ${quoted(below.name)}` : 'as the last';
}

function stanceWords(before: Policy, after: Policy): string[] {
  return before.stance === after.stance ? [] : [`its stance was ${before.stance}; it is ${after.stance}`];
}

function coverWords(before: Policy, after: Policy): string[] {
  return [
    ...setWords('the hosts that it covers', before.covers.hosts.map(formatTerm), after.covers.hosts.map(formatTerm)),
    ...setWords(
      'the clients that it covers',
      before.covers.clients.map(formatTerm),
      after.covers.clients.map(formatTerm),
    ),
  ];
}

function clientWords(before: ClientSource, after: ClientSource): string[] {
  const source = (client: ClientSource) => (client.from === 'header' ? `the header ${client.header}` : client.from);
  const trusted = (client: ClientSource): Term[] => ('trust' in client ? [...client.trust] : []);
  return [
    ...textWords('where it takes the client from', source(before), source(after)),
    ...setWords('whom it trusts', trusted(before).map(formatTerm), trusted(after).map(formatTerm)),
  ];
}
