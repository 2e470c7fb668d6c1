import { useState } from 'react';
import { Button } from '../frame/button.js';
import { TextField } from '../frame/field.js';
import { Tick } from '../frame/tick.js';

interface TickListProps {
  readonly label: string;
  readonly options: readonly { readonly value: string; readonly label: string; readonly detail?: string }[];
  readonly chosen: readonly string[];
  readonly onChange: (chosen: readonly string[]) => void;
}

/** Many of many: searched, ticked, inverted. */
export function TickList({ label, options, chosen, onChange }: TickListProps) {
  const [search, setSearch] = useState('');
  const wanted = search.toLowerCase();
  const shown = options.filter((each) => `${each.value} ${each.label}`.toLowerCase().includes(wanted));
  const known = new Set(options.map(({ value }) => value));
  const invert = () => {
    const kept = chosen.filter((value) => !known.has(value));
    onChange([...kept, ...options.map(({ value }) => value).filter((value) => !chosen.includes(value))]);
  };
  return (
    <fieldset className="my-1 rounded-sm border border-line p-2">
      <legend className="px-1 text-soft">{label}</legend>
      <div className="mb-1 flex items-end gap-2">
        <TextField label="Search" value={search} onChange={setSearch} />
        <Button onClick={invert}>Turn the choice round</Button>
        <Button onClick={() => onChange(chosen.filter((value) => !known.has(value)))}>None</Button>
      </div>
      <ul className="grid max-h-52 grid-cols-[repeat(auto-fill,minmax(13rem,1fr))] gap-x-3 overflow-auto">
        {shown.map(({ value, label: name, detail }) => (
          <li key={value}>
            <Tick
              checked={chosen.includes(value)}
              title={detail ?? ''}
              onChange={(on) => onChange(on ? [...chosen, value] : chosen.filter((each) => each !== value))}
            >
              <span className="font-mono">{value}</span>
              {name !== value && <span className="ml-1.5 text-soft">{name}</span>}
            </Tick>
          </li>
        ))}
      </ul>
    </fieldset>
  );
}
