import type { PolicyBody } from '@jade-fence/contract';
import { lazy, Suspense, useState } from 'react';
import { useNavigate } from 'react-router';
import { call } from '../api/call.js';
import { useDeed } from '../api/fetching.js';
import { AskButton } from '../frame/ask-button.js';
import { Button } from '../frame/button.js';
import { ErrorMessage } from '../frame/message.js';
import { HistoryLink } from '../history/history-link.js';

const dialogs = () => import('./policy-dialogs.js');
const NewPolicyDialog = lazy(async () => ({ default: (await dialogs()).NewPolicyDialog }));
const DuplicateDialog = lazy(async () => ({ default: (await dialogs()).DuplicateDialog }));

/** A button that asks what a new policy is to cover, and makes it. */
export function NewPolicy() {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button onClick={() => setOpen(true)}>New policy</Button>
      <Suspense fallback={null}>{open && <NewPolicyDialog onClose={() => setOpen(false)} />}</Suspense>
    </>
  );
}

/** What can be done with a policy as a whole. */
export function PolicyActs({ policy, onEdit }: { readonly policy: PolicyBody; readonly onEdit: () => void }) {
  const [copying, setCopying] = useState(false);
  const navigate = useNavigate();
  const name = policy.policy;
  const remove = useDeed(() =>
    call('DELETE /objects/:kind/:name', { params: { kind: 'policy', name }, version: policy.version }),
  );
  return (
    <span className="flex flex-wrap items-baseline gap-2">
      <HistoryLink kind="policy" name={name} />
      <Button onClick={onEdit}>Edit policy</Button>
      <Button onClick={() => setCopying(true)}>Duplicate</Button>
      <AskButton
        consequence={`The policy ${name} and its ${policy.ruleCount} rules are taken out of the draft. What is published goes on as it is until you publish; earlier states stay in its history.`}
        does="Delete the policy"
        onConfirm={() => remove.mutate(undefined, { onSuccess: () => navigate('/') })}
      >
        Delete
      </AskButton>
      {remove.error && <ErrorMessage error={remove.error} />}
      <Suspense fallback={null}>
        {copying && <DuplicateDialog policy={policy} onClose={() => setCopying(false)} />}
      </Suspense>
    </span>
  );
}
