import { isRangeFault, tryRange } from '../address/index.js';
import { isCountryCode } from '../country/index.js';
import { tryDomainPattern } from '../domain/index.js';
import type { Fault, Site } from '../issue/index.js';
import { addressFault, hostFault, suggestCountry, textFault, tryUser, urlFault } from '../list/index.js';
import { isTextPatternFault, tryTextPattern } from '../pattern/index.js';
import { isName, isNothing, type Place, type Sink, siteOf } from '../text/index.js';
import { isPathFault, isUrlFault, tryPathPattern, tryUrlPattern } from '../url/index.js';
import type {
  AddressTerm,
  CountryTerm,
  HostTerm,
  ListTerm,
  NameTerm,
  NoneTerm,
  PathTerm,
  PortTerm,
  SizeTerm,
  TextTerm,
  TokenTerm,
  UrlTerm,
  UserTerm,
} from './condition.js';
import { trySize } from './size.js';

/** Reads one value of a field from its text; adds a fault to the sink and returns undefined when it is invalid. */
export type TermReader<T> = (sink: Sink, place: Place) => T | undefined;

/** Terms outside of conditions: a list, or one by itself; nothing is none. */
export function readTerms<T>(sink: Sink, place: Place | undefined, read: TermReader<T>): T[] {
  if (place === undefined || isNothing(place)) return [];
  return (sink.items(place) ?? []).flatMap((item) => read(sink, item) ?? []);
}

/** Tests of texts take these; other fields have no value of that name. */
const PRESENCE: readonly string[] = ['present', 'absent'];
const TOKEN = /^[!#$%&'*+.^_`|~0-9A-Za-z-]+$/;
const LONGEST_METHOD = 32;
const LAST_PORT = 65_535;

export const readAddressTerm: TermReader<AddressTerm> = reader<AddressTerm>((text, at) => {
  const list = listTerm(text, at, isName(text) && !/^[0-9]+$/.test(text) && !/^[0-9.]+-[0-9.]+$/.test(text));
  if (list) return list;
  const range = tryRange(text);
  return isRangeFault(range) ? addressFault(text, range) : { type: 'range', range, at };
});

export const readCountryTerm: TermReader<CountryTerm> = reader<CountryTerm>((text, at) => {
  if (text === 'unknown' || text === 'private') return { type: text, at };
  const code = text.toUpperCase();
  if (isCountryCode(code)) return { type: 'country', code, at };
  const list = listTerm(text, at, isName(text) && text.length > 2);
  return list ?? { code: 'bad-country', text, suggestion: suggestCountry(text) };
});

export const readHostTerm: TermReader<HostTerm> = reader<HostTerm>((text, at) => {
  const list = listTerm(text, at, isName(text));
  if (list) return list;
  const pattern = tryDomainPattern(text);
  return typeof pattern === 'string' ? hostFault(text, pattern) : { type: 'host', pattern, at };
});

export const readPathTerm: TermReader<PathTerm> = reader<PathTerm>((text, at) => {
  const pattern = tryPathPattern(text);
  if (!isPathFault(pattern)) return { type: 'path', pattern, at };
  return { code: 'bad-path', text, reason: pattern.reason === 'expression' ? pattern.detail : pattern.reason };
});

export const readUrlTerm: TermReader<UrlTerm> = reader<UrlTerm>((text, at) => {
  const list = listTerm(text, at, false);
  if (list) return list;
  const pattern = tryUrlPattern(text);
  return isUrlFault(pattern) ? urlFault(text, pattern) : { type: 'url', pattern, at };
});

export const readMethodTerm: TermReader<TokenTerm> = reader<TokenTerm>((text, at) =>
  TOKEN.test(text) && text.length <= LONGEST_METHOD && !text.includes('*') && !PRESENCE.includes(text)
    ? { type: 'token', token: text.toUpperCase(), at }
    : { code: 'bad-method', text },
);

export const readSchemeTerm: TermReader<TokenTerm> = reader<TokenTerm>((text, at) =>
  /^[a-z][a-z0-9+.-]{0,31}$/i.test(text) && !PRESENCE.includes(text)
    ? { type: 'token', token: text.toLowerCase(), at }
    : { code: 'bad-token', field: 'scheme', text },
);

export const readProtocolTerm: TermReader<TokenTerm> = reader<TokenTerm>((text, at) =>
  /^[a-z][a-z0-9._+/-]{0,31}$/i.test(text) && !PRESENCE.includes(text)
    ? { type: 'token', token: text.toUpperCase(), at }
    : { code: 'bad-token', field: 'protocol', text },
);

export const readPortTerm: TermReader<PortTerm> = reader<PortTerm>((text, at) => {
  const found = /^(\d{1,5})(?:-(\d{1,5}))?$/.exec(text);
  const first = Number(found?.[1]);
  const last = Number(found?.[2] ?? found?.[1]);
  return found && first <= last && last <= LAST_PORT ? { type: 'port', first, last, at } : { code: 'bad-port', text };
});

export const readUserTerm: TermReader<UserTerm> = reader<UserTerm>((text, at) => {
  if (text === 'anonymous') return { type: text, at };
  const list = listTerm(text, at, false);
  if (list) return list;
  const user = PRESENCE.includes(text) ? undefined : tryUser(text);
  return user === undefined ? { code: 'bad-user', text } : { type: 'user', user, at };
});

export const readTextTerm: TermReader<TextTerm> = reader<TextTerm>((text, at) => {
  if (text === 'present' || text === 'absent') return { type: text, at };
  const pattern = tryTextPattern(text);
  return isTextPatternFault(pattern) ? textFault(text, pattern) : { type: 'text', pattern, at };
});

/** As for any text, and lists of agents too. */
export const readAgentTerm: TermReader<TextTerm> = (sink, place) => {
  const text = sink.word(place)?.text ?? '';
  return text.startsWith('list:') ? readAgentList(sink, place) : readTextTerm(sink, place);
};

const readAgentList: TermReader<ListTerm> = reader<ListTerm>(
  (text, at) => listTerm(text, at, false) ?? { code: 'no-list', text },
);

export const readSizeTerm: TermReader<SizeTerm> = reader<SizeTerm>((text, at) => {
  const size = trySize(text);
  return size ? { type: 'size', ...size, at } : { code: 'bad-size', text };
});

export const readNameTerm: TermReader<NameTerm> = reader<NameTerm>(nameTerm);

/** A name, or the word that means none of the names. */
export function nameOrNone(none: string): TermReader<NameTerm | NoneTerm> {
  return reader<NameTerm | NoneTerm>((text, at) => (text === none ? { type: 'none', at } : nameTerm(text, at)));
}

function nameTerm(text: string, at: Site): NameTerm | Fault {
  return isName(text) ? { type: 'name', name: text, at } : { code: 'bad-name', text };
}

/** `list:NAME` anywhere, and the bare name where the field says that it can be nothing else. */
function listTerm(text: string, at: Site, bareNameWillDo: boolean): ListTerm | undefined {
  const name = text.startsWith('list:') ? text.slice('list:'.length) : bareNameWillDo ? text : undefined;
  return name !== undefined && isName(name) ? { type: 'list', name, at } : undefined;
}

function reader<T extends object>(read: (text: string, at: Site) => T | Fault): TermReader<T> {
  return (sink, place) => {
    const word = sink.word(place);
    if (word === undefined) return undefined;
    const result = listFault(word.text, read) ?? read(word.text, siteOf(place));
    if (!isFault(result)) return result;
    sink.add(place, result);
    return undefined;
  };
}

/** `list:` with what is no name of a list, and any list where the field takes none. */
function listFault<T extends object>(text: string, read: (text: string, at: Site) => T | Fault): Fault | undefined {
  if (!text.startsWith('list:')) return undefined;
  const result = read('list:any', NOWHERE);
  if (!('type' in result) || result.type !== 'list') return { code: 'no-list', text };
  const name = text.slice('list:'.length);
  return isName(name) ? undefined : { code: 'bad-list-name', text, suggestion: nameLike(name) };
}

const NOWHERE: Site = { span: { start: 0, end: 0 }, path: [] };

/** The name that was most likely meant. */
function nameLike(text: string): string | undefined {
  const name = text.trim().toLowerCase().replace(/[ _]+/g, '-');
  return isName(name) ? name : undefined;
}

/** Terms have a `type` and faults have none. */
function isFault<T extends object>(result: T | Fault): result is Fault {
  return !('type' in result);
}
