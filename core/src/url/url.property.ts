import fc from 'fast-check';
import { expect } from 'vitest';
import { pathAsSent } from '../hostile/path.arbitrary.js';
import { hostileText } from '../hostile/text.arbitrary.js';
import {
  normalPath,
  normalQuery,
  type PathPattern,
  type PathSettings,
  pathMatches,
  pathPatternUnder,
  pathUnder,
  queryValues,
  tryPathPattern,
} from './index.js';

const KEEP: PathSettings = { slashes: 'keep', case: 'keep', parameters: 'keep' };
const settings: fc.Arbitrary<PathSettings> = fc.record({
  slashes: fc.constantFrom('merge', 'keep'),
  case: fc.constantFrom('ignore', 'keep'),
  parameters: fc.constantFrom('drop', 'keep'),
});

/** A path in its normal form stays as it is, under any settings. */
export const pathStaysNormal = fc.property(fc.oneof(pathAsSent, fc.webPath(), hostileText), settings, (text, given) => {
  const path = normalPath(text);
  expect(normalPath(path)).toBe(path);
  const under = pathUnder(given, path);
  expect(pathUnder(given, under)).toBe(under);
  expect(pathUnder(given, normalPath(under))).toBe(under);
});

/** The normal form of a path is what Node's `URL` reads, decoded once. */
export const pathAsNode = fc.property(pathAsSent, (text) => {
  // The parser drops tabs, and ends a path at `?` and `#`; a path that is logged by itself has them.
  const whole = text.replace(/[\x00-\x20?#]/g, (each) => encodeURIComponent(each));
  const read = new URL(`http://h${whole}`).pathname;
  expect(pathUnder(KEEP, normalPath(text))).toBe(pathUnder(KEEP, normalPath(read)));
});

/** A normal path has no escape but of what divides a URL, and of bytes that are no UTF-8. */
export const fewEscapes = fc.property(pathAsSent, (text) => {
  for (const [escaped] of normalPath(text).matchAll(/%../g))
    expect(escaped).toMatch(/^%(?:2F|5C|25|3F|23|[89A-F][0-9A-F])$/);
});

const query = fc
  .array(
    fc.constantFrom('a', '=', '&', '%3d', '%26', '+', '%2b', '%20', '%', '%25', '%61', '%c3%bc', '%ff', '#', '%00'),
  )
  .map((pieces) => pieces.join(''));

/** The normal form of a query says the same as before to Node's `URLSearchParams`. */
export const queryStaysTheSame = fc.property(query, (text) => {
  const normal = normalQuery(text);
  expect(normalQuery(normal)).toBe(normal);
  for (const name of ['a', 'aa', '', 'ü', '='])
    for (const form of [text, normal]) expect(queryValues(form, name)).toEqual(new URLSearchParams(text).getAll(name));
});

const pattern = fc.constantFrom('/admin/**', '/Admin/*', '**/x', '/a;v/b', '//a//b', '~^/admin/', '~X$');

/** What a pattern matches, it matches in every spelling, for patterns are read by the same settings as paths. */
export const patternsUnderSettings = fc.property(pattern, pathAsSent, settings, (text, path, given) => {
  const read = pathPatternUnder(given, tryPathPattern(text) as PathPattern);
  const form = pathUnder(given, normalPath(path));
  expect(pathMatches(read, pathUnder(given, form))).toBe(pathMatches(read, form));
  expect(pathPatternUnder(given, read)).toEqual(read);
});
