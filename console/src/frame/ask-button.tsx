import { type ReactNode, useState } from 'react';
import { CodeText } from '../marks/code-text.js';
import { Button } from './button.js';
import { Panel } from './panel.js';

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
      <Panel asks title={consequence} open={asking} onClose={close}>
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
      </Panel>
    </>
  );
}
