import type { DomainPattern } from '../../domain/index.js';
import { formatTextPattern, globPrefix, isPrefixGlob, type TextPattern, textMatches } from '../../pattern/index.js';
import {
  formatPathPattern,
  formatUrlPattern,
  type PathPattern,
  pathMatches,
  type UrlPattern,
} from '../../url/index.js';

/** Whether every host that the inner pattern means, the outer one means too. */
export function domainCovers(outer: DomainPattern, inner: DomainPattern): boolean {
  const same = inner.name === outer.name;
  const below = inner.name.endsWith(`.${outer.name}`);
  switch (outer.reach) {
    case 'exact':
      return same && inner.reach === 'exact';
    case 'under':
      return same || below;
    case 'only-under':
      return below || (same && inner.reach === 'only-under');
  }
}

/** Whether no host matches both. */
export function domainsDisjoint(a: DomainPattern, b: DomainPattern): boolean {
  if (a.reach === 'exact' && b.reach === 'exact') return a.name !== b.name;
  if (a.reach === 'exact') return !domainCovers(b, a);
  if (b.reach === 'exact') return !domainCovers(a, b);
  return a.name !== b.name && !a.name.endsWith(`.${b.name}`) && !b.name.endsWith(`.${a.name}`);
}

/** Whether every path of the inner pattern is one of the outer. False when unknown. */
export function pathCovers(outer: PathPattern, inner: PathPattern): boolean {
  if (formatPathPattern(outer) === formatPathPattern(inner)) return true;
  if (inner.type === 'exact') return pathMatches(outer, inner.path);
  return (
    inner.type === 'glob' &&
    outer.type === 'glob' &&
    isPrefixGlob(outer.glob) &&
    globPrefix(inner.glob).startsWith(globPrefix(outer.glob))
  );
}

/** True where surely no path matches both. False says nothing. */
export function pathsDisjoint(a: PathPattern, b: PathPattern): boolean {
  if (a.type === 'exact') return !pathMatches(b, a.path);
  if (b.type === 'exact') return !pathMatches(a, b.path);
  if (a.type !== 'glob' || b.type !== 'glob') return false;
  return apart(globPrefix(a.glob), globPrefix(b.glob));
}

/** As for paths, of any text. */
export function textCovers(outer: TextPattern, inner: TextPattern): boolean {
  if (formatTextPattern(outer) === formatTextPattern(inner)) return true;
  if (inner.type === 'exact') return textMatches(outer, inner.text);
  return (
    inner.type === 'glob' &&
    outer.type === 'glob' &&
    isPrefixGlob(outer.glob) &&
    globPrefix(inner.glob).startsWith(globPrefix(outer.glob))
  );
}

/** True where surely every URL that `inner` matches is matched by `outer`. False says nothing. */
export function urlCovers(outer: UrlPattern, inner: UrlPattern): boolean {
  if (formatUrlPattern(outer) === formatUrlPattern(inner)) return true;
  if (outer.type !== 'parts' || inner.type !== 'parts' || outer.query !== undefined) return false;
  const scheme = outer.scheme === undefined || outer.scheme === inner.scheme;
  const port = outer.port === undefined || outer.port === inner.port;
  return scheme && port && domainCovers(outer.host, inner.host) && pathCovers(outer.path, inner.path);
}

/** Whether no text starts with both. */
const apart = (a: string, b: string): boolean => !a.startsWith(b) && !b.startsWith(a);
