import type { JudgeOptions, Prepared } from '../engine/index.js';
import type { Policy } from '../policy/index.js';
import type { LogFilter } from './filter/request-filter.js';
import type { Dimension } from './report.js';

export interface RunOptions extends JudgeOptions {
  /** The dimensions of the report. Default all. */
  readonly breakdowns?: readonly Dimension[];
  /** Which requests of the log to judge, and count under limits. Default all. */
  readonly only?: LogFilter | undefined;
}

/** The rules that a replay judges by. */
export interface RunScope {
  readonly prepared: Prepared;
  readonly policies: readonly Policy[];
  /** Whether each request goes to the policy that covers it; else all go to the only one. */
  readonly routed: boolean;
  readonly options: RunOptions;
}

/** Every request by the policy that is given; without one, each by the policy that covers it. */
export function runScope(prepared: Prepared, policy?: Policy, options: RunOptions = {}): RunScope {
  const policies = policy ? [policy] : [...prepared.workspace.policies.values()];
  return { prepared, policies, routed: policy === undefined, options };
}
