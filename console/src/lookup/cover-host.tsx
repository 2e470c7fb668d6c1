import { useState } from 'react';
import { call } from '../api/call.js';
import { useDeed } from '../api/fetching.js';
import { useWorkspace } from '../api/queries.js';
import { useMay } from '../api/session.js';
import { readHead, withHeadKey, writtenHead } from '../edit/policy-head.js';
import { Button } from '../frame/button.js';
import { Choice } from '../frame/choice.js';
import { ErrorMessage } from '../frame/message.js';

/** Has a policy cover one more host, from the host's end. */
export function CoverHost({ host }: { readonly host: string }) {
  const mayEdit = useMay('editor');
  const policies = useWorkspace().data?.policies ?? [];
  const [chosen, setChosen] = useState<string>();
  const policy = chosen ?? policies[0]?.policy;
  const cover = useDeed(async (name: string) => {
    const { text, version } = await call('GET /policies/:name', { params: { name } });
    const head = readHead(text);
    if ('faults' in head) throw new Error(`The policy ${name} cannot be read: ${head.faults.join('; ')}`);
    const next = withHeadKey(text, ...writtenHead({ ...head, hosts: [...head.hosts, host] }, 'hosts'));
    return call('PUT /objects/:kind/:name', { params: { kind: 'policy', name }, body: { text: next }, version });
  });
  if (!mayEdit || policy === undefined) return null;
  return (
    <div className="mt-1 flex flex-wrap items-center gap-2">
      <Choice
        label="Let a policy cover it"
        value={policy}
        options={policies.map((each) => ({ value: each.policy, label: each.policy, detail: each.note ?? '' }))}
        onChange={setChosen}
      />
      <Button onClick={() => cover.mutate(policy)} disabled={cover.isPending}>
        Add {host} to its hosts
      </Button>
      {cover.error && <ErrorMessage error={cover.error} />}
    </div>
  );
}
