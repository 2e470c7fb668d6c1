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
} from '../pattern/index.js';
import { normalPath } from './path.js';

/** A test of a path: the path itself, a glob, or an expression of the RE2 syntax found anywhere in it. */
export type PathPattern =
  | { readonly type: 'exact'; readonly path: string }
  | { readonly type: 'glob'; readonly glob: Glob }
  | ExpressionPattern;

export type PathFault = { readonly reason: 'no-slash' } | { readonly reason: 'too-long' } | ExpressionFault;

/** Reads a path pattern: `/exact`, `/with/*` or `/with/**`, or `~expression`. */
export function tryPathPattern(text: string): PathPattern | PathFault {
  if (text.length > LONGEST_PATTERN) return { reason: 'too-long' };
  const marked = tryMarkedExpression(text);
  if (marked) return marked;
  if (!text.startsWith('/') && !text.startsWith('*')) return { reason: 'no-slash' };
  if (!text.includes('*')) return { type: 'exact', path: normalPath(text) };
  return { type: 'glob', glob: compileGlob(normalGlob(text)) };
}

export const isPathFault = (result: PathPattern | PathFault): result is PathFault => 'reason' in result;

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

/** Normalises what stands between the stars; WHATWG URL leaves `*` as it is. A leading `**` keeps its place. */
function normalGlob(text: string): string {
  return text.startsWith('/') ? normalPath(text) : normalPath(`/${text}`).slice(1);
}
