import type { Report } from '@jade-fence/core/replay';
import { type FormEvent, useState } from 'react';
import { Button } from '../frame/button.js';
import { Choice } from '../frame/choice.js';
import { FILTERS, type Filter, type Go, type Place } from '../policy/place.js';
import { FILTER_WORDS } from './filter-words.js';

const EXAMPLES: Readonly<Record<Filter, string>> = {
  client: '198.18.96.0/24',
  path: '/account/*',
  method: 'POST',
  status: '4xx',
  category: 'media',
  application: 'web',
  destination: '203.0.113.0/24',
};

interface AddFilterProps {
  readonly only: Place['only'];
  readonly report: Report;
  readonly go: Go;
}

/** Chooses requests by one more field, with what occurs in the log to choose from. */
export function AddFilter({ only, report, go }: AddFilterProps) {
  const [field, setField] = useState<Filter>();
  const [value, setValue] = useState('');
  const left = FILTERS.filter((name) => only[name] === undefined);
  const add = (event: FormEvent) => {
    event.preventDefault();
    if (field === undefined || value.trim() === '') return;
    go({ [field]: value.trim() });
    setField(undefined);
    setValue('');
  };
  if (left.length === 0) return null;
  return (
    <span className="flex flex-wrap items-center gap-1">
      <Choice
        label="Only"
        value={field ?? ''}
        empty="by a field"
        options={left.map((name) => ({ value: name as string, label: name }))}
        onChange={(next) => setField(next as Filter)}
      />
      {field && (
        <form onSubmit={add} className="flex gap-1">
          <input
            // biome-ignore lint/a11y/noAutofocus: it comes by a press, to be written into
            autoFocus
            aria-label={`Only requests ${FILTER_WORDS[field]}`}
            value={value}
            placeholder={EXAMPLES[field]}
            list="occurring"
            onChange={(event) => setValue(event.target.value)}
            className="w-40 rounded-sm border border-edge bg-paper px-2 py-1 font-mono"
          />
          <datalist id="occurring">
            {occurring(report, field).map((each) => (
              <option key={each} value={each} />
            ))}
          </datalist>
          <Button type="submit">Show these</Button>
        </form>
      )}
    </span>
  );
}

/** The values of a field that the report has. */
const occurring = ({ breakdowns }: Report, field: Filter): readonly string[] =>
  field === 'path' || field === 'destination' ? [] : breakdowns[field].rows.flatMap(({ key }) => key ?? []);
