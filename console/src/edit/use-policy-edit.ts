import type { ObjectBody, PolicyBody } from '@jade-fence/contract';
import { useRef } from 'react';
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

/** Ways to edit one policy of the draft. Each edit can be taken back. */
export function usePolicyEdit(policy: PolicyBody) {
  const name = policy.policy;
  const undoing = useRef(false);
  const put = useDeed(async (text: string) => {
    const stored = await call<ObjectBody>(
      'PUT',
      `/api/objects/policy/${encodeURIComponent(name)}`,
      { text },
      { 'if-match': `"${policy.version}"` },
    );
    const kept = made.get(name) ?? [];
    if (undoing.current) made.set(name, kept.slice(0, -1));
    else made.set(name, [...kept, { before: policy.text, after: text }].slice(-MOST_KEPT));
    undoing.current = false;
    return stored;
  });
  const last = made.get(name)?.at(-1);
  return {
    put,
    /** Undefined where nothing was edited here, or others have changed the policy since: that would take theirs back too. */
    undo:
      last === undefined || last.after !== policy.text
        ? undefined
        : () => {
            undoing.current = true;
            put.mutate(last.before);
          },
  };
}

export type PolicyEdit = ReturnType<typeof usePolicyEdit>;
