import type { Finding } from '@jade-fence/core/review';
import type { Mend } from '../edit/mend.js';
import { Button } from '../frame/button.js';
import { CodeText } from './code-text.js';

interface FindingsProps {
  readonly findings: readonly Finding[];
  /** Makes the edit that mends it; undefined where that may not be done here. */
  readonly onMend: ((mend: Mend) => void) | undefined;
}

/** Findings of the review, each with the edit that mends it. */
export function Findings({ findings, onMend }: FindingsProps) {
  return findings.map(({ code, severity, what, reason, edit, mend }) => (
    <div key={`${code} ${what}`} className="mt-1 border-l-2 border-ochre bg-ochre-wash px-2 py-0.5">
      <p>
        <span className="font-medium">{severity === 'warning' ? 'Warning' : 'Note'}:</span> <CodeText text={what} />.{' '}
        <span className="text-soft">
          <CodeText text={reason} />.
        </span>
      </p>
      <p className="flex flex-wrap items-center gap-2">
        <span>
          <CodeText text={edit} />.
        </span>
        {mend && onMend && <Button onClick={() => onMend(mend)}>Do that</Button>}
      </p>
    </div>
  ));
}
