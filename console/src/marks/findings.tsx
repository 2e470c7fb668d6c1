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
  /** What is shown above a finding, such as where it is. */
  readonly above?: (finding: Finding) => ReactNode;
  /** Whether each is one line until it is opened. Default false. */
  readonly isBrief?: boolean;
}

/** Findings of the review, each with the edit that mends it. */
export function Findings({ findings, onMend, above, isBrief = false }: FindingsProps) {
  return findings.map((finding) => (
    <div
      key={`${finding.code} ${finding.policy} ${finding.rule} ${finding.what}`}
      className="mt-1 border-l-2 border-ochre bg-ochre-wash px-2 py-0.5"
    >
      {above?.(finding)}
      {isBrief ? <Brief {...{ finding, onMend }} /> : <Whole {...{ finding, onMend }} />}
    </div>
  ));
}

type OneProps = Pick<FindingsProps, 'onMend'> & { readonly finding: Finding };

function Whole({ finding, onMend }: OneProps) {
  return (
    <>
      <p>
        <What finding={finding} />{' '}
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
    </>
  );
}

/** One line, opened by a press, so that a run of rules can be read as a run. */
function Brief({ finding, onMend }: OneProps) {
  return (
    <div className="flex items-start gap-2">
      <details className="group min-w-0 flex-1">
        <summary className="cursor-pointer truncate py-0.5 group-open:whitespace-normal">
          <What finding={finding} /> <CodeText text={finding.edit} />.
        </summary>
        <p className="text-soft">
          <CodeText text={finding.reason} />.
        </p>
      </details>
      <MakeMend {...{ finding, onMend }} />
    </div>
  );
}

function What({ finding }: { readonly finding: Finding }) {
  return (
    <>
      <span className="font-medium">{finding.severity === 'warning' ? 'Warning' : 'Note'}:</span>{' '}
      <CodeText text={finding.what} />.
    </>
  );
}

function MakeMend({ finding: { policy, mend, edit }, onMend }: OneProps) {
  if (mend === undefined || onMend === undefined) return null;
  if (onMend !== 'in the draft')
    return (
      <Button title={edit} onClick={() => onMend(mend)}>
        Do that
      </Button>
    );
  return policy === null ? null : <MendButton {...{ policy, mend }} />;
}
