import type { IssueReport } from '@jade-fence/core/issue';
import { safe } from './safe.js';
import { indent } from './table.js';
import type { Paint } from './terminal.js';

/** An issue with the line of its file, a caret under the fault, and what would be right. */
export function formatIssue(issue: IssueReport, paint: Paint): string {
  const line = safe(issue.excerpt.replaceAll('\t', ' '));
  const number = String(issue.line);
  const gutter = ' '.repeat(number.length);
  const caret =
    ' '.repeat(issue.column - 1) + '^'.repeat(Math.max(1, Math.min(issue.length, line.length - issue.column + 1)));
  const place = `${issue.file}:${issue.line}:${issue.column}`;
  return [
    `${paint.bold(place)}  ${paint.red(issue.code)}${issue.path ? paint.dim(`  ${issue.path}`) : ''}`,
    `  ${paint.dim(`${number} │`)} ${line}`,
    `  ${gutter} ${paint.dim('│')} ${paint.red(caret)}`,
    indent(`${safe(issue.what)}.`, `  ${gutter}   `),
    indent(safe(issue.remedy.endsWith('?') ? issue.remedy : `${issue.remedy}.`), `  ${gutter}   `),
  ].join('\n');
}

export function formatIssues(issues: readonly IssueReport[], paint: Paint): string {
  return issues.map((issue) => formatIssue(issue, paint)).join('\n\n');
}
