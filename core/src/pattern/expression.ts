import { RE2JS, RE2JSException } from 're2js';

/** A regular expression of the RE2 syntax, found anywhere in a text in time linear in the text. Plain data. */
export interface Expression {
  readonly source: string;
  /** A text that everything the expression matches contains; empty where none is known. */
  readonly needs: string;
  /** Whether what the expression matches starts with `needs`. */
  readonly anchored: boolean;
  /** A text that everything the expression matches ends with, and the text that it is found in does too. */
  readonly ends: string;
}

/** Compiles an expression, or returns its fault. */
export function tryExpression(source: string): Expression | { readonly detail: string } {
  try {
    const expression = { source, ...neededBy(source) };
    compiled.set(expression, RE2JS.compile(source));
    return expression;
  } catch (error) {
    if (error instanceof RE2JSException) return { detail: error.message };
    throw error;
  }
}

/** A pattern that is an expression, and why a text is none. */
export interface ExpressionPattern {
  readonly type: 'expression';
  readonly expression: Expression;
}

export interface ExpressionFault {
  readonly reason: 'expression';
  readonly detail: string;
}

/** Reads `~expression`; undefined where the text does not start with the mark, so that it is some other pattern. */
export function tryMarkedExpression(text: string): ExpressionPattern | ExpressionFault | undefined {
  if (!text.startsWith('~')) return undefined;
  const expression = tryExpression(text.slice(1));
  return 'detail' in expression ? { reason: 'expression', ...expression } : { type: 'expression', expression };
}

/** The same expression, which does not mind the case of letters. */
export function withoutCase(pattern: ExpressionPattern): ExpressionPattern {
  if (pattern.expression.source.startsWith('(?i)')) return pattern;
  const known = caseless.get(pattern);
  if (known) return known;
  const expression = tryExpression(`(?i)${pattern.expression.source}`);
  const made: ExpressionPattern = 'detail' in expression ? pattern : { type: 'expression', expression };
  caseless.set(pattern, made);
  return made;
}

/** Compiling costs more than matching, so that each is compiled once. */
const caseless = new WeakMap<ExpressionPattern, ExpressionPattern>();

/** The expression as rules write it, behind its `~`. */
export const formatExpression = ({ expression }: ExpressionPattern): string => `~${expression.source}`;

/** True where the expression is found in the text. Linear in the length of the text. */
export function expressionMatches(expression: Expression, text: string): boolean {
  const { needs, anchored, ends } = expression;
  if (ends !== '' && !text.endsWith(ends)) return false;
  if (needs !== '' && !(anchored ? text.startsWith(needs) : text.includes(needs))) return false;
  return compiledOf(expression).matcher(text).find();
}

/** Expressions as they were compiled; one that came from another thread is compiled here when it is first asked. */
const compiled = new WeakMap<Expression, RE2JS>();

function compiledOf(expression: Expression): RE2JS {
  let made = compiled.get(expression);
  if (made === undefined) {
    made = RE2JS.compile(expression.source);
    compiled.set(expression, made);
  }
  return made;
}

const unescaped = (plain: string): string => plain.replace(/\\(.)/g, '$1');

/**
 * The literal texts that an expression starts and ends with: runs of plain characters that nothing beside them makes
 * optional. Groups, classes and alternatives end a run, and an alternative anywhere makes it worthless.
 */
function neededBy(source: string): Pick<Expression, 'needs' | 'anchored' | 'ends'> {
  const anchored = source.startsWith('^');
  if (source.includes('|') || source.includes('(?')) return { needs: '', anchored: false, ends: '' };
  const run = /^(?:[A-Za-z0-9/_~@%&=:;,!<>"'# -]|\\[./_-])*/.exec(source.slice(anchored ? 1 : 0))?.[0] ?? '';
  const behind = source[run.length + (anchored ? 1 : 0)];
  const optional = behind !== undefined && '?*{'.includes(behind);
  const sure = optional ? run.replace(/(?:\\.|.)$/, '') : run;
  return { needs: unescaped(sure), anchored, ends: endOf(source) };
}

function endOf(source: string): string {
  if (!source.endsWith('$')) return '';
  const end = source.length - 1;
  let start = end;
  while (start > 0) {
    const [character, before] = [source[start - 1] as string, source[start - 2]];
    if (before !== '\\') {
      if (!/[A-Za-z0-9/_~@%&=:;,!<>"'# -]/.test(character)) break;
      start--;
    } else if ('./_-'.includes(character) && source[start - 3] !== '\\') start -= 2;
    // Behind a backslash what looks plain may be part of an escape.
    else return '';
  }
  return unescaped(source.slice(start, end));
}
