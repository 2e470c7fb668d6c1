import { Button as BaseButton } from '@headlessui/react';
import type { ReactNode } from 'react';

interface ButtonProps {
  readonly children: ReactNode;
  readonly onClick?: () => void;
  readonly type?: 'button' | 'submit';
  readonly disabled?: boolean;
  /** The one thing that a page is for. */
  readonly main?: boolean;
}

export function Button({ children, onClick, type = 'button', disabled = false, main = false }: ButtonProps) {
  const tone = main ? 'bg-jade text-sheet border-jade' : 'bg-sheet border-edge data-hover:border-jade';
  return (
    <BaseButton
      type={type}
      onClick={onClick}
      disabled={disabled}
      className={`rounded-sm border px-3 py-1 font-medium data-disabled:opacity-50 ${tone}`}
    >
      {children}
    </BaseButton>
  );
}
