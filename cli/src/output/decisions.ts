import type { DecisionsPage, RecordedBody } from '@jade-fence/contract';
import { formatRequests } from './requests.js';
import type { Terminal } from './terminal.js';

/** Recorded decisions, a row each. */
export function formatDecisions({ decisions, next }: DecisionsPage, terminal: Terminal): string {
  if (decisions.length === 0) return 'No decision like that has been recorded.';
  const rows = decisions.map((each) => ({
    ...each,
    number: each.decision,
    verdict: each.verdict as never,
    log: '',
    line: 0,
  }));
  const done = ({ effect, reference }: RecordedBody) => [effect, reference ?? '–'];
  const text = formatRequests(rows, terminal, { titles: ['done', 'reference'], cells: done });
  return text + (next === null ? '' : `\n\nMore: --after ${next}`);
}
