import type { ListSummary, PolicySummary } from '@jade-fence/contract';
import { safe } from './safe.js';
import { count, table } from './table.js';
import type { Paint } from './terminal.js';

const titled = (...titles: string[]) => titles.map((title) => ({ title }));

/** The policies of a workspace, a row each. */
export function formatPolicies(policies: readonly PolicySummary[], paint: Paint): string {
  const rows = policies.map((each) => [
    each.policy,
    String(each.ruleCount),
    each.default.then,
    each.stance,
    coverage(each.covers),
    safe(each.note ?? ''),
  ]);
  return table(titled('policy', 'rules', 'default', 'stance', 'covers', 'note'), rows, paint);
}

/** The lists of a workspace, a row each. */
export function formatLists(lists: readonly ListSummary[], paint: Paint): string {
  const rows = lists.map((each) => [
    each.list,
    each.of,
    entries(each),
    each.include.join(', '),
    each.usedBy.join(', ') || paint.dim('no policy'),
  ]);
  return table(titled('list', 'of', 'entries', 'includes', 'used by'), rows, paint);
}

/** Objects of other kinds, a row each with what it is in a sentence. */
export function formatObjects(
  objects: readonly { readonly kind: string; readonly name: string; readonly sentence: string }[],
  paint: Paint,
): string {
  const rows = objects.map((each) => [each.kind, each.name, safe(each.sentence)]);
  return table(titled('kind', 'name', 'what it is'), rows, paint);
}

function coverage({ hosts, clients }: PolicySummary['covers']): string {
  const shown = [
    hosts > 0 ? `${hosts} ${hosts === 1 ? 'host' : 'hosts'}` : '',
    clients > 0 ? `${clients} client ${clients === 1 ? 'network' : 'networks'}` : '',
  ];
  return shown.filter((each) => each !== '').join(', ') || 'nothing';
}

function entries({ entries: total, expired }: ListSummary): string {
  return expired > 0 ? `${count(total)} (${count(expired)} expired)` : count(total);
}
