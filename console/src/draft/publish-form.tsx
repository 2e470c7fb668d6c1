import type { DraftBody } from '@jade-fence/service/bodies';
import { type FormEvent, useState } from 'react';
import { call } from '../api/call.js';
import { useDeed, useFetched } from '../api/fetching.js';
import { useMay, useMe } from '../api/session.js';
import { Button } from '../frame/button.js';
import { TextField } from '../frame/field.js';
import { ErrorMessage } from '../frame/message.js';
import { Part } from '../frame/page.js';
import { Tick } from '../frame/tick.js';
import { clock } from '../marks/count.js';

/** Publishing, or asking another to. */
export function PublishForm({ draft }: { readonly draft: DraftBody }) {
  const [message, setMessage] = useState('');
  const [accept, setAccept] = useState(false);
  const mayPublish = useMay('publisher');
  const mayEdit = useMay('editor');
  const fourEyes = useFetched<{ fourEyes: boolean }>(mayPublish ? '/api/settings' : undefined).data?.fourEyes === true;
  const alone = mayPublish && !fourEyes;
  const publish = useDeed(() =>
    alone
      ? call('POST', '/api/revisions', { message, acceptWarnings: accept, draft: draft.draft })
      : call('POST', '/api/proposals', { message }),
  );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    publish.mutate(undefined, { onSuccess: () => setMessage('') });
  };
  const warnings = draft.newFindings.some(({ severity }) => severity === 'warning');
  if (!mayEdit) return null;
  return (
    <Part title={alone ? 'Publish' : 'Propose'}>
      {draft.proposals.map((proposal) => (
        <Proposal key={proposal.proposal} proposal={proposal} accept={accept} mayApprove={mayPublish} />
      ))}
      <form onSubmit={submit} className="space-y-2">
        <TextField label="Why" wide required value={message} onChange={setMessage} placeholder="Wagering is refused" />
        {warnings && (
          <Tick checked={accept} onChange={setAccept}>
            The new warnings are meant
          </Tick>
        )}
        {publish.error && <ErrorMessage error={publish.error} />}
        {publish.isSuccess && !draft.changed && <p role="status">It is in force.</p>}
        <Button type="submit" main disabled={!draft.changed || publish.isPending}>
          {alone ? 'Publish the draft' : 'Ask another to publish it'}
        </Button>
      </form>
    </Part>
  );
}

interface ProposalProps {
  readonly proposal: DraftBody['proposals'][number];
  readonly accept: boolean;
  readonly mayApprove: boolean;
}

function Proposal({ proposal: { proposal, message, author, state, proposedAt }, accept, mayApprove }: ProposalProps) {
  const me = useMe().data?.name;
  const approve = useDeed(() => call('POST', `/api/proposals/${proposal}/approve`, { acceptWarnings: accept }));
  const withdraw = useDeed(() => call('POST', `/api/proposals/${proposal}/withdraw`, {}));
  return (
    <div className="mb-2 border-l-2 border-jade bg-jade-wash px-2 py-1">
      <p>
        {author} proposes: {message}{' '}
        <span className="text-soft">
          {clock(proposedAt).slice(0, 16)}
          {state === 'stale' && ', and the draft has changed since'}
        </span>
      </p>
      {(approve.error ?? withdraw.error) && <ErrorMessage error={(approve.error ?? withdraw.error) as Error} />}
      <span className="flex gap-2">
        {mayApprove && author !== me && state === 'open' && (
          <Button onClick={() => approve.mutate(undefined)}>Approve and publish</Button>
        )}
        {author === me && <Button onClick={() => withdraw.mutate(undefined)}>Withdraw</Button>}
      </span>
    </div>
  );
}
