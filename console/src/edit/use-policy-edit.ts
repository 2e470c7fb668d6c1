import type { ObjectBody, PolicyBody } from '@jade-fence/service/bodies';
import { useRef } from 'react';
import { call } from '../api/call.js';
import { useDeed } from '../api/fetching.js';

/** Texts that a policy had before edits that were made here, the last one last. */
const before = new Map<string, string[]>();
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
    const kept = before.get(name) ?? [];
    if (undoing.current) before.set(name, kept.slice(0, -1));
    else before.set(name, [...kept, policy.text].slice(-MOST_KEPT));
    undoing.current = false;
    return stored;
  });
  const last = before.get(name)?.at(-1);
  return {
    put,
    /** Undefined where nothing was edited here. */
    undo:
      last === undefined
        ? undefined
        : () => {
            undoing.current = true;
            put.mutate(last);
          },
  };
}

export type PolicyEdit = ReturnType<typeof usePolicyEdit>;
