import type { Overlap } from '@jade-fence/core/list';
import { useState } from 'react';
import { useFetched } from '../api/fetching.js';
import { useWorkspace } from '../api/queries.js';
import { Choice } from '../frame/choice.js';
import { ErrorMessage } from '../frame/message.js';
import { Part } from '../frame/page.js';
import { count } from '../marks/count.js';

interface OverlapPartProps {
  readonly name: string;
  readonly of: string;
}

/** Entries of a list that are repeated, covered by a wider entry, or in another list as well. */
export function OverlapPart({ name, of }: OverlapPartProps) {
  const [other, setOther] = useState('');
  const [asked, setAsked] = useState(false);
  const found = useFetched(
    'GET /lists/:name/overlap',
    asked && { params: { name }, query: { with: other || undefined } },
  );
  const others = (useWorkspace().data?.lists ?? []).filter((each) => each.of === of && each.list !== name);
  return (
    <Part
      title="Says the same"
      acts={
        <Choice
          label="Compared with"
          value={asked ? other : '-'}
          empty="choose"
          options={[
            { value: '', label: 'itself alone' },
            ...others.map(({ list, entries }) => ({ value: list, label: list, detail: count(entries) })),
          ]}
          onChange={(value) => {
            setAsked(true);
            setOther(value);
          }}
        />
      }
    >
      {found.error && <ErrorMessage error={found.error} />}
      {found.data && (
        <div aria-live="polite">
          <Meets text="are repeated" met={found.data.duplicates} />
          <Meets text="are covered by a wider one of the list" met={found.data.covered} />
          {found.data.common && <Meets text={`are in ${other} as well`} met={found.data.common} />}
        </div>
      )}
    </Part>
  );
}

function Meets({ text, met }: { readonly text: string; readonly met: Overlap['duplicates'] }) {
  return (
    <div className="mb-1">
      <p>
        <span className="tabular-nums">{count(met.count)}</span> {text}
        {met.count === 0 ? '.' : met.some.length < met.count ? `; the first ${met.some.length}:` : ':'}
      </p>
      {met.some.length > 0 && (
        <ul className="ml-5 font-mono">
          {met.some.map(({ entry, by }) => (
            <li key={`${entry} ${by}`}>
              {entry} {entry !== by && <span className="font-sans text-soft">by {by}</span>}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
