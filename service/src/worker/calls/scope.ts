import type { Prepared } from '@jade-fence/core/engine';
import { type LogFilter, type RunScope, runScope } from '@jade-fence/core/replay';
import { Preparer } from '../../workspace/preparer.js';
import type { WholeParts } from '../../workspace/state.js';

const preparer = new Preparer();
/** The last state, which the next replay is likely to run too. */
let last: { readonly key: string; readonly prepared: Prepared } | undefined;

/** What a thread needs to know of a replay to work on it. */
export interface ScopeParts {
  /** Equal for equal states. */
  readonly key: string;
  readonly state: WholeParts;
  /** The one policy to judge by; undefined: each request by the one that covers it. */
  readonly policy: string | undefined;
  /** Which requests to judge; undefined: all. */
  readonly only?: LogFilter | undefined;
}

/** What a run judges by. The last one is kept, since chunks of a run come one after the other. */
export function scopeOf({ key, state, policy, only }: ScopeParts): RunScope {
  if (last?.key !== key) last = { key, prepared: preparer.prepare(state) };
  const { prepared } = last;
  return runScope(prepared, policy === undefined ? undefined : prepared.workspace.policies.get(policy), { only });
}
