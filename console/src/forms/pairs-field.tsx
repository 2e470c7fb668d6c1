import { useId, useState } from 'react';
import { Button } from '../frame/button.js';
import { TextField } from '../frame/field.js';
import { SettledInput } from '../frame/settled-input.js';

interface PairsFieldProps {
  /** What the pairs are. */
  readonly label: string;
  readonly pairs: readonly (readonly [key: string, value: string])[];
  readonly ofKey: { readonly label: string; readonly hint: string; readonly type?: string };
  readonly ofValue: { readonly label: string; readonly hint: string; readonly options?: readonly string[] };
  /** Undefined takes the key out. */
  readonly onChange: (key: string, value: string | undefined) => void;
}

/** More pairs than this are edited as text; the form still adds to them. */
const MOST_SHOWN = 200;

/** Keys of one's own with a value each: networks and their countries, days and their hours, names and headers. */
export function PairsField({ label, pairs, ofKey, ofValue, onChange }: PairsFieldProps) {
  const [key, setKey] = useState('');
  const [value, setValue] = useState('');
  const offered = useId();
  const add = () => {
    if (key.trim() === '' || value.trim() === '') return;
    onChange(key.trim(), value.trim());
    setKey('');
    setValue('');
  };
  return (
    <div>
      {pairs.length > 0 && (
        <div data-wide className="relative mb-2 overflow-x-auto">
          <table aria-label={label}>
            <tbody>
              {pairs.slice(0, MOST_SHOWN).map(([own, its]) => (
                <tr key={own} className="border-b border-line/60">
                  <th scope="row" className="py-0.5 pr-4 text-left font-mono font-normal">
                    {own}
                  </th>
                  <td>
                    <SettledInput
                      label={`${ofValue.label} of ${own}`}
                      list={offered}
                      value={its}
                      width="w-56"
                      isValid={(typed) => typed.trim() !== ''}
                      onSettle={(next) => onChange(own, next)}
                    />
                  </td>
                  <td>
                    <button
                      type="button"
                      aria-label={`Take ${own} out`}
                      className="size-6 text-soft hover:text-ink"
                      onClick={() => onChange(own, undefined)}
                    >
                      ×
                    </button>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {pairs.length > MOST_SHOWN && <p className="text-soft">{pairs.length - MOST_SHOWN} more are in the text.</p>}
      <div className="flex flex-wrap items-end gap-2">
        <TextField
          label={ofKey.label}
          type={ofKey.type ?? 'text'}
          placeholder={ofKey.hint}
          value={key}
          onChange={setKey}
        />
        <TextField label={ofValue.label} placeholder={ofValue.hint} list={offered} value={value} onChange={setValue} />
        <Button disabled={key.trim() === '' || value.trim() === ''} onClick={add}>
          Add the {ofKey.label.toLowerCase()}
        </Button>
      </div>
      <datalist id={offered}>
        {ofValue.options?.map((each) => (
          <option key={each} value={each} />
        ))}
      </datalist>
    </div>
  );
}
