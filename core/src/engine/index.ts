export type { Decision, RuleOutcome, RuleRole, Unseen } from './decision.js';
export { type FoundEntry, findEntry } from './explain/entry.js';
export { explain } from './explain/explain.js';
export type {
  ExplainedAnswer,
  ExplainedClient,
  ExplainedCondition,
  ExplainedCountry,
  ExplainedDestination,
  ExplainedLimit,
  ExplainedRule,
  ExplainedTest,
  Explanation,
  Holds,
  NeededChange,
} from './explain/explanation.js';
export type { Seen } from './explain/seen.js';
export { type Counted, countedUnder, type Standing, standingOf } from './explain/standing.js';
export { explainTest } from './explain/test.js';
export { type FlatRules, flatRules, preparedRules } from './flat-rules.js';
export { addressPart, destinationsPart, keyPart, keyText, keyTexts, type LimitKey, limitKey } from './limit-key.js';
export { type Limits, NO_TRAFFIC } from './limits.js';
export { decisionOf, Judge, type JudgeOptions } from './plan/judge.js';
export type { BlindRule, Outcome } from './plan/outcome.js';
export { type AskLimit, PENDING, type Unresolved } from './plan/outcome-table.js';
export { type AddressClass, type ClassCountries, classOf, countryIn } from './plan/partition/partition.js';
export type { SharedPartition } from './plan/partition/shared.js';
export { compilePlan, type Plan } from './plan/plan.js';
export { addressesIn, type Clients, classesOf, noClients, wholeColumn } from './plan/source/addresses.js';
export { type ChunkFacts, chunkFacts, RunMemory } from './plan/source/chunk-facts.js';
export { allRows, numberColumn, textColumn } from './plan/source/columns.js';
export { type Combinations, combine } from './plan/source/combinations.js';
export { Destinations, NOT_KNOWN, SEVERAL } from './plan/source/destinations.js';
export { ALL_HEADERS } from './plan/text-fields.js';
export { type Prepared, type PreparedRules, type PrepareOptions, prepare } from './prepared.js';
export { evaluate } from './reference/evaluate.js';
export { conditionsHold, type Judged, testField } from './reference/test.js';
export { createRouter, type Outbound, type Router } from './route.js';
export { countriesIn, countriesOf, countriesText, destinationsOf } from './semantics/destinations.js';
export type { Truth } from './semantics/truth.js';
export { pathsOf, type Subject, subjectOf } from './subject.js';
