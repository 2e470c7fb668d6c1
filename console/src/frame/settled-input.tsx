import { useState } from 'react';

interface SettledInputProps {
  readonly label: string;
  readonly value: string;
  readonly placeholder?: string;
  readonly title?: string;
  /** The id of what is offered. */
  readonly list?: string;
  readonly width: string;
  /** Whether a text can be taken; what cannot stays as it was typed, and is marked. */
  readonly isValid: (typed: string) => boolean;
  readonly onSettle: (value: string) => void;
}

/** A line of text that is taken when one leaves it or presses Enter, and not at every letter. */
export function SettledInput({ label, value, list, width, isValid, onSettle, ...shown }: SettledInputProps) {
  const [typed, setTyped] = useState<string>();
  const text = typed ?? value;
  const isFaulty = !isValid(text);
  const take = () => {
    if (typed === undefined || isFaulty) return;
    setTyped(undefined);
    if (typed.trim() !== value) onSettle(typed.trim());
  };
  return (
    <input
      {...shown}
      aria-label={label}
      aria-invalid={isFaulty}
      list={list}
      className={`h-6 border-b bg-paper px-1 font-mono ${width} ${isFaulty ? 'border-plum' : 'border-edge'}`}
      value={text}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={take}
      onKeyDown={(event) => {
        if (event.key !== 'Enter') return;
        event.preventDefault();
        take();
      }}
    />
  );
}
