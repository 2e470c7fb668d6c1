import type { PathTerm } from '../../../condition/index.js';
import { globPrefix } from '../../../pattern/index.js';
import { type PathPattern, type PathSettings, pathMatches, pathPatternUnder, pathUnder } from '../../../url/index.js';
import { type Matcher, post } from './matcher.js';

/**
 * Paths by their text, and patterns by the first segment that all which they match starts with; so that a path is
 * tested against few of many patterns.
 */
export function matchPaths(terms: readonly PathTerm[], paths: PathSettings): Matcher<string> {
  const patterns = terms.map(({ pattern }) => pathPatternUnder(paths, pattern));
  const exact = new Map<string, number[]>();
  const bySegment = new Map<string, number[]>();
  const anywhere: number[] = [];
  patterns.forEach((pattern, number) => {
    const segment = pattern.type === 'exact' ? undefined : firstSegment(prefixOf(pattern));
    if (pattern.type === 'exact') post(exact, pattern.path, number);
    else if (segment === undefined) anywhere.push(number);
    else post(bySegment, segment, number);
  });
  const test = (numbers: readonly number[] | undefined, path: string, into: number[]) => {
    if (numbers)
      for (const number of numbers) if (pathMatches(patterns[number] as PathPattern, path)) into.push(number);
  };
  return (given) => {
    const path = pathUnder(paths, given);
    const known = exact.get(path);
    const found = known === undefined ? [] : [...known];
    if (bySegment.size > 0) {
      const segment = firstSegment(path);
      if (segment !== undefined) test(bySegment.get(segment), path, found);
    }
    test(anywhere, path, found);
    return found;
  };
}

function prefixOf(pattern: PathPattern): string {
  switch (pattern.type) {
    case 'exact':
      return pattern.path;
    case 'glob':
      return globPrefix(pattern.glob);
    case 'expression':
      return pattern.expression.anchored ? pattern.expression.needs : '';
  }
}

/** The first segment with the slash behind it, which is what makes it whole; undefined where there is none. */
function firstSegment(path: string): string | undefined {
  const slash = path.indexOf('/', 1);
  return path.startsWith('/') && slash > 0 ? path.slice(0, slash + 1) : undefined;
}
