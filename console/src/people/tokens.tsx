import type { Role } from '@jade-fence/contract';
import { useState } from 'react';
import { call } from '../api/call.js';
import { useDeed, useWhole } from '../api/fetching.js';
import { useMe } from '../api/session.js';
import { AskButton } from '../frame/ask-button.js';
import { Button } from '../frame/button.js';
import { Choice } from '../frame/choice.js';
import { TextField } from '../frame/field.js';
import { Command, ErrorMessage } from '../frame/message.js';
import { Part } from '../frame/page.js';
import { Table } from '../frame/table.js';
import { clock } from '../marks/clock.js';
import { ROLES } from './roles.js';

const GATEWAY = { value: 'gateway', label: 'a gateway' } as const;

/** Keys for programs: one's own; for administrators everyone's, those of gateways too. */
export function Tokens({ administrator }: { readonly administrator: boolean }) {
  const tokens = useWhole('GET /tokens', { query: { all: administrator } });
  const me = useMe().data?.role ?? 'viewer';
  const [name, setName] = useState('');
  const [role, setRole] = useState<Role | 'gateway'>('viewer');
  const make = useDeed(() =>
    call('POST /tokens', { body: { name, ...(role === 'gateway' ? { kind: role } : { role }) } }),
  );
  const remove = useDeed((id: number) => call('DELETE /tokens/:id', { params: { id } }));
  const error = tokens.error ?? make.error ?? remove.error;
  const own = ROLES.slice(0, ROLES.findIndex(({ value }) => value === me) + 1);
  return (
    <Part title={administrator ? 'Tokens, for programs' : 'Your tokens, for programs'}>
      {error && <ErrorMessage error={error} />}
      {make.data?.secret && (
        <div role="status" className="mb-2 border-l-2 border-iris bg-iris-wash px-2 py-1">
          The key of {make.data.name}, shown only once:
          <Command text={make.data.secret} />
        </div>
      )}
      <Table
        label="Tokens"
        columns={['name', 'of', 'may be', 'used last', 'runs out', '']}
        rows={tokens.data?.tokens.map((token) => ({
          key: token.token,
          cells: [
            token.name,
            token.person ?? '·',
            token.role ?? GATEWAY.label,
            token.usedAt === null ? 'never' : clock(token.usedAt).slice(0, 16),
            token.expiresAt === null ? 'never' : clock(token.expiresAt).slice(0, 10),
            <AskButton
              key="x"
              consequence={`Whoever calls with the token ${token.name} is refused from then on. It cannot be had back.`}
              does={`Delete the token ${token.name}`}
              onConfirm={() => remove.mutate(token.token)}
            >
              Delete
            </AskButton>,
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
        <TextField label="Name of the token" required value={name} onChange={setName} placeholder="pipeline" />
        <Choice label="It may be" value={role} options={administrator ? [...own, GATEWAY] : own} onChange={setRole} />
        <Button type="submit">Make a token</Button>
      </form>
    </Part>
  );
}
