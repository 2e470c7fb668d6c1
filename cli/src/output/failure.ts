import type { IssueReport } from '@jade-fence/core/issue';
import type { FailureBody } from '../failure.js';
import { formatIssues } from './issues.js';
import { safe } from './safe.js';
import type { Paint } from './terminal.js';

/** What went wrong, everything at once, and what to do about it. */
export function formatFailure({ detail, remedy, issues = [] }: FailureBody, paint: Paint): string {
  const inFiles = issues.filter((issue): issue is IssueReport => 'excerpt' in issue);
  const inputs = issues.filter((issue) => !('excerpt' in issue)).map((issue) => formatInput(issue, paint));
  const last = `${paint.red('✗')} ${safe(detail)}${remedy ? `\n  ${safe(remedy)}` : ''}`;
  return [formatIssues(inFiles, paint), inputs.join('\n'), last].filter((part) => part !== '').join('\n\n');
}

/** Messages about inputs mostly start with the name of the input already. */
function formatInput({ path, what }: { readonly path: string; readonly what: string }, paint: Paint): string {
  return what.startsWith(path) ? `  ${safe(what)}` : `  ${paint.bold(path)}  ${safe(what)}`;
}
