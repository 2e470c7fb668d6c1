export { Catalogue } from './catalogue.js';
export { ChunkJudge, type JudgedChunk } from './chunk-judge.js';
export {
  type Cause,
  type ComparedChunk,
  Comparison,
  type ComparisonReport,
  type Decided,
  decided,
  type VerdictChange,
} from './comparison/comparison.js';
export { type ChangeFilter, filterChanges } from './comparison/filter.js';
export { Coordinator, type ResolvedChunk } from './coordinator.js';
export {
  EVIDENCE_DIMENSIONS,
  Evidence,
  type EvidenceDimension,
  type EvidenceShare,
} from './evidence.js';
export { Fall, type PolicyFall, type RuleFall } from './fall.js';
export { filterRows } from './filter/filter.js';
export { namedSlots } from './filter/outcomes.js';
export {
  asksForCatalogue,
  asksForRequest,
  type FilterInput,
  LOG_FILTER_FIELDS,
  type LogFilter,
  type RequestFilter,
} from './filter/request-filter.js';
export { filterFaults } from './filter/rows.js';
export {
  type ClientBlooms,
  clientBlooms,
  clientsMayHold,
  type LogSummary,
  logMayHold,
  onlyPath,
  pathBloom,
  pathsMayHold,
  summariseLog,
  summariseVerdicts,
  type VerdictSummary,
  verdictsMayHold,
} from './filter/summary.js';
export type { FinishedChunk } from './finished-chunk.js';
export { keptLimits } from './kept-limits.js';
export type { KeptOutcome } from './outcome-text.js';
export {
  type Breakdown,
  type Breakdowns,
  DIMENSIONS,
  type Dimension,
  type LimitReport,
  type PolicyReport,
  type Remark,
  type Report,
  type RuleReport,
  type Share,
  type Shared,
  type UnresolvedHosts,
} from './report.js';
export { Run } from './run.js';
export { type RunOptions, type RunScope, runScope } from './run-scope.js';
export { numberSlots, type Slot } from './slot.js';
export { type HostRequests, unresolvedIn } from './tally/unresolved.js';
export { VerdictHours } from './verdict-hours.js';
export { SIDE_ROLES, type SideRole, Verdicts } from './verdicts.js';
