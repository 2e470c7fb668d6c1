import type { DraftBody } from '@jade-fence/contract';
import type { DocumentKind } from '@jade-fence/core/text';
import { type FormEvent, useState } from 'react';
import { call } from '../api/call.js';
import { useDeed, useFetched } from '../api/fetching.js';
import { useMay, useMe } from '../api/session.js';
import { Button } from '../frame/button.js';
import { TextField } from '../frame/field.js';
import { ErrorMessage } from '../frame/message.js';
import { Part } from '../frame/page.js';
import { Tick } from '../frame/tick.js';
import { clock } from '../marks/clock.js';
import { Differences } from './differences.js';

/** Publishing, or asking another to. */
export function PublishForm({ draft }: { readonly draft: DraftBody }) {
  const [message, setMessage] = useState('');
  const [accept, setAccept] = useState(false);
  // Undefined: all of the draft.
  const [only, setOnly] = useState<readonly Chosen[]>();
  const mayPublish = useMay('publisher');
  const mayEdit = useMay('editor');
  const fourEyes = useFetched('GET /settings', mayPublish && {}).data?.fourEyes === true;
  const alone = mayPublish && !fourEyes;
  const publish = useDeed(
    (): Promise<unknown> =>
      alone
        ? call('POST /revisions', { body: { message, acceptWarnings: accept, draft: draft.draft, only } })
        : call('POST /proposals', { body: { message, only } }),
  );
  const submit = (event: FormEvent) => {
    event.preventDefault();
    publish.mutate(undefined, {
      onSuccess: () => {
        setMessage('');
        setOnly(undefined);
      },
    });
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
        <ChooseObjects only={only} onChange={setOnly} />
        {warnings && (
          <Tick checked={accept} onChange={setAccept}>
            Publish despite the new warnings
          </Tick>
        )}
        {publish.error && <ErrorMessage error={publish.error} />}
        {publish.isSuccess && !draft.changed && <p role="status">It is in force.</p>}
        <Button type="submit" main disabled={!draft.changed || only?.length === 0 || publish.isPending}>
          {alone ? `Publish ${only ? 'these' : 'the draft'}` : `Ask another to publish ${only ? 'these' : 'it'}`}
        </Button>
      </form>
    </Part>
  );
}

interface Chosen {
  readonly kind: DocumentKind;
  readonly name: string;
}

interface ChooseObjectsProps {
  readonly only: readonly Chosen[] | undefined;
  readonly onChange: (only: readonly Chosen[] | undefined) => void;
}

/** Which of the edited objects it is about, where it is not about all. */
function ChooseObjects({ only, onChange }: ChooseObjectsProps) {
  const changes = useFetched('GET /differences').data?.changes ?? [];
  if (changes.length < 2) return null;
  const isChosen = ({ kind, name }: Chosen) => only?.some((each) => each.kind === kind && each.name === name) ?? false;
  return (
    <fieldset className="space-y-1">
      <legend className="sr-only">Which objects</legend>
      <Tick checked={only !== undefined} onChange={(some) => onChange(some ? [] : undefined)}>
        Chosen objects alone; the other edits stay in the draft
      </Tick>
      {only !== undefined &&
        changes.map(({ kind, name, by }) => (
          <div key={`${kind} ${name}`} className="ml-5">
            <Tick
              checked={isChosen({ kind, name })}
              onChange={(chosen) =>
                onChange(
                  chosen ? [...only, { kind, name }] : only.filter((each) => each.kind !== kind || each.name !== name),
                )
              }
            >
              {kind} <code className="font-mono">{name}</code>
              {by && <span className="text-soft">, by {by}</span>}
            </Tick>
          </div>
        ))}
    </fieldset>
  );
}

interface ProposalProps {
  readonly proposal: DraftBody['proposals'][number];
  readonly accept: boolean;
  readonly mayApprove: boolean;
}

function Proposal({ proposal: given, accept, mayApprove }: ProposalProps) {
  const { proposal, message, author, objects, state, proposedAt } = given;
  const me = useMe().data?.name;
  const [isOpen, setOpen] = useState(false);
  const difference = useFetched('GET /proposals/:id/differences', isOpen && { params: { id: proposal } });
  const approve = useDeed(() =>
    call('POST /proposals/:id/approve', { params: { id: proposal }, body: { acceptWarnings: accept } }),
  );
  const withdraw = useDeed(() => call('POST /proposals/:id/withdraw', { params: { id: proposal } }));
  return (
    <div className="mb-2 border-l-2 border-iris bg-iris-wash px-2 py-1">
      <p>
        {author} proposes: {message}{' '}
        <span className="text-soft">
          {clock(proposedAt).slice(0, 16)}
          {state === 'stale' && `, and ${objects === null ? 'the draft' : 'that'} was changed since`}
        </span>
      </p>
      {objects !== null && (
        <p>
          Of the draft alone:{' '}
          <code className="font-mono">{objects.map(({ kind, name }) => `${kind} ${name}`).join(', ')}</code>
        </p>
      )}
      <details onToggle={(event) => setOpen(event.currentTarget.open)}>
        <summary className="cursor-pointer text-iris hover:underline">What it changes</summary>
        {difference.error && <ErrorMessage error={difference.error} />}
        {difference.data && <Differences difference={difference.data} onDiscard={undefined} />}
      </details>
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
