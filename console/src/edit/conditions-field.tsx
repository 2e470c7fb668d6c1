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
  /** The alternative, and the sort of field, of which the name is asked. */
  const [naming, setNaming] = useState<{ readonly at: number; readonly field: string }>();
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
                emptied={alternative[field]?.length === 0}
                onChange={(values) => replace(at, withValues(alternative, field, values))}
              />
              <button
                type="button"
                className="px-1 text-soft hover:text-ink"
                aria-label={`Take ${field} out of ${label}`}
                onClick={() => {
                  setFresh({ ...fresh, [at]: (fresh[at] ?? []).filter((each) => each !== field) });
                  replace(at, withoutField(alternative, field));
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
              options={[
                ...FIELDS.filter(({ field }) => !(field in alternative)).map(({ field, hint }) => ({
                  value: field,
                  label: field,
                  detail: hint,
                })),
                ...NAMED_FIELDS.map(({ field, about }) => ({ value: field, label: `${field}…`, detail: about })),
              ]}
              onChange={(field) => (field.endsWith('.') ? setNaming({ at, field }) : add(at, field))}
            />
            {naming?.at === at && (
              <NameOfField
                field={naming.field}
                onName={(name) => {
                  setNaming(undefined);
                  if (name !== '') add(at, `${naming.field}${name}`);
                }}
              />
            )}
            {at === shown.length - 1 && sizeOf(alternative) > 0 && (
              <Button onClick={() => setAnother(true)}>Or another way …</Button>
            )}
          </div>
        </div>
      ))}
    </fieldset>
  );
}

/** Fields that have a name of their own. */
const NAMED_FIELDS = [
  { field: 'header.', about: 'a header, by its name' },
  { field: 'query.', about: 'a parameter of the query' },
  { field: 'cookie.', about: 'a cookie' },
];

/** Asks for the name of a header, parameter or cookie. */
function NameOfField({ field, onName }: { readonly field: string; readonly onName: (name: string) => void }) {
  const [name, setName] = useState('');
  return (
    <span className="flex items-center gap-1">
      <label>
        <code className="font-mono">{field}</code>
        <input
          // biome-ignore lint/a11y/noAutofocus: whoever pressed the button types here next
          autoFocus
          aria-label={`Name behind ${field}`}
          className="w-40 rounded-sm border border-edge bg-paper px-1.5 py-0.5 font-mono"
          value={name}
          onChange={(event) => setName(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Enter') onName(name.trim());
            if (event.key === 'Escape') onName('');
          }}
        />
      </label>
      <Button onClick={() => onName(name.trim())}>Add</Button>
    </span>
  );
}

/** One alternative, of which nothing is asked yet. */
const NOTHING: readonly Alternative[] = [{}];

const sizeOf = (alternative: Alternative): number => Object.keys(alternative).length;

/**
 * The alternative with other values of a field. One whose last value was taken out stays, without values: it matches nothing
 * then, while a rule without the field would match more than anybody meant.
 */
function withValues(alternative: Alternative, field: string, values: Alternative[string]): Alternative {
  const some = values.some((value) => typeof value === 'string' || value.not.length > 0);
  return { ...alternative, [field]: some ? values : [] };
}

function withoutField(alternative: Alternative, field: string): Alternative {
  const { [field]: _, ...others } = alternative;
  return others;
}
