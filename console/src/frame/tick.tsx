import { Checkbox, Field, Label } from '@headlessui/react';
import type { ReactNode } from 'react';

interface TickProps {
  readonly checked: boolean;
  readonly onChange: (checked: boolean) => void;
  readonly children: ReactNode;
  readonly title?: string;
  readonly disabled?: boolean;
}

/** Something that holds or does not, with its words behind it. */
export function Tick({ checked, onChange, children, title, disabled = false }: TickProps) {
  return (
    <Field className="flex items-baseline gap-1.5" disabled={disabled}>
      <Checkbox
        checked={checked}
        onChange={onChange}
        className="inline-block size-3.5 flex-none translate-y-0.5 rounded-xs border border-soft text-center text-[10px] leading-3 data-checked:border-iris data-checked:bg-iris data-checked:text-sheet data-disabled:opacity-50"
      >
        {checked ? '✓' : ''}
      </Checkbox>
      <Label className="min-w-0 truncate" title={title}>
        {children}
      </Label>
    </Field>
  );
}
