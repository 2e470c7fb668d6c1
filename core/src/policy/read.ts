import { readAddressTerm, readConditions, readHostTerm, readTerms } from '../condition/index.js';
import { readLimit } from '../limit/index.js';
import { NO_REDACTION, REDACTION_FORMS, type Redaction, redactedByAny, tryRedaction } from '../redact/index.js';
import {
  isNothing,
  type MapEntry,
  type Place,
  readChoiceOr,
  readName,
  readNote,
  type Sink,
  type TextDocument,
} from '../text/index.js';
import { DEFAULT_PATHS, type PathSettings } from '../url/index.js';
import { type Action, type FinalAction, VERDICTS } from './action.js';
import { readClientSource } from './client-source.js';
import { type Covers, type DestinationSettings, IF_BLIND, type Policy, RECORDS, type Rule, STANCES } from './policy.js';
import { readAction, readFinalAction } from './read-action.js';

const POLICY_KEYS = [
  'policy',
  'note',
  'covers',
  'client',
  'destinations',
  'paths',
  'default',
  'stance',
  'redact',
  'rules',
];
const RULE_KEYS = ['rule', 'note', 'when', 'unless', 'limit', 'if-blind', 'then', 'stance', 'record'];
const BLOCK: FinalAction = { type: 'block', status: 403, notice: undefined };
const MOST_RULES = 2_000;

/** The name of a policy's default in reports and filters. */
const DEFAULT_RULE = 'default';

type Entries = Map<string, MapEntry>;

/** Reads a `policy` document; undefined when it has no readable name. */
export function readPolicy({ root, sink }: TextDocument): Policy | undefined {
  const entries = sink.entries(root, POLICY_KEYS);
  const nameEntry = entries?.get('policy');
  if (entries === undefined || nameEntry === undefined) return undefined;
  const name = readName(sink, nameEntry.value)?.text;
  const action = required(sink, entries, 'default', { map: root, at: nameEntry.key.place }, readFinalAction);
  const policy: Omit<Policy, 'name'> = {
    type: 'policy',
    file: sink.file,
    note: readNote(sink, entries),
    covers: readCovers(sink, entries.get('covers')?.value),
    client: readClientSource(sink, entries.get('client')),
    destinations: readDestinations(sink, entries.get('destinations')?.value),
    paths: readPaths(sink, entries.get('paths')?.value),
    default: action ?? BLOCK,
    stance: readChoiceOr(sink, entries, 'stance', STANCES, 'enforce'),
    rules: readRules(sink, entries.get('rules')?.value, name ?? ''),
    redact: readRedaction(sink, entries.get('redact')?.value),
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
  const then = required(sink, entries, 'then', { map: place, at: nameEntry?.key.place ?? place }, readAction);
  // A rule whose name or verdict is faulty is kept, so that the names of lists in it are looked up all the same.
  return {
    name: name ?? '',
    then: then ?? BLOCK,
    note: readNote(sink, entries),
    when: readConditions(sink, entries.get('when')?.value),
    unless: readConditions(sink, entries.get('unless')?.value),
    limit: readLimit(sink, entries.get('limit')),
    stance: readChoiceOr(sink, entries, 'stance', STANCES, 'enforce'),
    record: readChoiceOr(sink, entries, 'record', RECORDS, 'log'),
    ifBlind: readChoiceOr(sink, entries, 'if-blind', IF_BLIND, 'no-match'),
    span: place.span,
  };
}

function required<A extends Action>(
  sink: Sink,
  entries: Entries,
  key: string,
  { map, at }: { readonly map: Place; readonly at: Place },
  read: (sink: Sink, place: Place) => A | undefined,
): A | undefined {
  const entry = entries.get(key);
  if (entry !== undefined) return read(sink, entry.value);
  sink.missingKey(map, at, key, VERDICTS);
  return undefined;
}

function readRedaction(sink: Sink, place: Place | undefined): Redaction {
  if (place === undefined || isNothing(place)) return NO_REDACTION;
  const redactions = (sink.items(place) ?? []).flatMap((item) => {
    const word = sink.word(item);
    if (word === undefined) return [];
    const redaction = tryRedaction(word.text);
    if (redaction === undefined)
      sink.add(word.place, { code: 'bad-redaction', text: word.text, known: REDACTION_FORMS });
    return redaction ?? [];
  });
  return redactedByAny(redactions);
}

function readDestinations(sink: Sink, place: Place | undefined): DestinationSettings {
  const entries = place && !isNothing(place) ? sink.entries(place, ['resolve']) : undefined;
  return {
    resolve: entries !== undefined && readChoiceOr(sink, entries, 'resolve', ['true', 'false'], 'false') === 'true',
  };
}

function readPaths(sink: Sink, place: Place | undefined): PathSettings {
  const entries = place && !isNothing(place) ? sink.entries(place, ['slashes', 'case', 'parameters']) : undefined;
  if (entries === undefined) return DEFAULT_PATHS;
  return {
    slashes: readChoiceOr(sink, entries, 'slashes', ['merge', 'keep'], DEFAULT_PATHS.slashes),
    case: readChoiceOr(sink, entries, 'case', ['keep', 'ignore'], DEFAULT_PATHS.case),
    parameters: readChoiceOr(sink, entries, 'parameters', ['keep', 'drop'], DEFAULT_PATHS.parameters),
  };
}

function readCovers(sink: Sink, place: Place | undefined): Covers {
  const entries = place && sink.entries(place, ['hosts', 'clients']);
  return {
    hosts: readTerms(sink, entries?.get('hosts')?.value, readHostTerm),
    clients: readTerms(sink, entries?.get('clients')?.value, readAddressTerm),
  };
}
