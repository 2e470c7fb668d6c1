import type { ProposalBody, RevisionBody } from '@jade-fence/contract';
import { clock } from './change.js';
import { safe } from './safe.js';
import { count, table } from './table.js';
import type { Paint } from './terminal.js';

/** What has come in force. */
export const formatPublished = ({ revision, objects, approvedBy }: RevisionBody): string =>
  `Revision ${revision} is in force, with ${count(objects)} objects${approvedBy === null ? '' : `, approved by ${safe(approvedBy)}`}.`;

/** Revisions, a row each. */
export function formatRevisions(revisions: readonly RevisionBody[], paint: Paint): string {
  if (revisions.length === 0)
    return 'Nothing has been published yet. Publish the draft with `jade-fence revision publish -m WHY`.';
  const columns = [
    { title: '#', align: 'right' as const },
    ...['published', 'by', 'approved by', 'why'].map((title) => ({ title })),
  ];
  const rows = revisions.map(({ revision, publishedAt, author, approvedBy, message }) => [
    String(revision),
    clock(publishedAt),
    safe(author),
    approvedBy === null ? '·' : safe(approvedBy),
    safe(message),
  ]);
  return table(columns, rows, paint);
}

/** Proposals, a row each. */
export function formatProposals(proposals: readonly ProposalBody[], paint: Paint): string {
  if (proposals.length === 0) return 'Nobody has proposed anything.';
  const columns = [
    { title: '#', align: 'right' as const },
    ...['proposed', 'by', 'state', 'of', 'why'].map((title) => ({ title })),
  ];
  const rows = proposals.map(({ proposal, proposedAt, author, state, objects, message }) => [
    String(proposal),
    clock(proposedAt),
    safe(author),
    state,
    objects?.map(({ kind, name }) => `${kind}/${name}`).join(' ') ?? 'all of the draft',
    safe(message),
  ]);
  return table(columns, rows, paint);
}
