import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import type { ReactNode } from 'react';

interface PanelProps {
  readonly title: string;
  readonly open: boolean;
  readonly onClose: () => void;
  readonly children: ReactNode;
  /** Whether it asks for a yes, and so is narrow and its title a sentence. Default false. */
  readonly asks?: boolean;
}

/** What is laid over the page until it is answered or closed. */
export function Panel({ title, open, onClose, children, asks = false }: PanelProps) {
  return (
    <Dialog open={open} onClose={onClose} role={asks ? 'alertdialog' : 'dialog'} className="relative z-40">
      <div className="fixed inset-0 bg-paper/80" aria-hidden="true" />
      <div className="fixed inset-0 grid place-items-center">
        <DialogPanel
          className={`max-w-[calc(100vw-1rem)] ${asks ? 'w-96' : 'w-[28rem]'} rounded-md border border-line bg-sheet p-6 shadow-lg`}
        >
          <DialogTitle className={`mb-3 ${asks ? '' : 'text-head font-semibold'}`}>{title}</DialogTitle>
          {children}
        </DialogPanel>
      </div>
    </Dialog>
  );
}
