import {
  compileGlob,
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
import { normalPath } from './path.js';
import { type PathSettings, pathUnder } from './path-settings.js';

/** A test of a path: the path itself, a glob, or an expression of the RE2 syntax found anywhere in it. */
export type PathPattern =
  | { readonly type: 'exact'; readonly path: string }
  | { readonly type: 'glob'; readonly glob: Glob }
  | ExpressionPattern;

export type PathFault =
  | { readonly reason: 'no-slash' | 'too-long' | 'query' | 'fragment' | 'empty-expression' }
  | ExpressionFault;

/** Reads a path pattern: `/exact`, `/with/*` or `/with/**`, `**` and what a path ends with, or `~expression`. */
export function tryPathPattern(text: string): PathPattern | PathFault {
  if (text.length > LONGEST_PATTERN) return { reason: 'too-long' };
  if (text === '~') return { reason: 'empty-expression' };
  const marked = tryMarkedExpression(text);
  if (marked) return marked;
  // Paths begin with a slash, so a pattern without one could only match like `**`.
  if (!text.startsWith('/') && !text.startsWith('**')) return { reason: 'no-slash' };
  if (text.includes('?')) return { reason: 'query' };
  if (text.includes('#')) return { reason: 'fragment' };
  if (!text.includes('*')) return { type: 'exact', path: normalPath(text) };
  return { type: 'glob', glob: compileGlob(globIn(text, normalPath)) };
}

/** True where a text was no pattern of paths, and the result says why. */
export const isPathFault = (result: PathPattern | PathFault): result is PathFault => 'reason' in result;

/** Whether a path, in the normal form and under the same settings as the pattern, is what the pattern says. */
export function pathMatches(pattern: PathPattern, path: string): boolean {
  switch (pattern.type) {
    case 'exact':
      return path === pattern.path;
    case 'glob':
      return globMatches(pattern.glob, path);
    case 'expression':
      return expressionMatches(pattern.expression, path);
  }
}

/** The pattern as a policy with these settings reads it; the same object where they change nothing. */
export function pathPatternUnder(settings: PathSettings, pattern: PathPattern): PathPattern {
  switch (pattern.type) {
    case 'exact': {
      const path = pathUnder(settings, pattern.path);
      return path === pattern.path ? pattern : { type: 'exact', path };
    }
    case 'glob': {
      const text = globIn(pattern.glob.text, (path) => pathUnder(settings, path));
      return text === pattern.glob.text ? pattern : { type: 'glob', glob: compileGlob(text) };
    }
    case 'expression':
      return settings.case === 'ignore' ? withoutCase(pattern) : pattern;
  }
}

/** Whether the pattern matches every path, so that a request whose path is not seen matches it too. */
export const isEveryPath = (pattern: PathPattern): boolean =>
  pattern.type === 'glob' && (pattern.glob.text === '/**' || pattern.glob.text === '**');

/** The pattern as rules write it. */
export function formatPathPattern(pattern: PathPattern): string {
  switch (pattern.type) {
    case 'exact':
      return pattern.path;
    case 'glob':
      return pattern.glob.text;
    case 'expression':
      return formatExpression(pattern);
  }
}

/** Brings a glob into a form of paths, where a star is a character like others. A leading `**` keeps its place. */
function globIn(text: string, form: (path: string) => string): string {
  return text.startsWith('/') ? form(text) : form(`/${text}`).slice(1);
}
