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
} from '../pattern/index.js';
import { formatPathPattern, isPathFault, type PathPattern, pathMatches, tryPathPattern } from './pattern.js';

/** A test of a whole URL: of its parts, or an expression found in its host, path and query. */
export type UrlPattern = UrlParts | ExpressionPattern;

interface UrlParts {
  readonly type: 'parts';
  readonly scheme: string | undefined;
  readonly host: DomainPattern;
  readonly port: number | undefined;
  readonly path: PathPattern;
  /** A glob of the query, without its question mark; undefined where the query does not matter. */
  readonly query: Glob | undefined;
}

/** What a request shows of its URL; what it does not is undefined. */
export interface UrlSeen {
  readonly scheme: string | undefined;
  readonly host: string | undefined;
  readonly port: number | undefined;
  readonly path: string | undefined;
  readonly query: string | undefined;
}

export type UrlFault =
  | { readonly reason: 'too-long' | 'no-path' | 'port' }
  | { readonly reason: 'host'; readonly detail: string }
  | ExpressionFault;

const FORM =
  /^(?:([a-z][a-z0-9+.-]{0,31}):\/\/)?((?:\*?\.)?(?:\[[^\]]*\]|[^:/?#]*))(?::(\d{1,5}))?(\/[^?#]*)?(?:\?([^#]*))?$/i;
const LAST_PORT = 65_535;

/** Reads `host/path`, with a scheme and a port where they matter, and stars in path and query; or `~expression`. */
export function tryUrlPattern(text: string): UrlPattern | UrlFault {
  if (text.length > LONGEST_PATTERN) return { reason: 'too-long' };
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
    query: query === undefined ? undefined : compileTextGlob(query),
  };
}

export const isUrlFault = (result: UrlPattern | UrlFault): result is UrlFault => 'reason' in result;

/** Whether the URL is what the pattern says; `unseen` where the parts that are seen agree and others are not seen. */
export function urlMatches(pattern: UrlPattern, seen: UrlSeen): 'match' | 'no match' | 'unseen' {
  if (pattern.type === 'expression') {
    const text = urlText(seen);
    return text === undefined ? 'unseen' : expressionMatches(pattern.expression, text) ? 'match' : 'no match';
  }
  if (seen.host !== undefined && !patternMatches(pattern.host, seen.host)) return 'no match';
  if (pattern.scheme !== undefined && seen.scheme !== undefined && pattern.scheme !== seen.scheme) return 'no match';
  if (pattern.port !== undefined && seen.port !== undefined && pattern.port !== seen.port) return 'no match';
  if (seen.path !== undefined && !pathMatches(pattern.path, seen.path)) return 'no match';
  const query = seen.query ?? (seen.path === undefined ? undefined : '');
  if (pattern.query !== undefined && query !== undefined && !globMatches(pattern.query, query)) return 'no match';
  const whole =
    seen.host !== undefined &&
    seen.path !== undefined &&
    (pattern.scheme === undefined || seen.scheme !== undefined) &&
    (pattern.port === undefined || seen.port !== undefined);
  return whole ? 'match' : 'unseen';
}

/** What an expression is looked for in: host, path, and query where there is one. */
function urlText({ host, path, query }: UrlSeen): string | undefined {
  if (host === undefined || path === undefined) return undefined;
  return query === undefined || query === '' ? `${host}${path}` : `${host}${path}?${query}`;
}

export function formatUrlPattern(pattern: UrlPattern): string {
  if (pattern.type === 'expression') return formatExpression(pattern);
  const { scheme, host, port, path, query } = pattern;
  const authority = `${formatDomainPattern(host)}${port === undefined ? '' : `:${port}`}`;
  const text = `${authority}${formatPathPattern(path)}${query === undefined ? '' : `?${query.text}`}`;
  return scheme === undefined ? text : `${scheme}://${text}`;
}
