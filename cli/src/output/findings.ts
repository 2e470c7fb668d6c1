import type { Finding } from '@jade-fence/core/review';
import { safe } from './safe.js';
import { indent } from './table.js';
import type { Paint } from './terminal.js';

/** Findings one below the other: where, what, why, and what to do. */
export function formatFindings(findings: readonly Finding[], paint: Paint): string {
  const warnings = findings.filter(({ severity }) => severity === 'warning').length;
  const counted = (count: number, word: string) => `${count} ${word}${count === 1 ? '' : 's'}`;
  const held = `${counted(warnings, 'warning')}, ${counted(findings.length - warnings, 'note')}.`;
  return [...findings.map((finding) => formatFinding(finding, paint)), held].join('\n\n');
}

function formatFinding(finding: Finding, paint: Paint): string {
  const { code, severity, policy, rule, object, what, reason, edit } = finding;
  const mark = severity === 'warning' ? paint.yellow('!') : paint.dim('·');
  const where = object ? `${object.kind} ${object.name}` : rule === null ? policy : `${policy} / ${rule}`;
  const shown = [`${safe(what)}.`, paint.dim(`${safe(reason)}.`), `→ ${safe(edit)}.`].join('\n');
  return `${mark} ${paint.bold(String(where))}  ${severity === 'warning' ? paint.yellow(code) : paint.dim(code)}\n${indent(shown, '    ')}`;
}
