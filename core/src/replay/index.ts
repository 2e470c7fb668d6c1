export { filterRows, namedSlots, type RequestFilter } from './filter.js';
export { keptLimits } from './kept-limits.js';
export type { KeptOutcome } from './outcome-text.js';
export type { LimitReport, PolicyReport, Remark, Report, RuleReport, Share, Shared } from './report.js';
export { Run } from './run.js';
export { numberSlots, type Slot } from './slot.js';
export { SIDE_ROLES, type SideRole, Verdicts } from './verdicts.js';
