import type { CallName, Calls } from './calls.js';

/** Below this path are the calls. The number changes where a client of before would be misled. */
export const API = '/api/v1';

/** The calls that have any of `query`, `body`, `file`, `answer`, `download` and `events`. */
export type CallsWith<K extends string> = K extends string
  ? { [C in CallName]: Calls[C] extends Readonly<Record<K, unknown>> ? C : never }[CallName]
  : never;

/** What a call answers in JSON; undefined where it answers nothing, unknown where it answers what is no JSON of ours. */
export type AnswerOf<C extends CallName> = Calls[C] extends { answer: infer A }
  ? A
  : Calls[C] extends { download: true }
    ? unknown
    : undefined;

/** What each of the events of a call is. */
export type EventOf<C extends CallName> = Calls[C] extends { events: infer E } ? E : never;

type NamesIn<Path extends string> = Path extends `${string}:${infer Name}/${infer Rest}`
  ? Name | NamesIn<`/${Rest}`>
  : Path extends `${string}:${infer Name}`
    ? Name
    : never;

/** The parameters of the path of a call. */
export type ParamsOf<C extends CallName, V = string> = Readonly<Record<NamesIn<C>, V>>;

/** What may be left out may be undefined too. */
type Loose<T> = { readonly [K in keyof T]: object extends Pick<T, K> ? T[K] | undefined : T[K] };

type Holding<K extends string, T> = object extends T
  ? { readonly [P in K]?: Loose<T> }
  : { readonly [P in K]: Loose<T> };
type Without<K extends string> = { readonly [P in K]?: undefined };

/** The version that an object is at, or that there is none of its name yet. */
export type Expected = number | 'absent';

/** What a call carries: the parameters of its path, its query, its body. A file goes by itself. */
export type Carried<C extends CallName> = ([NamesIn<C>] extends [never]
  ? Without<'params'>
  : { readonly params: ParamsOf<C, string | number> }) &
  (Calls[C] extends { query: infer Q } ? Holding<'query', Q> : Without<'query'>) &
  (Calls[C] extends { body: infer B } ? Holding<'body', B> : Without<'body'>) &
  (Calls[C] extends { version: true } ? { readonly version: Expected } : Without<'version'>);

/** `Carried` as the last parameter of a function, which may be left out where nothing has to be carried. */
export type Carrying<C extends CallName> = object extends Carried<C> ? [carried?: Carried<C>] : [carried: Carried<C>];

type Value = string | number | boolean;

/** `Carried` of whichever call. */
interface AnyCarried {
  readonly params?: Readonly<Record<string, string | number>>;
  readonly query?: Readonly<Record<string, Value | readonly Value[] | undefined>>;
  readonly body?: object;
  readonly version?: Expected;
}

/** The path of a call with parameters and query filled in. Each value of a list becomes a parameter of its own. */
export function pathOf<C extends CallName>(call: C, ...[carried]: Carrying<C>): string {
  const { params = {}, query = {} } = (carried ?? {}) as AnyCarried;
  const pattern = call.slice(call.indexOf(' ') + 1);
  const path = pattern.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(String(params[name])));
  const pairs = Object.entries(query).flatMap(([name, value]) =>
    value === undefined ? [] : [value].flat().map((each) => `${name}=${encodeURIComponent(String(each))}`),
  );
  return `${API}${path}${pairs.length === 0 ? '' : `?${pairs.join('&')}`}`;
}

/** A call as HTTP carries it, without the caller's identity. */
export interface Message {
  readonly method: string;
  readonly path: string;
  readonly headers: Readonly<Record<string, string>>;
  /** In JSON; undefined where the call has no body, or a file as its body. */
  readonly body: string | undefined;
}

/** A call with its method, path, headers and body. Who makes it adds how it signs in. */
export function messageOf<C extends CallName>(call: C, ...carrying: Carrying<C>): Message {
  const { body, version } = (carrying[0] ?? {}) as AnyCarried;
  return {
    method: call.slice(0, call.indexOf(' ')),
    path: pathOf(call, ...carrying),
    headers: {
      ...(body && { 'content-type': 'application/json' }),
      // What makes a call hold for one state only (RFC 9110, section 13.1).
      ...(version !== undefined && (version === 'absent' ? { 'if-none-match': '*' } : { 'if-match': `"${version}"` })),
    },
    body: body && JSON.stringify(body),
  };
}
