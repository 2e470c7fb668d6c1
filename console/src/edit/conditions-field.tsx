import type { WorkspaceBody } from '@jade-fence/contract';
import { useState } from 'react';
import { Button } from '../frame/button.js';
import { Choice } from '../frame/choice.js';
import { FIELDS, helpFor } from './fields.js';
import type { Alternative } from './rule-value.js';
import { ValuesField } from './values-field.js';

interface ConditionsFieldProps {
  /** `when`, or `unless`. */
  readonly label: string;
  /** What it means that there is none. */
  readonly none: string;
  readonly value: readonly Alternative[];
  readonly workspace: WorkspaceBody;
  readonly onChange: (value: readonly Alternative[]) => void;
}

/** Conditions as rows: in an alternative every field must match, and of several alternatives any may. */
export function ConditionsField({ label, none, value, workspace, onChange }: ConditionsFieldProps) {
  /** Whether to show a further, empty alternative below; it becomes one with its first value. */
  const [another, setAnother] = useState(false);
  const shown = another || value.length === 0 ? [...value, ...NOTHING] : value;
  const [fresh, setFresh] = useState<Readonly<Record<number, readonly string[]>>>({});
  const replace = (at: number, alternative: Alternative) => {
    if (at >= value.length && sizeOf(alternative) > 0) setAnother(false);
    onChange(shown.map((each, place) => (place === at ? alternative : each)).filter((each) => sizeOf(each) > 0));
  };
  const add = (at: number, field: string) => {
    setFresh({ ...fresh, [at]: [...(fresh[at] ?? []), field] });
  };
  return (
    <fieldset className="rounded-sm border border-line px-2 pt-0.5 pb-2">
      <legend className="px-1 font-medium">{label}</legend>
      {shown.map((alternative, at) => (
        // Alternatives have no names; they stay where they are while they are edited.
        <div key={at} className={at > 0 ? 'mt-2 border-t border-dashed border-line pt-1' : ''}>
          {at > 0 && <p className="text-soft">or</p>}
          {[...new Set([...Object.keys(alternative), ...(fresh[at] ?? [])])].map((field) => (
            <div key={field} className="flex items-start gap-2 py-0.5">
              <code className="w-24 flex-none pt-0.5 font-mono">{field}</code>
              <ValuesField
                help={helpFor(field)}
                values={alternative[field] ?? []}
                fresh={(fresh[at] ?? []).at(-1) === field}
                workspace={workspace}
                onChange={(values) => replace(at, withField(alternative, field, values))}
              />
              <button
                type="button"
                className="px-1 text-soft hover:text-ink"
                aria-label={`Take ${field} out of ${label}`}
                onClick={() => {
                  setFresh({ ...fresh, [at]: (fresh[at] ?? []).filter((each) => each !== field) });
                  replace(at, withField(alternative, field, []));
                }}
              >
                ×
              </button>
            </div>
          ))}
          {sizeOf(alternative) === 0 && (fresh[at] ?? []).length === 0 && (
            <p className="text-soft">{at > 0 ? 'Nothing yet: add a field.' : none}</p>
          )}
          <div className="mt-1 flex gap-2">
            <Choice
              label={`Add to ${label}`}
              value=""
              empty="a field"
              options={FIELDS.filter(({ field }) => !(field in alternative)).map(({ field, hint }) => ({
                value: field,
                label: field,
                detail: hint,
              }))}
              onChange={(field) => add(at, field)}
            />
            {at === shown.length - 1 && sizeOf(alternative) > 0 && (
              <Button onClick={() => setAnother(true)}>Or another way …</Button>
            )}
          </div>
        </div>
      ))}
    </fieldset>
  );
}

/** One alternative, of which nothing is asked yet. */
const NOTHING: readonly Alternative[] = [{}];

const sizeOf = (alternative: Alternative): number => Object.keys(alternative).length;

function withField(alternative: Alternative, field: string, values: Alternative[string]): Alternative {
  const { [field]: _, ...others } = alternative;
  const some = values.some((value) => typeof value === 'string' || value.not.length > 0);
  return some ? { ...alternative, [field]: values } : others;
}
