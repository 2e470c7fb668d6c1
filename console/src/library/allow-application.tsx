import type { WorkspaceBody } from '@jade-fence/contract';
import { useState } from 'react';
import { Link } from 'react-router';
import { call } from '../api/call.js';
import { useDeed } from '../api/fetching.js';
import { usePolicy, useWorkspace } from '../api/queries.js';
import { Button } from '../frame/button.js';
import { Choice } from '../frame/choice.js';
import { ErrorMessage } from '../frame/message.js';
import { Part } from '../frame/page.js';

/** Allows an application in a policy, with all that it needs to work. */
export function AllowApplication({ application }: { readonly application: string }) {
  const policies = useWorkspace().data?.policies ?? [];
  const [first] = policies;
  return first ? <Allow {...{ application, policies }} first={first.policy} /> : null;
}

interface AllowProps {
  readonly application: string;
  readonly policies: WorkspaceBody['policies'];
  readonly first: string;
}

function Allow({ application, policies, first }: AllowProps) {
  const [chosen, setChosen] = useState<string>();
  const [above, setAbove] = useState('');
  const policy = chosen ?? first;
  const rules = usePolicy(policy).data?.rules ?? [];
  const allow = useDeed(() =>
    call('POST /policies/:name/allow', {
      params: { name: policy },
      body: { application, ...(above !== '' && { above }) },
    }),
  );
  return (
    <Part title="Allow it">
      <div className="flex flex-wrap items-center gap-3">
        <Choice
          label="In"
          value={policy}
          options={policies.map((each) => ({ value: each.policy, label: each.policy, detail: each.note ?? '' }))}
          onChange={(next) => {
            setChosen(next);
            setAbove('');
          }}
        />
        <Choice
          label="Above"
          value={above}
          options={[
            { value: '', label: 'none', detail: 'as the last rule' },
            ...rules.map(({ rule, sentence }) => ({ value: rule, label: rule, detail: sentence })),
          ]}
          onChange={setAbove}
        />
        <Button disabled={allow.isPending} onClick={() => allow.mutate(undefined)}>
          Allow it, and what it needs
        </Button>
      </div>
      {allow.error && <ErrorMessage error={allow.error} />}
      {allow.data && (
        <p role="status" className="mt-1">
          The rule{' '}
          <Link
            to={`/policies/${allow.data.policy}?rule=${allow.data.rule}`}
            className="font-mono text-iris hover:underline"
          >
            {allow.data.rule}
          </Link>{' '}
          of {allow.data.policy} allows it
          {allow.data.needs.length > 0 && `, and ${allow.data.needs.join(', ')}, which it needs`}.
        </p>
      )}
    </Part>
  );
}
