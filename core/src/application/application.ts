import type { Condition, Field } from '../condition/index.js';
import type { Reference } from '../list/index.js';

/** A catalogue entry: what identifies an application, and what it needs. */
export interface Application {
  readonly type: 'application';
  readonly name: string;
  readonly file: string;
  readonly note: string | undefined;
  /** Any of these identifies it; none: nothing does. */
  readonly when: readonly Condition[];
  /** The category that it is of; undefined where it is of none. */
  readonly category: Reference | undefined;
  /** From 1, harmless, to 5. */
  readonly risk: number | undefined;
  /** The applications that must be allowed too for it to work. */
  readonly needs: readonly Reference[];
}

/** The conditions that can identify an application. */
export const IDENTIFYING_FIELDS = [
  ...(['host', 'path', 'url', 'port', 'protocol', 'scheme', 'method', 'agent', 'destination'] as const),
] as const satisfies readonly Field[];

/** All applications that the given one needs, directly or through others, each once; circles are walked once. */
export function allNeeds(applications: ReadonlyMap<string, Application>, name: string): string[] {
  const found = new Set([name]);
  for (const each of found)
    for (const need of applications.get(each)?.needs ?? []) if (applications.has(need.name)) found.add(need.name);
  found.delete(name);
  return [...found];
}
