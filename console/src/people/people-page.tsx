import type { PersonBody, TokenBody } from '@jade-fence/service/bodies';
import { type FormEvent, useState } from 'react';
import { Link } from 'react-router';
import { call } from '../api/call.js';
import { useDeed, useFetched } from '../api/fetching.js';
import { useMay, useMe } from '../api/session.js';
import { Button } from '../frame/button.js';
import { Choice } from '../frame/choice.js';
import { TextField } from '../frame/field.js';
import { Command, ErrorMessage } from '../frame/message.js';
import { Page, Part } from '../frame/page.js';
import { Table } from '../frame/table.js';
import { Tick } from '../frame/tick.js';
import { clock } from '../marks/count.js';

const ROLES = ['viewer', 'editor', 'publisher', 'administrator'].map((value) => ({ value, label: value }));

/** Who may do what, with which keys, and the service’s settings. */
export default function PeoplePage() {
  const administrator = useMay('administrator');
  const publisher = useMay('publisher');
  return (
    <Page
      title="People"
      about="Who may do what here"
      acts={
        publisher && (
          <Link to="/audit" className="text-jade hover:underline">
            Audit: who did what
          </Link>
        )
      }
    >
      {administrator && <Everybody />}
      <Tokens />
      <OwnPassword />
      {publisher && <Settings mayChange={administrator} />}
    </Page>
  );
}

function Everybody() {
  const people = useFetched<{ people: PersonBody[] }>('/api/people');
  const [name, setName] = useState('');
  const [role, setRole] = useState('viewer');
  const [password, setPassword] = useState('');
  const me = useMe().data?.name;
  const add = useDeed(() => call('POST', '/api/people', { name, role, ...(password && { password }) }));
  const change = useDeed(({ who, what }: { who: string; what: object }) =>
    call('PATCH', `/api/people/${encodeURIComponent(who)}`, what),
  );
  const remove = useDeed((who: string) => call('DELETE', `/api/people/${encodeURIComponent(who)}`));
  const error = people.error ?? add.error ?? change.error ?? remove.error;
  return (
    <Part title="Everybody">
      {error && <ErrorMessage error={error} />}
      <Table
        label="People"
        columns={['name', 'role', 'signs in', 'since', '']}
        rows={(people.data?.people ?? []).map((person) => ({
          key: person.name,
          tone: person.disabled ? 'text-soft' : '',
          cells: [
            <code key="n" className="font-mono">
              {person.name}
            </code>,
            <Choice
              key="r"
              label={`Role of ${person.name}`}
              value={person.role as string}
              options={ROLES}
              onChange={(next) => change.mutate({ who: person.name, what: { role: next } })}
            />,
            person.disabled ? 'not at all' : person.password ? 'with a password' : 'with tokens',
            clock(person.createdAt).slice(0, 10),
            person.name !== me && (
              <span key="a" className="flex gap-2">
                <Button onClick={() => change.mutate({ who: person.name, what: { disabled: !person.disabled } })}>
                  {person.disabled ? 'Let in again' : 'Shut out'}
                </Button>
                <Button onClick={() => remove.mutate(person.name)}>Remove</Button>
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

function Tokens() {
  const tokens = useFetched<{ tokens: TokenBody[] }>('/api/tokens');
  const me = useMe().data?.role ?? 'viewer';
  const [name, setName] = useState('');
  const [role, setRole] = useState('viewer');
  const make = useDeed(() => call<TokenBody>('POST', '/api/tokens', { name, role }));
  const remove = useDeed((id: number) => call('DELETE', `/api/tokens/${id}`));
  const error = tokens.error ?? make.error ?? remove.error;
  const own = ROLES.slice(0, ROLES.findIndex(({ value }) => value === me) + 1);
  return (
    <Part title="Your tokens, for programs">
      {error && <ErrorMessage error={error} />}
      {make.data?.secret && (
        <div role="status" className="mb-2 border-l-2 border-jade bg-jade-wash px-2 py-1">
          The key of {make.data.name}, told this once:
          <Command text={make.data.secret} />
        </div>
      )}
      <Table
        label="Tokens"
        columns={['name', 'may be', 'used last', 'runs out', '']}
        rows={(tokens.data?.tokens ?? []).map((token) => ({
          key: token.token,
          cells: [
            token.name,
            token.role,
            token.usedAt === null ? 'never' : clock(token.usedAt).slice(0, 16),
            token.expiresAt === null ? 'never' : clock(token.expiresAt).slice(0, 10),
            <Button key="x" onClick={() => remove.mutate(token.token)}>
              Delete
            </Button>,
          ],
        }))}
      />
      <form
        className="mt-2 flex flex-wrap items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          make.mutate(undefined, { onSuccess: () => setName('') });
        }}
      >
        <TextField label="Name of the token" required value={name} onChange={setName} placeholder="gateway" />
        <Choice label="It may be" value={role} options={own} onChange={setRole} />
        <Button type="submit">Make a token</Button>
      </form>
    </Part>
  );
}

function OwnPassword() {
  const [old, setOld] = useState('');
  const [password, setPassword] = useState('');
  const change = useDeed(() => call('PUT', '/api/me/password', { ...(old && { old }), password }));
  const submit = (event: FormEvent) => {
    event.preventDefault();
    change.mutate(undefined, { onSuccess: () => setPassword('') });
  };
  return (
    <Part title="Your password">
      <form onSubmit={submit} className="flex flex-wrap items-end gap-2">
        <TextField
          label="Until now, if there is one"
          type="password"
          autoComplete="current-password"
          value={old}
          onChange={setOld}
        />
        <TextField
          label="From now on"
          type="password"
          autoComplete="new-password"
          required
          value={password}
          onChange={setPassword}
        />
        <Button type="submit">Change it</Button>
        {change.isSuccess && <span role="status">It is changed.</span>}
      </form>
      {change.error && <ErrorMessage error={change.error} />}
    </Part>
  );
}

interface SettingsBody {
  readonly fourEyes: boolean;
  readonly alertUrl: string | null;
}

function Settings({ mayChange }: { readonly mayChange: boolean }) {
  const settings = useFetched<SettingsBody>('/api/settings');
  const [url, setUrl] = useState<string>();
  const change = useDeed((what: Partial<SettingsBody>) => call('PATCH', '/api/settings', what));
  if (!settings.data) return null;
  const { fourEyes, alertUrl } = settings.data;
  return (
    <Part title="Settings">
      {change.error && <ErrorMessage error={change.error} />}
      <Tick checked={fourEyes} disabled={!mayChange} onChange={(next) => change.mutate({ fourEyes: next })}>
        What one person wants to publish is published by another
      </Tick>
      <form
        className="mt-2 flex items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate({ alertUrl: url === '' ? null : (url ?? alertUrl) });
        }}
      >
        <TextField
          label="Where alerts are sent"
          value={url ?? alertUrl ?? ''}
          onChange={setUrl}
          placeholder="https://alerts.fennelhill.example/gate"
        />
        {mayChange && <Button type="submit">Set</Button>}
      </form>
    </Part>
  );
}
