import { useState } from 'react';
import { TextField } from '../frame/field.js';
import { Tick } from '../frame/tick.js';

type Limit = Readonly<Record<string, unknown>>;

interface LimitFieldProps {
  readonly value: Limit | undefined;
  readonly onChange: (value: Limit | undefined) => void;
}

const FIRST: Limit = { 'more-than': 100, within: '1m', per: ['client'] };

/** How often is too often. */
export function LimitField({ value, onChange }: LimitFieldProps) {
  const text = (key: string) => [value?.[key] ?? ''].flat().join(', ');
  const set = (key: string, given: string) => {
    const { [key]: _, ...others } = value ?? {};
    const words = given.split(/[,\s]+/).filter((word) => word !== '');
    const listed = key === 'per' ? words : /^\d+$/.test(given) ? Number(given) : given;
    onChange(given === '' && key === 'hold' ? others : { ...value, [key]: listed });
  };
  return (
    <fieldset className="rounded-sm border border-line px-2 pt-0.5 pb-2">
      <legend className="px-1 font-medium">limit</legend>
      <Tick checked={value !== undefined} onChange={(on) => onChange(on ? FIRST : undefined)}>
        Match only who asks too often
      </Tick>
      {value && (
        <div className="mt-1 grid grid-cols-4 gap-2">
          <TextField label="more than" wide value={text('more-than')} onChange={(next) => set('more-than', next)} />
          <TextField label="within" wide value={text('within')} onChange={(next) => set('within', next)} />
          <WordsField label="per" value={text('per')} onChange={(next) => set('per', next)} />
          <TextField label="hold for" wide value={text('hold')} onChange={(next) => set('hold', next)} />
        </div>
      )}
    </fieldset>
  );
}

interface WordsFieldProps {
  readonly label: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
}

/** Words, shown as typed until they differ in value from those that are kept. */
function WordsField({ label, value, onChange }: WordsFieldProps) {
  const [typed, setTyped] = useState(value);
  const words = (text: string) =>
    text
      .split(/[,\s]+/)
      .filter((word) => word !== '')
      .join(' ');
  const shown = words(typed) === words(value) ? typed : value;
  return (
    <TextField
      label={label}
      wide
      value={shown}
      onChange={(next) => {
        setTyped(next);
        onChange(next);
      }}
    />
  );
}
