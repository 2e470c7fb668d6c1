import { Field, Label, Textarea } from '@headlessui/react';
import { useRef } from 'react';
import { Button } from '../frame/button.js';

/** What parts of a line mostly are; `-` is what is not looked at. */
const PARTS = [
  'time',
  'peer',
  'user',
  'host',
  'request',
  'method',
  'path',
  'status',
  'bytes',
  'agent',
  'referrer',
  '-',
];

interface PatternByExampleProps {
  /** A line as it is, in which parts become fields. */
  readonly example: string;
  readonly pattern: string;
  readonly onPattern: (pattern: string) => void;
}

/** A pattern made of a line: whoever marks a part of it says which field that is. */
export function PatternByExample({ example, pattern, onPattern }: PatternByExampleProps) {
  const area = useRef<HTMLTextAreaElement>(null);
  const mark = (field: string) => {
    const input = area.current;
    if (!input) return;
    const { selectionStart: from, selectionEnd: to } = input;
    const marked = `{${field}}`;
    onPattern(`${pattern.slice(0, from)}${marked}${pattern.slice(to)}`);
    // The place behind it, for what is marked next.
    requestAnimationFrame(() => {
      input.focus();
      input.setSelectionRange(from + marked.length, from + marked.length);
    });
  };
  return (
    <div className="space-y-1">
      <Field className="block w-full">
        <Label className="block text-soft">Pattern of its lines: mark a part, then say what it is</Label>
        <Textarea
          ref={area}
          value={pattern}
          rows={2}
          spellCheck={false}
          onChange={(event) => onPattern(event.target.value.replaceAll('\n', ' '))}
          className="w-full rounded-sm border border-edge bg-paper px-2 py-1 font-mono leading-[18px]"
        />
      </Field>
      <div className="flex flex-wrap gap-1">
        {PARTS.map((field) => (
          <Button key={field} onClick={() => mark(field)}>
            {field === '-' ? 'skip' : field}
          </Button>
        ))}
        <Button onClick={() => onPattern(asText(example))}>Begin again</Button>
      </div>
    </div>
  );
}

/** A line as a pattern that has no fields yet. */
export const asText = (line: string): string => line.replaceAll('{', '{{').replaceAll('}', '}}');
