import type { Finding } from '@jade-fence/core/review';
import type { ReactNode } from 'react';
import { MendButton } from '../checks/mend-button.js';
import type { Mend } from '../edit/mend.js';
import { Button } from '../frame/button.js';
import { CodeText } from './code-text.js';

interface FindingsProps {
  readonly findings: readonly Finding[];
  /**
   * Makes the edit that mends it; `in the draft`: in the policy as it is when the button is pressed; undefined where it
   * may not be done here.
   */
  readonly onMend: ((mend: Mend) => void) | 'in the draft' | undefined;
  /** What stands above a finding, such as where it is. */
  readonly above?: (finding: Finding) => ReactNode;
}

/** Findings of the review, each with the edit that mends it. */
export function Findings({ findings, onMend, above }: FindingsProps) {
  return findings.map((finding) => (
    <div
      key={`${finding.code} ${finding.policy} ${finding.rule} ${finding.what}`}
      className="mt-1 border-l-2 border-ochre bg-ochre-wash px-2 py-0.5"
    >
      {above?.(finding)}
      <p>
        <span className="font-medium">{finding.severity === 'warning' ? 'Warning' : 'Note'}:</span>{' '}
        <CodeText text={finding.what} />.{' '}
        <span className="text-soft">
          <CodeText text={finding.reason} />.
        </span>
      </p>
      <p className="flex flex-wrap items-center gap-2">
        <span>
          <CodeText text={finding.edit} />.
        </span>
        <MakeMend {...{ finding, onMend }} />
      </p>
    </div>
  ));
}

function MakeMend({
  finding: { policy, mend },
  onMend,
}: Pick<FindingsProps, 'onMend'> & { readonly finding: Finding }) {
  if (mend === undefined || onMend === undefined) return null;
  if (onMend !== 'in the draft') return <Button onClick={() => onMend(mend)}>Do that</Button>;
  return policy === null ? null : <MendButton {...{ policy, mend }} />;
}
