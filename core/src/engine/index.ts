export type { Decision, Role, RuleOutcome, Unseen } from './decision.js';
export { type FoundEntry, findEntry } from './explain/entry.js';
export { explain } from './explain/explain.js';
export type {
  Change,
  ExplainedClient,
  ExplainedCondition,
  ExplainedCountry,
  ExplainedRule,
  ExplainedTest,
  Explanation,
  Holds,
} from './explain/explanation.js';
export type { Seen } from './explain/seen.js';
export { explainTest } from './explain/test.js';
export { BETWEEN_PARTS, formatKey, keyPart, type LimitKey, limitKey } from './limit-key.js';
export { type Limits, NO_TRAFFIC } from './limits.js';
export { decisionOf, Judge, type JudgeOptions } from './plan/judge.js';
export type { BlindRule, Outcome } from './plan/outcome.js';
export { compilePlan, type Plan } from './plan/plan.js';
export { type AskLimit, PENDING, type Waiting } from './plan/settlements.js';
export {
  type Addresses,
  addressesIn,
  allRows,
  type Block,
  type Clients,
  classesOf,
  combine,
  numberColumn,
  pairs,
  textColumn,
} from './plan/source/block.js';
export { ALL_HEADERS } from './plan/sources.js';
export { type Prepared, type PrepareOptions, prepare } from './prepared.js';
export { evaluate } from './reference/evaluate.js';
export { conditionsHold, type Judged, testField } from './reference/test.js';
export type { Truth } from './reference/truth.js';
export { createRouter, type Router } from './route.js';
export { type Subject, subjectOf } from './subject.js';
