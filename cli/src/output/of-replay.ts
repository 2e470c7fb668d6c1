import type { OfReplay } from '@jade-fence/contract';

const MOST_NAMED = 3;

/** Which replay an answer is of, of which logs and by which state of the workspace. */
export function formatOf(of: OfReplay): string {
  const alone = of.policy === null ? '' : `, all by policy ${of.policy}`;
  return `Replay ${of.id} of ${logsOf(of)}${of.only ? ' in part' : ''}, by ${stateOf(of)}${alone}.`;
}

export const logsOf = ({ logs }: Pick<OfReplay, 'logs'>): string =>
  logs.length === 0 ? 'a log that was deleted' : `${logs.length > 1 ? 'logs' : 'log'} ${logs.join(', ')}`;

/** By which state of the workspace a replay judged. */
export function stateOf({ revision, instead, outOfDate }: Omit<OfReplay, 'id'>): string {
  const state =
    revision !== null
      ? `revision ${revision}`
      : outOfDate
        ? 'the draft as it was, which has changed since'
        : 'the draft';
  if (instead.length === 0) return state;
  const tried = instead.slice(0, MOST_NAMED).map(({ name }) => name);
  const more = instead.length - tried.length;
  return `${state} with ${tried.join(', ')}${more > 0 ? ` and ${more} more` : ''} tried`;
}
