import type { Reference } from './list.js';

/** A thing that names others of its kind. */
export interface Linked {
  readonly name: string;
  readonly file: string;
}

/** Names that lead back to themselves, and the reference that closes the circle. */
export interface Circle<T> {
  readonly names: readonly string[];
  readonly closing: Reference;
  readonly of: T;
}

/** Finds the circles among things that name each other. Each thing is walked once, without recursion. */
export function findCircles<T extends Linked>(
  all: ReadonlyMap<string, T>,
  referencesOf: (each: T) => readonly Reference[],
): Circle<T>[] {
  const circles: Circle<T>[] = [];
  const settled = new Set<string>();
  for (const start of all.values()) {
    const trail: { readonly each: T; next: number }[] = settled.has(start.name) ? [] : [{ each: start, next: 0 }];
    const onTrail = new Map([[start.name, 0]]);
    while (trail.length > 0) {
      const top = trail[trail.length - 1] as (typeof trail)[number];
      const reference = referencesOf(top.each)[top.next++];
      if (reference === undefined) {
        trail.pop();
        onTrail.delete(top.each.name);
        settled.add(top.each.name);
        continue;
      }
      const from = onTrail.get(reference.name);
      const next = all.get(reference.name);
      if (from !== undefined) {
        const names = [...trail.slice(from).map(({ each }) => each.name), reference.name];
        circles.push({ names, closing: reference, of: top.each });
      } else if (next && !settled.has(next.name)) {
        onTrail.set(next.name, trail.length);
        trail.push({ each: next, next: 0 });
      }
    }
  }
  return circles;
}
