import {
  type ExpressionFault,
  type ExpressionPattern,
  expressionMatches,
  formatExpression,
  tryMarkedExpression,
} from './expression.js';
import { compileTextGlob, type Glob, globMatches } from './glob.js';

/** A test of a text such as a header: the text itself, a glob, or an expression of the RE2 syntax found in it. */
export type TextPattern =
  | { readonly type: 'exact'; readonly text: string }
  | { readonly type: 'glob'; readonly glob: Glob }
  | ExpressionPattern;

export type TextPatternFault = { readonly reason: 'empty' | 'too-long' | 'empty-expression' } | ExpressionFault;

export const LONGEST_PATTERN = 2000;

/** Reads `exact`, `with * stars`, or `~expression`. */
export function tryTextPattern(text: string): TextPattern | TextPatternFault {
  if (text === '') return { reason: 'empty' };
  if (text.length > LONGEST_PATTERN) return { reason: 'too-long' };
  if (text === '~') return { reason: 'empty-expression' };
  const marked = tryMarkedExpression(text);
  if (marked) return marked;
  return text.includes('*') ? { type: 'glob', glob: compileTextGlob(text) } : { type: 'exact', text };
}

/** True where a text was no pattern, and the result says why. */
export const isTextPatternFault = (result: TextPattern | TextPatternFault): result is TextPatternFault =>
  'reason' in result;

/** True where the pattern matches all of the text, or, as an expression, a part of it. */
export function textMatches(pattern: TextPattern, text: string): boolean {
  switch (pattern.type) {
    case 'exact':
      return text === pattern.text;
    case 'glob':
      return globMatches(pattern.glob, text);
    case 'expression':
      return expressionMatches(pattern.expression, text);
  }
}

/** The pattern as rules write it. */
export function formatTextPattern(pattern: TextPattern): string {
  switch (pattern.type) {
    case 'exact':
      return pattern.text;
    case 'glob':
      return pattern.glob.text;
    case 'expression':
      return formatExpression(pattern);
  }
}
