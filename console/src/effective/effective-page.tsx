import type { EffectivePolicy } from '@jade-fence/core/effective';
import { useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { useFetched } from '../api/fetching.js';
import { useWorkspace } from '../api/queries.js';
import { Button } from '../frame/button.js';
import { TextField } from '../frame/field.js';
import { ErrorMessage, Waiting } from '../frame/message.js';
import { Page, Part } from '../frame/page.js';
import { CodeText } from '../marks/code-text.js';
import { StanceChip } from '../marks/stance-chip.js';

/** What the policies can do to one client: a probe, or an address. */
export default function EffectivePage() {
  const [search, setSearch] = useSearchParams();
  const of = search.get('of') ?? '';
  const probes = useWorkspace().data?.objects.filter(({ kind }) => kind === 'probe') ?? [];
  const by = /[.:]/.test(of) ? 'client' : 'probe';
  const found = useFetched('GET /effective', of !== '' && { query: { [by]: of } });
  const ask = (whom: string) => setSearch({ of: whom });
  return (
    <Page title="What a client can meet" about="Of every policy the rules that can apply to it, in order">
      <Whom key={of} of={of} onAsk={ask} />
      {probes.length > 0 && (
        <p className="mb-4 flex flex-wrap gap-1">
          <span className="text-soft">A probe:</span>
          {probes.map(({ name, sentence }) => (
            <button
              key={name}
              type="button"
              title={sentence}
              aria-pressed={of === name}
              onClick={() => ask(name)}
              className={`cursor-pointer rounded-sm border px-1.5 font-mono hover:border-iris ${of === name ? 'border-ink bg-chosen' : 'border-edge'}`}
            >
              {name}
            </button>
          ))}
        </p>
      )}
      {found.error && <ErrorMessage error={found.error} />}
      {of !== '' && found.isPending && <Waiting what="its rules" />}
      {found.data && (
        <p className="mb-3 text-head">
          {found.data.probe !== null && <code className="font-mono">{found.data.probe}</code>}
          {found.data.probe !== null && found.data.client !== null && ' at '}
          {found.data.client !== null && <code className="font-mono">{found.data.client}</code>}
          {found.data.country !== null &&
            `, in ${found.data.country === 'private' ? 'private address space' : found.data.country}`}
          {found.data.policies.length === 0 && ' can meet no policy'}
        </p>
      )}
      {found.data?.policies.map((policy) => (
        <Met key={policy.policy} policy={policy} />
      ))}
    </Page>
  );
}

function Whom({ of, onAsk }: { readonly of: string; readonly onAsk: (of: string) => void }) {
  const [typed, setTyped] = useState(of);
  return (
    <form
      className="mb-2 flex items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        onAsk(typed.trim());
      }}
    >
      <TextField label="An address, or a probe by its name" value={typed} onChange={setTyped} placeholder="10.40.8.7" />
      <Button type="submit" main>
        Tell
      </Button>
    </form>
  );
}

function Met({ policy }: { readonly policy: EffectivePolicy }) {
  const to = (rule: string) => `/policies/${policy.policy}?rule=${rule}`;
  return (
    <Part title={policy.policy} acts={<StanceChip stance={policy.stance} />}>
      <ol className="max-w-3xl border-b border-line">
        {policy.rules.map(({ rule, sentence, stance, always }) => (
          <li key={rule} className="grid sm:grid-cols-[14rem_1fr] gap-3 border-t border-line py-1.5">
            <span>
              <Link to={to(rule)} className="font-mono text-iris hover:underline">
                {rule}
              </Link>{' '}
              <StanceChip stance={stance} />
            </span>
            <span>
              <CodeText text={sentence} />
              {always && <span className="text-soft"> It decides everything that comes so far.</span>}
            </span>
          </li>
        ))}
        {policy.default !== null && (
          <li className="grid sm:grid-cols-[14rem_1fr] gap-3 border-t border-line py-1.5">
            <Link to={to('default')} className="font-mono text-iris hover:underline">
              default
            </Link>
            <span>
              <CodeText text={policy.default} />
            </span>
          </li>
        )}
      </ol>
      {[...new Set(policy.leftOut.map(({ why }) => why))].map((reason) => (
        <p key={reason} className="mt-1 text-soft">
          Left out, since {reason}:{' '}
          <span className="font-mono">
            {policy.leftOut
              .filter(({ why }) => why === reason)
              .map(({ rule }) => rule)
              .join(', ')}
          </span>
        </p>
      ))}
    </Part>
  );
}
