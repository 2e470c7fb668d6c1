import { type DomainPattern, formatDomainPattern, patternMatches, tryDomainPattern } from '../domain/index.js';
import {
  compileTextGlob,
  type ExpressionFault,
  type ExpressionPattern,
  expressionMatches,
  formatExpression,
  type Glob,
  globMatches,
  LONGEST_PATTERN,
  tryMarkedExpression,
  withoutCase,
} from '../pattern/index.js';
import type { PathSettings } from './path-settings.js';
import {
  formatPathPattern,
  isEveryPath,
  isPathFault,
  type PathPattern,
  pathMatches,
  pathPatternUnder,
  tryPathPattern,
} from './pattern.js';
import { normalQuery } from './query.js';

/** A test of a whole URL: of its parts, or an expression found in its host, path and query. */
export type UrlPattern = UrlParts | ExpressionPattern;

interface UrlParts {
  readonly type: 'parts';
  readonly scheme: string | undefined;
  readonly host: DomainPattern;
  readonly port: number | undefined;
  readonly path: PathPattern;
  /** A glob of the query in its normal form, without its question mark; undefined where the query does not matter. */
  readonly query: Glob | undefined;
}

/** The parts of a request's URL; undefined for an unseen part. */
export interface UrlSeen {
  readonly scheme: string | undefined;
  readonly host: string | undefined;
  readonly port: number | undefined;
  readonly path: string | undefined;
  readonly query: string | undefined;
}

export type UrlFault =
  | { readonly reason: 'too-long' | 'no-path' | 'port' | 'empty-expression' }
  | { readonly reason: 'host'; readonly detail: string }
  | ExpressionFault;

const FORM =
  /^(?:([a-z][a-z0-9+.-]{0,31}):\/\/)?((?:\*?\.)?(?:\[[^\]]*\]|[^:/?#]*))(?::(\d{1,5}))?(\/[^?#]*)?(?:\?([^#]*))?$/i;
const LAST_PORT = 65_535;

/** Reads `host/path`, with a scheme and a port where they matter, and stars in path and query; or `~expression`. */
export function tryUrlPattern(text: string): UrlPattern | UrlFault {
  if (text.length > LONGEST_PATTERN) return { reason: 'too-long' };
  if (text === '~') return { reason: 'empty-expression' };
  const marked = tryMarkedExpression(text);
  if (marked) return marked;
  const found = FORM.exec(text);
  if (!found) return { reason: 'host', detail: 'characters' };
  const [, scheme, hostText, portText, pathText, query] = found;
  const host = tryDomainPattern(hostText as string);
  if (typeof host === 'string') return { reason: 'host', detail: host };
  if (pathText === undefined) return { reason: 'no-path' };
  const port = portText === undefined ? undefined : Number(portText);
  if (port !== undefined && port > LAST_PORT) return { reason: 'port' };
  const path = tryPathPattern(pathText);
  if (isPathFault(path)) return { reason: 'no-path' };
  return {
    type: 'parts',
    scheme: scheme?.toLowerCase(),
    host,
    port,
    path,
    query: query === undefined ? undefined : compileTextGlob(normalQuery(query)),
  };
}

/** True where a text was no pattern of URLs, and the result says why. */
export const isUrlFault = (result: UrlPattern | UrlFault): result is UrlFault => 'reason' in result;

/** The pattern as a policy that reads paths by these settings takes it; the same object where they change nothing. */
export function urlPatternUnder(settings: PathSettings, pattern: UrlPattern): UrlPattern {
  if (pattern.type === 'expression') return settings.case === 'ignore' ? withoutCase(pattern) : pattern;
  const path = pathPatternUnder(settings, pattern.path);
  return path === pattern.path ? pattern : { ...pattern, path };
}

/**
 * Whether the URL is what the pattern says; `unseen` where the parts that are seen agree and others, which matter to the
 * pattern, are not seen. Its path is under the same settings as the pattern.
 */
export function urlMatches(pattern: UrlPattern, seen: UrlSeen): 'match' | 'no match' | 'unseen' {
  if (pattern.type === 'expression') {
    const text = urlText(seen);
    return text === undefined ? 'unseen' : expressionMatches(pattern.expression, text) ? 'match' : 'no match';
  }
  const parts = [
    partHolds(seen.host, (host) => patternMatches(pattern.host, host)),
    pattern.scheme === undefined || partHolds(seen.scheme, (scheme) => scheme === pattern.scheme),
    pattern.port === undefined || partHolds(seen.port, (port) => port === pattern.port),
    isEveryPath(pattern.path) || partHolds(seen.path, (path) => pathMatches(pattern.path, path)),
    queryHolds(pattern.query, seen),
  ];
  if (parts.includes(false)) return 'no match';
  return parts.includes(undefined) ? 'unseen' : 'match';
}

/** Undefined where the part is not seen. */
function partHolds<T>(part: T | undefined, holds: (part: T) => boolean): boolean | undefined {
  return part === undefined ? undefined : holds(part);
}

/** A path that is seen shows that there is no query behind it. */
function queryHolds(pattern: Glob | undefined, { query, path }: UrlSeen): boolean | undefined {
  if (pattern === undefined) return true;
  const shown = query ?? (path === undefined ? undefined : '');
  return partHolds(shown, (text) => globMatches(pattern, normalQuery(text)));
}

/** The text that an expression is searched in: host, path, and the query if there is one. */
function urlText({ host, path, query }: UrlSeen): string | undefined {
  if (host === undefined || path === undefined) return undefined;
  return query === undefined || query === '' ? `${host}${path}` : `${host}${path}?${normalQuery(query)}`;
}

/** The pattern as rules and lists write it. */
export function formatUrlPattern(pattern: UrlPattern): string {
  if (pattern.type === 'expression') return formatExpression(pattern);
  const { scheme, host, port, path, query } = pattern;
  const authority = `${formatDomainPattern(host)}${port === undefined ? '' : `:${port}`}`;
  const text = `${authority}${formatPathPattern(path)}${query === undefined ? '' : `?${query.text}`}`;
  return scheme === undefined ? text : `${scheme}://${text}`;
}
