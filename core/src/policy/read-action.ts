import {
  isMapPlace,
  type MapEntry,
  type Place,
  readDuration,
  readName,
  readReference,
  readWholeNumber,
  type Sink,
} from '../text/index.js';
import { parseUrl } from '../url/index.js';
import { type Action, type ActionType, type FinalAction, VERDICTS } from './action.js';

const ACTIONS = [...VERDICTS, 'tag'] as const satisfies readonly ActionType[];
const FORBIDDEN = 403;
const FOUND = 302;
const HOUR = 3_600_000;
const LEAST_LASTS = 1000;
const MOST_LASTS = 366 * 24 * HOUR;
const LONGEST_URL = 2000;
const MOST_TAGS = 32;

type Entries = ReadonlyMap<string, MapEntry>;

/** Reads `then`: a word, or a map of one word and what it needs. */
export function readAction(sink: Sink, place: Place): Action | undefined {
  if (!isMapPlace(place)) return readWord(sink, place);
  const [first, ...others] = sink.entries(place, ACTIONS)?.values() ?? [];
  for (const { key } of others) sink.add(key.place, { code: 'second-action', text: key.text });
  return first && readMap(sink, first.key.text as ActionType, first);
}

/** Reads `default`, which takes every final action. */
export function readFinalAction(sink: Sink, place: Place): FinalAction | undefined {
  const action = readAction(sink, place);
  if (action?.type !== 'tag') return action;
  sink.add(place, { code: 'unknown-value', text: 'tag', known: VERDICTS, suggestion: undefined });
  return undefined;
}

function readWord(sink: Sink, place: Place): Action | undefined {
  const word = sink.choice(place, ACTIONS);
  switch (word) {
    case undefined:
      return undefined;
    case 'allow':
    case 'challenge':
    case 'block':
    case 'confirm':
      return build(sink, word, new Map(), place);
    case 'redirect':
    case 'unlock':
    case 'tag':
      sink.add(place, { code: 'incomplete-action', text: word });
      return undefined;
  }
}

const KEYS: Record<Exclude<ActionType, 'allow' | 'tag'>, readonly string[]> = {
  block: ['status', 'notice'],
  redirect: ['to', 'status'],
  challenge: ['notice'],
  confirm: ['for', 'notice'],
  unlock: ['passcode', 'for', 'notice'],
};

function readMap(sink: Sink, type: ActionType, { key, value }: MapEntry): Action | undefined {
  if (type === 'allow') {
    sink.add(key.place, { code: 'bare-action', text: 'allow' });
    return undefined;
  }
  if (type === 'tag') return readTags(sink, value);
  // A redirect to an address needs no more than that, and an unlock its passcode.
  if (!isMapPlace(value) && type === 'redirect') return build(sink, type, new Map([['to', { key, value }]]), value);
  if (!isMapPlace(value) && type === 'unlock') return build(sink, type, new Map([['passcode', { key, value }]]), value);
  const entries = sink.entries(value, KEYS[type]);
  return entries && build(sink, type, entries, value);
}

function build(sink: Sink, type: FinalAction['type'], entries: Entries, place: Place): FinalAction | undefined {
  const notice = readReference(sink, entries.get('notice')?.value);
  const lasts = readDuration(sink, entries.get('for'), LEAST_LASTS, MOST_LASTS) ?? HOUR;
  switch (type) {
    case 'allow':
      return { type };
    case 'block':
      return {
        type,
        status: readWholeNumber(sink, entries.get('status'), 'a status of HTTP', 400, 599) ?? FORBIDDEN,
        notice,
      };
    case 'challenge':
      return { type, notice };
    case 'confirm':
      return { type, lasts, notice };
    case 'redirect': {
      const to = readTarget(sink, entries.get('to'), place);
      const status = readWholeNumber(sink, entries.get('status'), 'a status of a redirect', 300, 308) ?? FOUND;
      return to === undefined ? undefined : { type, to, status };
    }
    case 'unlock': {
      const passcode = readReference(sink, entries.get('passcode')?.value)?.name;
      if (!entries.has('passcode')) sink.missingKey(place, place, 'passcode');
      return passcode === undefined ? undefined : { type, passcode, lasts, notice };
    }
  }
}

function readTags(sink: Sink, place: Place): Action | undefined {
  const items = sink.items(place) ?? [];
  if (items.length > MOST_TAGS) sink.add(place, { code: 'too-many', what: 'tags in one rule', limit: MOST_TAGS });
  const tags = items.flatMap((item) => readName(sink, item)?.text ?? []);
  if (items.length === 0) sink.add(place, { code: 'empty-condition' });
  return tags.length > 0 ? { type: 'tag', tags } : undefined;
}

/** An absolute URL of the web; anything else could run as a script or lead nowhere. */
function readTarget(sink: Sink, entry: MapEntry | undefined, place: Place): string | undefined {
  if (entry === undefined) {
    sink.missingKey(place, place, 'to');
    return undefined;
  }
  const text = sink.word(entry.value)?.text;
  if (text === undefined) return undefined;
  if (/^https?:\/\/[^\s]+$/i.test(text) && text.length <= LONGEST_URL && parseUrl(text)) return text;
  sink.add(entry.value, { code: 'bad-redirect', text });
  return undefined;
}
