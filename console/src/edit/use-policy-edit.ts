import type { PolicyBody } from '@jade-fence/contract';
import { call } from '../api/call.js';
import { useDeed } from '../api/fetching.js';

/** An edit that was made here: the texts of the policy before and after. */
interface Made {
  readonly before: string;
  readonly after: string;
}

/** By policy, the last one last. */
const made = new Map<string, readonly Made[]>();
const MOST_KEPT = 50;

/** What a policy is to say. */
interface PolicyText {
  /** The text; or what finds it, undefined where nothing is to be changed. */
  readonly text: string | (() => Promise<string | undefined>);
  /** Called as soon as the draft has it, whatever is done next. */
  readonly onKept?: () => void;
  /** Whether it takes the last edit back. Default false. */
  readonly isUndo?: boolean;
}

/** Ways to edit one policy of the draft. Each edit can be taken back. */
export function usePolicyEdit(policy: PolicyBody) {
  const name = policy.policy;
  const put = useDeed(async ({ text, onKept, isUndo = false }: PolicyText) => {
    const next = typeof text === 'string' ? text : await text();
    if (next === undefined) return undefined;
    const stored = await call('PUT /objects/:kind/:name', {
      params: { kind: 'policy', name },
      body: { text: next },
      version: policy.version,
    });
    const kept = made.get(name) ?? [];
    if (isUndo) made.set(name, kept.slice(0, -1));
    // As it was stored, which may end otherwise than it was sent.
    else made.set(name, [...kept, { before: policy.text, after: stored.text }].slice(-MOST_KEPT));
    onKept?.();
    return stored;
  });
  const last = made.get(name)?.at(-1);
  return {
    put,
    /** Undefined where nothing was edited here, or others have changed the policy since: that would take theirs back too. */
    undo:
      last === undefined || last.after !== policy.text
        ? undefined
        : () => put.mutate({ text: last.before, isUndo: true }),
  };
}

export type PolicyEdit = ReturnType<typeof usePolicyEdit>;
