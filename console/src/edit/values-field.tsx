import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/react';
import type { WorkspaceBody } from '@jade-fence/contract';
import { lazy, Suspense, useEffect, useRef, useState } from 'react';
import { Button } from '../frame/button.js';
import { type FieldHelp, isOfCountries, type Suggested, suggestionsFor } from './fields.js';
import { useOccurring } from './occurring.js';
import type { FieldValue } from './rule-value.js';
import { TickList } from './tick-list.js';

const CountryPicker = lazy(() => import('./country-picker.js'));

interface ValuesFieldProps {
  readonly help: FieldHelp;
  readonly values: readonly FieldValue[];
  readonly workspace: WorkspaceBody;
  readonly onChange: (values: readonly FieldValue[]) => void;
  /** Whether the field was added just now, so that one goes on there. */
  readonly fresh: boolean;
  /** Whether it may be none of the values, too. Default true. */
  readonly invertible?: boolean;
  /** Whether the field is written without a value, and so matches nothing. Default false. */
  readonly emptied?: boolean;
}

const MOST_OFFERED = 30;
const FOCUS_MS = 50;
const MOST_TRIES = 5;
/** Fields whose values are chosen from all that there are. */
const TICKED = ['category', 'application', 'time', 'method'];

/** The values of one field: any of some, or none of them. */
export function ValuesField({
  help,
  values,
  workspace,
  onChange,
  fresh,
  invertible = true,
  emptied = false,
}: ValuesFieldProps) {
  const [open, setOpen] = useState(false);
  const not = values.length === 1 && typeof values[0] === 'object';
  const words = not ? (values[0] as { not: readonly string[] }).not : values.filter((each) => typeof each === 'string');
  const mixed = !not && words.length < values.length;
  const set = (next: readonly string[], inverted: boolean) => onChange(inverted ? [{ not: next }] : next);
  const offered = useOccurring(help.field, suggestionsFor(help, workspace));
  if (mixed) return <p className="text-soft">Values and exceptions are mixed here: edit them as text.</p>;
  return (
    <div className="min-w-0 flex-1">
      <div className="flex flex-wrap items-center gap-1">
        {invertible && (
          <button
            type="button"
            aria-pressed={not}
            onClick={() => set(words, !not)}
            className="rounded-sm border border-edge px-1.5 text-soft hover:border-iris"
          >
            {not ? 'none of' : 'any of'}
          </button>
        )}
        {words.length === 0 && values.length === 0 && emptied && (
          <span className="text-soft">nothing, so that it matches nothing:</span>
        )}
        {words.map((word) => (
          <span key={word} className="inline-flex items-center rounded-sm bg-chosen font-mono">
            <span className="pl-1.5">{word}</span>
            <button
              type="button"
              aria-label={`Take ${word} out of ${help.field}`}
              onClick={() =>
                set(
                  words.filter((each) => each !== word),
                  not,
                )
              }
              className="px-1.5 text-soft hover:text-ink"
            >
              ×
            </button>
          </span>
        ))}
        <Adding
          fresh={fresh}
          help={help}
          taken={words}
          offered={offered}
          onAdd={(word) => set([...words, word], not)}
        />
        {(TICKED.includes(help.field) || isOfCountries(help.field)) && (
          <Button onClick={() => setOpen(!open)}>{open ? 'Done' : 'Choose …'}</Button>
        )}
      </div>
      {open && isOfCountries(help.field) && (
        <Suspense fallback={<p className="text-soft">Loading the map …</p>}>
          <CountryPicker chosen={words} onChange={(next) => set(next, not)} />
        </Suspense>
      )}
      {open && !isOfCountries(help.field) && (
        <TickList
          label={`Values of ${help.field}`}
          options={offered.map(({ value, detail }) => ({ value, label: value, detail }))}
          chosen={words}
          onChange={(next) => set(next, not)}
        />
      )}
    </div>
  );
}

/** Whether the focus is on nothing, on the input, or on the list of fields beside it: one has not gone on elsewhere. */
function isFreeFor(input: HTMLInputElement): boolean {
  const at = document.activeElement;
  if (at === null || at === document.body || at === input || at.getAttribute('role') === 'listbox') return true;
  return at.getAttribute('aria-haspopup') === 'listbox' && at.closest('fieldset') === input.closest('fieldset');
}

interface AddingProps {
  readonly fresh: boolean;
  readonly help: FieldHelp;
  readonly taken: readonly string[];
  readonly offered: readonly Suggested[];
  readonly onAdd: (word: string) => void;
}

function Adding({ fresh, help, taken, offered, onAdd }: AddingProps) {
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (!fresh) return;
    // The list that the field was chosen in takes the focus back when it closes; nothing else loses it to this.
    let left = MOST_TRIES;
    const timer = setInterval(() => {
      if (left-- > 0 && input.current && isFreeFor(input.current)) input.current.focus();
      else clearInterval(timer);
    }, FOCUS_MS);
    return () => clearInterval(timer);
  }, [fresh]);
  const [query, setQuery] = useState('');
  const text = query.trim();
  const low = text.toLowerCase();
  // A country is found by its name as well as by its code.
  const isNamed = ({ detail }: { readonly detail: string }) =>
    isOfCountries(help.field) && detail.toLowerCase() === low;
  // A name matches by the beginnings of its words, so that the letters of a code find no country by chance.
  const beginsWord = (detail: string) => isOfCountries(help.field) && ` ${detail.toLowerCase()}`.includes(` ${low}`);
  const found = offered
    .filter(({ value, detail }) => !taken.includes(value) && (value.toLowerCase().includes(low) || beginsWord(detail)))
    .sort((a, b) => Number(b.value === text || isNamed(b)) - Number(a.value === text || isNamed(a)))
    .slice(0, MOST_OFFERED);
  const own = text !== '' && !found.some((each) => each.value === text || isNamed(each)) && !taken.includes(text);
  const add = (word: string | null) => {
    if (word !== null && word !== '') onAdd(word);
    setQuery('');
  };
  return (
    <Combobox value="" onChange={add} immediate>
      <ComboboxInput
        ref={input}
        aria-label={`Add to ${help.field}`}
        placeholder={help.hint}
        value={query}
        onChange={(event) => setQuery(event.target.value)}
        className="min-w-40 flex-1 rounded-sm border border-edge bg-paper px-1.5 py-0.5 font-mono"
      />
      <ComboboxOptions
        modal={false}
        anchor="bottom start"
        className="z-30 max-h-72 w-96 rounded-sm border border-line bg-sheet py-1 shadow-lg empty:hidden"
      >
        {own && (
          <ComboboxOption key={`own ${text}`} value={text} className="px-3 py-1 data-focus:bg-chosen">
            <span className="font-mono">{text}</span> <span className="text-soft">as it is written</span>
          </ComboboxOption>
        )}
        {/* Made anew at each key, so that the first is the one that Enter takes. */}
        {found.map(({ value, detail, inLog }) => (
          <ComboboxOption key={`${text} ${value}`} value={value} className="px-3 py-1 data-focus:bg-chosen">
            <span className="font-mono">{value}</span> <span className="text-soft">{detail}</span>
            {inLog && <span className="float-right pl-3 text-soft">{inLog}</span>}
          </ComboboxOption>
        ))}
      </ComboboxOptions>
    </Combobox>
  );
}
