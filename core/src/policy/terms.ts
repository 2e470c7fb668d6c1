import { isRangeFault, tryRange } from '../address/index.js';
import { isCountryCode } from '../country/index.js';
import { tryDomainPattern } from '../domain/index.js';
import type { Fault, Site } from '../issue/index.js';
import { addressFault, suggestCountry } from '../list/index.js';
import { isName, type Place, type Sink, siteOf } from '../text/index.js';
import { isPathFault, tryPathPattern } from '../url/index.js';
import type {
  AddressTerm,
  CountryTerm,
  HostTerm,
  ListTerm,
  MethodTerm,
  PathTerm,
  PortTerm,
  TokenTerm,
} from './policy.js';

/** Reads one value of a field from its text; a fault is told to the sink and answers undefined. */
export type TermReader<T> = (sink: Sink, place: Place) => T | undefined;

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
  return typeof pattern === 'string' ? { code: 'bad-host', text, reason: pattern } : { type: 'host', pattern, at };
});

export const readPathTerm: TermReader<PathTerm> = reader<PathTerm>((text, at) => {
  const pattern = tryPathPattern(text);
  if (!isPathFault(pattern)) return { type: 'path', pattern, at };
  return { code: 'bad-path', text, reason: pattern.reason === 'expression' ? pattern.detail : pattern.reason };
});

export const readMethodTerm: TermReader<MethodTerm> = reader<MethodTerm>((text, at) =>
  TOKEN.test(text) && text.length <= LONGEST_METHOD
    ? { type: 'method', method: text.toUpperCase(), at }
    : { code: 'bad-method', text },
);

export const readSchemeTerm: TermReader<TokenTerm> = reader<TokenTerm>((text, at) =>
  /^[a-z][a-z0-9+.-]{0,31}$/i.test(text)
    ? { type: 'token', token: text.toLowerCase(), at }
    : { code: 'bad-token', field: 'scheme', text },
);

export const readProtocolTerm: TermReader<TokenTerm> = reader<TokenTerm>((text, at) =>
  /^[a-z][a-z0-9._+/-]{0,31}$/i.test(text)
    ? { type: 'token', token: text.toUpperCase(), at }
    : { code: 'bad-token', field: 'protocol', text },
);

export const readPortTerm: TermReader<PortTerm> = reader<PortTerm>((text, at) => {
  const found = /^(\d{1,5})(?:-(\d{1,5}))?$/.exec(text);
  const first = Number(found?.[1]);
  const last = Number(found?.[2] ?? found?.[1]);
  return found && first <= last && last <= LAST_PORT ? { type: 'port', first, last, at } : { code: 'bad-port', text };
});

/** `list:NAME` anywhere, and the bare name where the field says that it can be nothing else. */
function listTerm(text: string, at: Site, bareNameWillDo: boolean): ListTerm | undefined {
  const name = text.startsWith('list:') ? text.slice('list:'.length) : bareNameWillDo ? text : undefined;
  return name !== undefined && isName(name) ? { type: 'list', name, at } : undefined;
}

function reader<T extends object>(read: (text: string, at: Site) => T | Fault): TermReader<T> {
  return (sink, place) => {
    const word = sink.word(place);
    if (word === undefined) return undefined;
    const result = read(word.text, siteOf(place));
    if (!isFault(result)) return result;
    sink.add(place, result);
    return undefined;
  };
}

/** Terms have a `type` and faults have none. */
function isFault<T extends object>(result: T | Fault): result is Fault {
  return !('type' in result);
}
