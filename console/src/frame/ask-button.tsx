import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { type ReactNode, useState } from 'react';
import { CodeText } from '../marks/code-text.js';
import { Button } from './button.js';

interface AskButtonProps {
  readonly children: ReactNode;
  /** What comes of it, in a sentence, and what cannot be had back. */
  readonly consequence: string;
  /** What is lost by it, a sentence each. */
  readonly lost?: readonly string[];
  /** What the button says that does it, such as «Delete the log». */
  readonly does: string;
  readonly disabled?: boolean;
  readonly onConfirm: () => void;
}

/** A button for what cannot be undone: it states the consequence, and asks. */
export function AskButton({ children, consequence, lost = [], does, disabled = false, onConfirm }: AskButtonProps) {
  const [asking, setAsking] = useState(false);
  const close = () => setAsking(false);
  return (
    <>
      <Button disabled={disabled} onClick={() => setAsking(true)}>
        {children}
      </Button>
      <Dialog open={asking} onClose={close} role="alertdialog" className="relative z-40">
        <div className="fixed inset-0 bg-paper/80" aria-hidden="true" />
        <div className="fixed inset-0 grid place-items-center">
          <DialogPanel className="w-96 rounded-md border border-line bg-sheet p-6 shadow-lg">
            <DialogTitle className="mb-3">{consequence}</DialogTitle>
            {lost.length > 0 && (
              <ul className="mb-3 max-h-60 list-disc space-y-1 overflow-auto pl-5 text-soft">
                {lost.map((what) => (
                  <li key={what}>
                    <CodeText text={what} />
                  </li>
                ))}
              </ul>
            )}
            <span className="flex gap-2">
              <Button
                main
                onClick={() => {
                  close();
                  onConfirm();
                }}
              >
                {does}
              </Button>
              <Button onClick={close}>Leave it as it is</Button>
            </span>
          </DialogPanel>
        </div>
      </Dialog>
    </>
  );
}
