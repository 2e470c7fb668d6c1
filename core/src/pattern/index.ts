export {
  type Expression,
  type ExpressionFault,
  type ExpressionPattern,
  expressionMatches,
  formatExpression,
  tryMarkedExpression,
  withoutCase,
} from './expression.js';
export { compileGlob, compileTextGlob, type Glob, globMatches, globPrefix, isPrefixGlob } from './glob.js';
export {
  formatTextPattern,
  isTextPatternFault,
  LONGEST_PATTERN,
  type TextPattern,
  type TextPatternFault,
  textMatches,
  tryTextPattern,
} from './text-pattern.js';
