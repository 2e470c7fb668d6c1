export type { Decision, Role, RuleOutcome } from './decision.js';
export { explain } from './explain/explain.js';
export type {
  ExplainedClient,
  ExplainedCondition,
  ExplainedCountry,
  ExplainedRule,
  ExplainedTest,
  Explanation,
  Holds,
} from './explain/explanation.js';
export { type Prepared, type PrepareOptions, prepare } from './prepared.js';
export { evaluate } from './reference/evaluate.js';
export { createRouter, type Router } from './route.js';
export { type Subject, subjectOf } from './subject.js';
