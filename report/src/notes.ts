import { LOG_FILTER_FIELDS, type LogFilter } from '@jade-fence/core/replay';

/** What a replay was of and ran by, where that is not all of its logs and the workspace as it was. */
export interface ReplayedScope {
  /** The published revision that judged; null: the draft as it was. */
  readonly revision: number | null;
  /** The one policy that judged every request; null where each was judged by the one that covers it. */
  readonly policy: string | null;
  /** Which requests; null: all. */
  readonly only: LogFilter | null;
  /** What it judged by that is not stored in the workspace. */
  readonly instead: readonly { readonly kind: string; readonly name: string }[];
}

/** What who reads a report has to know of its replay, a sentence each. */
export function scopeNotes({ revision, policy, only, instead }: ReplayedScope): string[] {
  const fields = LOG_FILTER_FIELDS.flatMap((name) => {
    const value = only?.[name];
    return value === undefined ? [] : [`${name} ${typeof value === 'number' ? new Date(value).toISOString() : value}`];
  });
  const documents = instead.map(({ kind, name }) => `${kind} ${name}`);
  return [
    ...(revision === null ? [] : [`Judged by revision ${revision}, as it was published.`]),
    ...(policy === null ? [] : [`Every request is judged by the policy ${policy}.`]),
    ...(fields.length === 0 ? [] : [`Only requests with ${fields.join(', ')} are judged and counted.`]),
    ...(documents.length === 0
      ? []
      : [`Judged with documents that are not in the workspace: ${documents.join(', ')}.`]),
  ];
}
