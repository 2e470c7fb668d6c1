import { isNothing, type MapEntry, type Place, readName, type Sink, type TextDocument } from '../text/index.js';
import { readClientSource } from './client-source.js';
import { readConditions } from './conditions.js';
import { type Covers, IF_BLIND, type IfBlind, type Policy, type Rule, STANCES, VERDICTS } from './policy.js';
import { readAddressTerm, readHostTerm, type TermReader } from './terms.js';

const POLICY_KEYS = ['policy', 'note', 'covers', 'client', 'default', 'stance', 'rules'];
const RULE_KEYS = ['rule', 'note', 'when', 'unless', 'if-blind', 'then', 'stance'];
const MOST_RULES = 2_000;

/** What reports and filters call the policy's default. */
const DEFAULT_RULE = 'default';

type Entries = Map<string, MapEntry>;

/** Reads a `policy` document; undefined where its name cannot be told. */
export function readPolicy({ root, sink }: TextDocument): Policy | undefined {
  const entries = sink.entries(root, POLICY_KEYS);
  const nameEntry = entries?.get('policy');
  if (entries === undefined || nameEntry === undefined) return undefined;
  const name = readName(sink, nameEntry.value)?.text;
  const verdict = required(sink, entries, 'default', { map: root, at: nameEntry.key.place }, VERDICTS);
  const policy: Omit<Policy, 'name'> = {
    type: 'policy',
    file: sink.file,
    note: readNote(sink, entries),
    covers: readCovers(sink, entries.get('covers')?.value),
    client: readClientSource(sink, entries.get('client')),
    default: verdict ?? 'block',
    stance: readStance(sink, entries),
    rules: readRules(sink, entries.get('rules')?.value, name ?? ''),
  };
  return name === undefined ? undefined : { ...policy, name };
}

function readRules(sink: Sink, place: Place | undefined, policy: string): Rule[] {
  if (place === undefined || isNothing(place)) return [];
  const items = sink.items(place) ?? [];
  if (items.length > MOST_RULES) {
    sink.add(place, { code: 'too-many', what: 'rules in one policy', limit: MOST_RULES });
    return [];
  }
  const seen = new Set<string>();
  return items.flatMap((item) => {
    const rule = readRule(sink, item);
    if (rule === undefined) return [];
    if (rule.name !== '' && seen.has(rule.name)) sink.add(item, { code: 'duplicate-rule', name: rule.name, policy });
    seen.add(rule.name);
    return [rule];
  });
}

function readRule(sink: Sink, place: Place): Rule | undefined {
  const entries = sink.entries(place, RULE_KEYS);
  if (entries === undefined) return undefined;
  const nameEntry = entries.get('rule');
  if (nameEntry === undefined) sink.missingKey(place, place, 'rule');
  const name = nameEntry && readName(sink, nameEntry.value)?.text;
  if (name === DEFAULT_RULE) sink.add(nameEntry?.value ?? place, { code: 'reserved-name', text: name });
  const then = required(sink, entries, 'then', { map: place, at: nameEntry?.key.place ?? place }, VERDICTS);
  // A rule whose name or verdict is faulty is kept, so that the names of lists in it are looked up all the same.
  return {
    name: name ?? '',
    then: then ?? 'block',
    note: readNote(sink, entries),
    when: readConditions(sink, entries.get('when')?.value),
    unless: readConditions(sink, entries.get('unless')?.value),
    stance: readStance(sink, entries),
    ifBlind: readIfBlind(sink, entries),
    span: place.span,
  };
}

function required<T extends string>(
  sink: Sink,
  entries: Entries,
  key: string,
  { map, at }: { readonly map: Place; readonly at: Place },
  known: readonly T[],
): T | undefined {
  const entry = entries.get(key);
  if (entry !== undefined) return sink.choice(entry.value, known);
  sink.missingKey(map, at, key, known);
  return undefined;
}

function readNote(sink: Sink, entries: Entries): string | undefined {
  const entry = entries.get('note');
  return entry && sink.word(entry.value)?.text;
}

function readStance(sink: Sink, entries: Entries): Policy['stance'] {
  const entry = entries.get('stance');
  return (entry && sink.choice(entry.value, STANCES)) ?? 'enforce';
}

function readIfBlind(sink: Sink, entries: Entries): IfBlind {
  const entry = entries.get('if-blind');
  return (entry && sink.choice(entry.value, IF_BLIND)) ?? 'no-match';
}

function readCovers(sink: Sink, place: Place | undefined): Covers {
  const entries = place && sink.entries(place, ['hosts', 'clients']);
  return {
    hosts: readTerms(sink, entries?.get('hosts')?.value, readHostTerm),
    clients: readTerms(sink, entries?.get('clients')?.value, readAddressTerm),
  };
}

function readTerms<T>(sink: Sink, place: Place | undefined, read: TermReader<T>): T[] {
  if (place === undefined || isNothing(place)) return [];
  return (sink.items(place) ?? []).flatMap((item) => read(sink, item) ?? []);
}
