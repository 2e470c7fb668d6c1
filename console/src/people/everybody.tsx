import type { PersonChange, Role } from '@jade-fence/contract';
import { useState } from 'react';
import { call } from '../api/call.js';
import { useDeed, useWhole } from '../api/fetching.js';
import { useMe } from '../api/session.js';
import { AskButton } from '../frame/ask-button.js';
import { Button } from '../frame/button.js';
import { Choice } from '../frame/choice.js';
import { TextField } from '../frame/field.js';
import { ErrorMessage } from '../frame/message.js';
import { Part } from '../frame/page.js';
import { Table } from '../frame/table.js';
import { clock } from '../marks/clock.js';
import { ROLES } from './roles.js';

const ASKING = [
  { value: 'no', label: 'by pseudonyms' },
  { value: 'yes', label: 'by addresses too' },
];

/** Everybody who may sign in, and what each may do. */
export function Everybody() {
  const people = useWhole('GET /people');
  const [name, setName] = useState('');
  const [role, setRole] = useState<Role>('viewer');
  const [password, setPassword] = useState('');
  const me = useMe().data?.name;
  const add = useDeed(() => call('POST /people', { body: { name, role, ...(password && { password }) } }));
  const change = useDeed(({ who, what }: { who: string; what: PersonChange }) =>
    call('PATCH /people/:name', { params: { name: who }, body: what }),
  );
  const remove = useDeed((who: string) => call('DELETE /people/:name', { params: { name: who } }));
  const error = people.error ?? add.error ?? change.error ?? remove.error;
  return (
    <Part title="Everybody">
      {error && <ErrorMessage error={error} />}
      <Table
        label="People"
        columns={['name', 'role', 'signs in', 'redacted clients', 'since', '']}
        rows={people.data?.people.map((person) => ({
          key: person.name,
          tone: person.disabled ? 'text-soft' : '',
          cells: [
            <code key="n" className="font-mono">
              {person.name}
            </code>,
            <Choice
              key="r"
              label={`Role of ${person.name}`}
              value={person.role}
              options={ROLES}
              onChange={(next) => change.mutate({ who: person.name, what: { role: next } })}
            />,
            person.disabled ? 'not at all' : person.password ? 'with a password' : 'with tokens',
            <Choice
              key="s"
              label={`How ${person.name} asks about redacted clients`}
              value={person.seesAddresses ? 'yes' : 'no'}
              options={ASKING}
              onChange={(next) => change.mutate({ who: person.name, what: { seesAddresses: next === 'yes' } })}
            />,
            clock(person.createdAt).slice(0, 10),
            person.name !== me && (
              <span key="a" className="flex gap-2">
                <Button onClick={() => change.mutate({ who: person.name, what: { disabled: !person.disabled } })}>
                  {person.disabled ? 'Let in again' : 'Shut out'}
                </Button>
                <AskButton
                  consequence={`${person.name} can sign in no more, and the sessions and tokens of ${person.name} end. The audit keeps what was done.`}
                  does={`Remove ${person.name}`}
                  onConfirm={() => remove.mutate(person.name)}
                >
                  Remove
                </AskButton>
              </span>
            ),
          ],
        }))}
      />
      <form
        className="mt-2 flex flex-wrap items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          add.mutate(undefined, {
            onSuccess: () => {
              setName('');
              setPassword('');
            },
          });
        }}
      >
        <TextField label="Name" required value={name} onChange={setName} />
        <TextField
          label="Password, 12 characters or more"
          type="password"
          autoComplete="new-password"
          value={password}
          onChange={setPassword}
        />
        <Choice label="Role" value={role} options={ROLES} onChange={setRole} />
        <Button type="submit">Add</Button>
      </form>
    </Part>
  );
}
