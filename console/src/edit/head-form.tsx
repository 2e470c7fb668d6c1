import type { WorkspaceBody } from '@jade-fence/contract';
import { Choice } from '../frame/choice.js';
import { TextField } from '../frame/field.js';
import { FormRow } from '../frame/form-row.js';
import { Tick } from '../frame/tick.js';
import type { FieldHelp } from './fields.js';
import type { HeadValue } from './policy-head.js';
import { ThenField } from './then-field.js';
import { ValuesField } from './values-field.js';

interface HeadFormProps {
  readonly value: HeadValue;
  readonly workspace: WorkspaceBody;
  readonly onChange: (part: keyof HeadValue, value: HeadValue) => void;
}

const options = (...words: readonly string[]) => words.map((word) => ({ value: word, label: word }));

const HOSTS: FieldHelp = { field: 'host', hint: 'tickets.fennelhill.example, .fennelhill.example', lists: 'domains' };
const CLIENTS: FieldHelp = { field: 'client', hint: '10.40.0.0/16', lists: 'addresses' };
const TRUST: FieldHelp = { field: 'trust', hint: 'addresses of your own proxies', lists: 'addresses' };
const REDACT: FieldHelp = {
  field: 'redact',
  hint: 'client/24, user, header.cookie',
  words: ['client', 'client/24', 'user', 'header', 'query'],
};

/** All that a policy says beside its rules, as a form. */
export function HeadForm({ value, workspace, onChange }: HeadFormProps) {
  const set = (part: keyof HeadValue, next: Partial<HeadValue>) => onChange(part, { ...value, ...next });
  const words = (part: 'hosts' | 'clients' | 'trust' | 'redact', help: FieldHelp) => (
    <ValuesField
      help={help}
      values={value[part]}
      workspace={workspace}
      fresh={false}
      invertible={false}
      onChange={(next) => set(part, { [part]: next.map(String) })}
    />
  );
  return (
    <div className="space-y-3">
      <TextField label="Note" wide prose value={value.note} onChange={(note) => set('note', { note })} />
      <FormRow title="What no rule decides">
        <Switch value={value.default} onChange={(next) => set('default', { default: next })} />
        <details open={typeof value.default !== 'string'}>
          <summary className="cursor-pointer text-soft">Another default, or its notice</summary>
          <ThenField
            value={value.default}
            workspace={workspace}
            onChange={(next) => set('default', { default: next })}
          />
        </details>
      </FormRow>
      <FormRow title="It covers the hosts" about="Requests that come in to them">
        {words('hosts', HOSTS)}
      </FormRow>
      <FormRow title="It covers the clients" about="Requests that go out from them">
        {words('clients', CLIENTS)}
      </FormRow>
      <FormRow title="Who the client is">
        <div className="flex flex-wrap items-center gap-3">
          <Choice
            label="Taken from"
            value={value.from}
            options={[
              { value: 'peer', label: 'peer', detail: 'the other end of the connection' },
              { value: 'forwarded', label: 'forwarded', detail: 'Forwarded or X-Forwarded-For' },
              { value: 'header', label: 'header', detail: 'one header of your proxies' },
            ]}
            onChange={(from) => set('from', { from })}
          />
          {value.from === 'header' && (
            <TextField
              label="Header"
              value={value.header}
              placeholder="x-client"
              onChange={(header) => set('header', { header })}
            />
          )}
        </div>
        {value.from !== 'peer' && (
          <div className="mt-1">
            <p className="text-soft">Only these proxies may name it</p>
            {words('trust', TRUST)}
          </div>
        )}
      </FormRow>
      <FormRow title="Where requests go">
        <Tick checked={value.resolve} onChange={(resolve) => set('resolve', { resolve })}>
          Where a request does not show the address of its destination, those of its host are used
        </Tick>
      </FormRow>
      <FormRow title="How paths are read">
        <div className="flex flex-wrap gap-3">
          <Choice
            label="Slashes"
            value={value.slashes}
            options={options('merge', 'keep')}
            onChange={(slashes) => set('slashes', { slashes })}
          />
          <Choice
            label="Case"
            value={value.case}
            options={options('keep', 'ignore')}
            onChange={(next) => set('case', { case: next })}
          />
          <Choice
            label="Parameters"
            value={value.parameters}
            options={options('keep', 'drop')}
            onChange={(parameters) => set('parameters', { parameters })}
          />
        </div>
      </FormRow>
      <FormRow title="Whether it acts">
        <Choice
          label="Stance"
          value={value.stance}
          options={options('enforce', 'observe', 'off')}
          onChange={(stance) => set('stance', { stance })}
        />
      </FormRow>
      <FormRow title="Shown as pseudonyms" about="Rules see the real values all the same">
        {words('redact', REDACT)}
      </FormRow>
    </div>
  );
}

/** The two shapes of a policy, each one press away from the other. */
function Switch({ value, onChange }: { readonly value: unknown; readonly onChange: (next: unknown) => void }) {
  const verdict = typeof value === 'string' ? value : Object.keys((value ?? {}) as object)[0];
  const shapes = [
    ['block', 'Allow only what is listed'],
    ['allow', 'Refuse what is listed'],
  ] as const;
  return (
    <div role="radiogroup" aria-label="What no rule decides" className="mb-1 inline-flex rounded-sm border border-edge">
      {shapes.map(([then, words]) => (
        <label
          key={then}
          className="cursor-pointer px-3 py-1 has-checked:bg-chosen has-checked:font-semibold has-focus-visible:outline-2"
        >
          <input
            type="radio"
            name="default"
            className="mr-1.5"
            checked={verdict === then}
            onChange={() => onChange(then)}
          />
          {words}
        </label>
      ))}
    </div>
  );
}
