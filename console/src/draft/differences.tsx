import { Disclosure, DisclosureButton, DisclosurePanel } from '@headlessui/react';
import type { DifferenceBody } from '@jade-fence/contract';
import type { DocumentKind } from '@jade-fence/core/text';
import { Link } from 'react-router';
import { AskButton } from '../frame/ask-button.js';
import { DifferingLines } from '../history/differing-lines.js';
import { clock } from '../marks/clock.js';
import { CodeText } from '../marks/code-text.js';

interface DifferencesProps {
  readonly difference: DifferenceBody;
  /** Takes back what was edited of one object; undefined where there is nothing to take back. */
  readonly onDiscard: ((one: { kind: DocumentKind; name: string }) => void) | undefined;
}

const MARKS = { added: '+', changed: '~', removed: '−' } as const;

export const pathTo = (kind: string, name: string): string =>
  kind === 'policy' ? `/policies/${name}` : `/library/${kind}/${name}`;

/** What two states do not have alike, in words and as text. */
export function Differences({ difference, onDiscard }: DifferencesProps) {
  const { changes, countryData } = difference;
  if (changes.length === 0 && countryData === null) return <p className="text-soft">Nothing is different.</p>;
  return (
    <ul>
      {countryData && <li className="border-b border-line py-1.5">{countryData}</li>}
      {changes.map(({ kind, name, change, words, text, by, at }) => (
        <li key={`${kind} ${name}`} className="border-b border-line py-1.5">
          <p className="flex flex-wrap items-baseline gap-x-2">
            <span className="w-3 font-mono" title={change}>
              {MARKS[change]}
            </span>
            <span className="text-soft">{kind}</span>
            <Link to={pathTo(kind, name)} className="font-mono font-semibold hover:underline">
              {name}
            </Link>
            <span className="text-soft">
              {change}
              {by && ` by ${by}`}
              {at && `, ${clock(at).slice(0, 16)}`}
            </span>
            {onDiscard && (
              <span className="ml-auto">
                <AskButton
                  consequence={`The ${kind} ${name} is as it was published again, whoever edited it. Its history keeps the edits.`}
                  does={`Discard the edits of ${name}`}
                  onConfirm={() => onDiscard({ kind, name })}
                >
                  Discard
                </AskButton>
              </span>
            )}
          </p>
          {words.map((word) => (
            <p key={word} className="ml-5">
              <CodeText text={word} />
            </p>
          ))}
          {words.length === 0 && <p className="ml-5 text-soft">Only comments, or the way it is written.</p>}
          {text && <Lines text={text} of={name} />}
        </li>
      ))}
    </ul>
  );
}

function Lines({ text, of }: { readonly text: string; readonly of: string }) {
  return (
    <Disclosure>
      <DisclosureButton className="ml-5 cursor-pointer text-iris hover:underline">
        Show lines<span className="sr-only"> of {of}</span>
      </DisclosureButton>
      <DisclosurePanel className="mt-1 ml-5">
        <DifferingLines text={text} />
      </DisclosurePanel>
    </Disclosure>
  );
}
