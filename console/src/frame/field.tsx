import { Field, Input, Label, Textarea } from '@headlessui/react';
import type { ReactNode } from 'react';

interface TextFieldProps {
  readonly label: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
  readonly type?: string;
  /** The least and the most that a number may be. */
  readonly min?: number;
  readonly max?: number;
  readonly placeholder?: string;
  /** Ids of what the field offers. */
  readonly list?: string;
  readonly wide?: boolean;
  readonly required?: boolean;
  readonly autoComplete?: string;
  readonly autoFocus?: boolean;
  /** Whether it is read by people, and not by a machine. Default false. */
  readonly prose?: boolean;
}

/** One line of text with its label above. */
export function TextField({
  label,
  value,
  onChange,
  wide = false,
  prose = false,
  type = 'text',
  ...more
}: TextFieldProps) {
  return (
    <Field className={wide ? 'block w-full' : 'inline-block'}>
      <Label className="block text-soft">{label}</Label>
      <Input
        type={type}
        value={value}
        onChange={(event) => onChange(event.target.value)}
        className={`rounded-sm border border-edge bg-paper px-2 py-1 ${prose ? '' : 'font-mono'} ${wide ? 'w-full' : 'w-56'}`}
        {...more}
      />
    </Field>
  );
}

interface AreaProps {
  readonly label: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
  readonly rows?: number;
  readonly hint?: ReactNode;
  readonly prose?: boolean;
}

/** Text of many lines, as a machine reads it unless it is prose. */
export function TextArea({ label, value, onChange, rows = 8, hint, prose = false }: AreaProps) {
  return (
    <Field className="block w-full">
      <Label className="block text-soft">{label}</Label>
      <Textarea
        value={value}
        rows={rows}
        spellCheck={prose}
        onChange={(event) => onChange(event.target.value)}
        className={`w-full rounded-sm border border-edge bg-paper px-2 py-1 leading-[18px] ${prose ? '' : 'font-mono'}`}
      />
      {hint && <p className="text-soft">{hint}</p>}
    </Field>
  );
}
