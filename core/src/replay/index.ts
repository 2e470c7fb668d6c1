export { filterRows, type JudgingSlot, namedSlots, type RequestFilter } from './filter.js';
export type { PolicyReport, Remark, Report, RuleReport, Share, Shared } from './report.js';
export { Run } from './run.js';
export { numberSlots, type Slot, UNCOVERED } from './slot.js';
export { SIDE_ROLES, type SideRole, sideColumn, VerdictsBuilder } from './verdicts.js';
