import type { IssueReport } from '@jade-fence/core';
import type { FailureBody } from '../failure.js';
import { formatIssue } from './issues.js';
import { safe } from './safe.js';
import type { Paint } from './terminal.js';

/** What went wrong, everything at once, and what to do about it. */
export function formatFailure({ detail, remedy, issues }: FailureBody, paint: Paint): string {
  const told = (issues ?? []).map((issue) =>
    'excerpt' in issue ? formatIssue(issue as IssueReport, paint) : tellInput(issue, paint),
  );
  return [
    ...told,
    ...(told.length > 0 ? [''] : []),
    `${paint.red('✗')} ${safe(detail)}${remedy ? `\n  ${safe(remedy)}` : ''}`,
  ].join('\n');
}

/** Messages about inputs mostly start with the name of the input already. */
function tellInput({ path, what }: { readonly path: string; readonly what: string }, paint: Paint): string {
  return what.startsWith(path) ? `  ${safe(what)}` : `  ${paint.bold(path)}  ${safe(what)}`;
}
