import { Field, Label, Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/react';

export interface Option<T> {
  readonly value: T;
  readonly label: string;
  readonly detail?: string;
}

interface ChoiceProps<T> {
  readonly label: string;
  readonly value: T;
  readonly options: readonly Option<T>[];
  readonly onChange: (value: T) => void;
  readonly empty?: string;
}

/** One of several, with its label in front. */
export function Choice<T extends string | number>({ label, value, options, onChange, empty }: ChoiceProps<T>) {
  const chosen = options.find((option) => option.value === value);
  return (
    <Field className="flex items-center gap-2">
      <Label className="text-soft">{label}</Label>
      <Listbox value={value} onChange={onChange} disabled={options.length === 0}>
        <ListboxButton className="min-w-28 rounded-sm border border-edge bg-sheet px-2 py-1 text-left font-mono data-hover:border-iris data-disabled:text-soft">
          {chosen?.label ?? empty ?? '–'} <span aria-hidden="true">▾</span>
        </ListboxButton>
        <ListboxOptions
          anchor="bottom start"
          className="z-20 mt-1 max-h-80 rounded-sm border border-line bg-sheet py-1 shadow-lg"
        >
          {options.map((option) => (
            <ListboxOption
              key={option.value}
              value={option.value}
              className="cursor-default px-3 py-1 data-focus:bg-chosen data-selected:font-semibold"
            >
              <span className="font-mono">{option.label}</span>{' '}
              {option.detail && <span className="ml-2 text-soft">{option.detail}</span>}
            </ListboxOption>
          ))}
        </ListboxOptions>
      </Listbox>
    </Field>
  );
}
