import type { WorkspaceBody } from '@jade-fence/contract';
import { FIELDS, suggestionsFor } from '../edit/fields.js';
import type { Option } from './schema-options.js';

/** What keys outside conditions take the names of. */
const NAMES: Readonly<Record<string, readonly string[]>> = {
  ...{ notice: ['notice'], needs: ['application'], expect: ['probe'], category: ['category'] },
  ...{ include: ['list'], trust: ['list'], hosts: ['list'], clients: ['list'] },
};

/** Names of the workspace that can be written as a value behind the last key of a place. */
export function namesAt(
  { path, at }: { readonly path: readonly string[]; readonly at: 'key' | 'value' },
  workspace: WorkspaceBody,
): Option[] {
  const key = path.findLast((each) => each !== 'not');
  if (at !== 'value' || key === undefined) return [];
  const isTested = path.includes('when') || path.includes('unless');
  const field = isTested ? FIELDS.find((each) => each.field === key) : undefined;
  if (field) return suggestionsFor(field, workspace).map(({ value, detail }) => ({ label: value, detail }));
  return (NAMES[key] ?? []).flatMap((kind) =>
    kind === 'list'
      ? workspace.lists.map(({ list, of }) => ({ label: list, detail: `list of ${of}` }))
      : workspace.objects
          .filter((each) => each.kind === kind)
          .map(({ name, sentence }) => ({ label: name, detail: sentence })),
  );
}
