import { type List, withIncluded } from '../list/index.js';
import { NO_RESOLUTIONS } from '../resolution/index.js';
import type { Workspace } from '../workspace/workspace.js';
import type { SharedPartition } from './plan/partition/shared.js';
import type { PreparedRules } from './prepared.js';

/** Rules that are ready to decide, as plain data, which goes from thread to thread. */
export type FlatRules = Omit<PreparedRules, 'shared'> & { readonly shared: SharedPartition };

/**
 * The rules for a thread that only decides. Of lists come their sets alone, and their entries only where policies say by
 * them what they cover: a million entries take longer to send than to read.
 */
export function flatRules({ workspace, shared, resolutions, ...rules }: PreparedRules): FlatRules {
  const { lists, categories, applications, at, trust } = rules;
  const resolves = [...workspace.policies.values()].some(({ destinations }) => destinations.resolve);
  return {
    workspace: withoutEntries(workspace),
    lists,
    shared: shared(),
    categories,
    applications,
    at,
    trust,
    resolutions: resolves ? resolutions : NO_RESOLUTIONS,
  };
}

/** The rules as they were made flat, in whichever thread. */
export const preparedRules = ({ shared, ...rules }: FlatRules): PreparedRules => ({ ...rules, shared: () => shared });

function withoutEntries(workspace: Workspace): Workspace {
  const { policies, lists } = workspace;
  const named = [...policies.values()].flatMap(({ covers }) =>
    [...covers.hosts, ...covers.clients].flatMap((term) => ('name' in term ? (lists.get(term.name) ?? []) : [])),
  );
  const covering = new Set(named.flatMap((list) => withIncluded(lists, list)));
  const bare = ({ edited: _, ...list }: List): List =>
    (covering.has(lists.get(list.name) as List) ? list : { ...list, entries: [] }) as List;
  return { ...workspace, lists: new Map([...lists].map(([name, list]) => [name, bare(list)])) };
}
