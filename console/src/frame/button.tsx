import { Button as BaseButton } from '@headlessui/react';
import type { ReactNode } from 'react';

interface ButtonProps {
  readonly children: ReactNode;
  readonly onClick?: () => void;
  readonly type?: 'button' | 'submit';
  readonly disabled?: boolean;
  /** The one thing that a page is for. */
  readonly main?: boolean;
  /** More of what it does, where its words are few. */
  readonly title?: string;
}

export function Button({ children, onClick, type = 'button', disabled = false, main = false, title }: ButtonProps) {
  const tone = main ? 'bg-iris text-sheet border-iris' : 'bg-sheet border-edge data-hover:border-iris';
  return (
    <BaseButton
      type={type}
      title={title}
      onClick={onClick}
      disabled={disabled}
      className={`rounded-sm border px-3 py-1 font-medium data-disabled:opacity-50 ${tone}`}
    >
      {children}
    </BaseButton>
  );
}
