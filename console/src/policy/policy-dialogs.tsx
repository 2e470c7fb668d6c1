import type { PolicyBody } from '@jade-fence/contract';
import { type FormEvent, useState } from 'react';
import { useNavigate } from 'react-router';
import { call } from '../api/call.js';
import { useDeed } from '../api/fetching.js';
import { editsOfText, type TextEdits } from '../edit/edits-of-text.js';
import { Button } from '../frame/button.js';
import { Choice } from '../frame/choice.js';
import { TextField } from '../frame/field.js';
import { ErrorMessage } from '../frame/message.js';
import { Panel } from '../frame/panel.js';
import { wordsIn } from '../frame/words.js';
import { HEAD } from './place.js';

type TextBy = (edits: TextEdits) => string;

/** Stores a policy under a name that none has, and opens it. */
function useNewPolicy() {
  const navigate = useNavigate();
  const make = useDeed(async ({ name, textBy }: { readonly name: string; readonly textBy: TextBy }) => {
    const body = { text: textBy(await editsOfText()) };
    return call('PUT /objects/:kind/:name', { params: { kind: 'policy', name }, body, version: 'absent' });
  });
  return {
    error: make.error,
    isPending: make.isPending,
    make: (name: string, textBy: TextBy) =>
      make.mutate({ name, textBy }, { onSuccess: () => navigate(`/policies/${name}?edit=${HEAD}`) }),
  };
}

/** Asks what a new policy is to cover, and makes it. */
export function NewPolicyDialog({ onClose }: { readonly onClose: () => void }) {
  const [name, setName] = useState('');
  const [hosts, setHosts] = useState('');
  const [clients, setClients] = useState('');
  const [then, setThen] = useState('block');
  const policy = useNewPolicy();
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const covers = { hosts: wordsIn(hosts), clients: wordsIn(clients) };
    policy.make(name.trim(), (edits) => edits.newPolicy(name.trim(), covers, then));
  };
  return (
    <Panel open title="A new policy" onClose={onClose}>
      <form className="space-y-3" onSubmit={submit}>
        <TextField label="Name" wide required value={name} onChange={setName} placeholder="herbarium-api" />
        <TextField
          label="Hosts that it covers, for requests that come in"
          wide
          value={hosts}
          onChange={setHosts}
          placeholder="herbarium.fennelhill.example"
        />
        <TextField
          label="Clients that it covers, for requests that go out"
          wide
          value={clients}
          onChange={setClients}
          placeholder="10.41.0.0/16"
        />
        <Choice
          label="Shape"
          value={then}
          options={[
            { value: 'block', label: 'allow only what is listed' },
            { value: 'allow', label: 'refuse what is listed' },
          ]}
          onChange={setThen}
        />
        <MakeOrCancel {...policy} onClose={onClose} />
      </form>
    </Panel>
  );
}

/** Asks for the name of a policy that is like another, and makes it. */
export function DuplicateDialog({ policy, onClose }: { readonly policy: PolicyBody; readonly onClose: () => void }) {
  const [name, setName] = useState(`${policy.policy}-2`);
  const made = useNewPolicy();
  return (
    <Panel open title={`A policy like ${policy.policy}`} onClose={onClose}>
      <form
        className="space-y-3"
        onSubmit={(event) => {
          event.preventDefault();
          made.make(name.trim(), (edits) => edits.duplicateOf(policy.text, name.trim()));
        }}
      >
        <p className="text-soft">It has the same rules, and covers nothing until you say what.</p>
        <TextField label="Name" wide required value={name} onChange={setName} />
        <MakeOrCancel {...made} onClose={onClose} />
      </form>
    </Panel>
  );
}

interface MakeOrCancelProps {
  readonly error: Error | null;
  readonly isPending: boolean;
  readonly onClose: () => void;
}

function MakeOrCancel({ error, isPending, onClose }: MakeOrCancelProps) {
  return (
    <>
      {error && <ErrorMessage error={error} />}
      <span className="flex gap-2">
        <Button type="submit" main disabled={isPending}>
          Make it
        </Button>
        <Button onClick={onClose}>Cancel</Button>
      </span>
    </>
  );
}
