import { COMPARISONS, type Comparison } from './condition.js';

const UNITS: Record<string, number> = { B: 1, KiB: 1024, MiB: 1024 ** 2, GiB: 1024 ** 3, TiB: 1024 ** 4 };

/** Reads an amount of bytes such as `1MiB` or `4096`, with the binary units of IEC 80000-13; undefined when invalid. */
export function tryAmount(text: string): number | undefined {
  const found = /^(\d{1,15}(?:\.\d{1,3})?) ?(B|[KMGT]iB)?$/.exec(text);
  if (!found) return undefined;
  const bytes = Number(found[1]) * (UNITS[found[2] ?? 'B'] as number);
  return Number.isSafeInteger(bytes) ? bytes : undefined;
}

/** Reads a comparison with an amount of bytes, such as `> 1MiB`. */
export function trySize(text: string): { readonly comparison: Comparison; readonly bytes: number } | undefined {
  const comparison = COMPARISONS.find((each) => text.startsWith(each));
  const bytes = comparison && tryAmount(text.slice(comparison.length).trim());
  if (comparison === undefined || bytes === undefined) return undefined;
  // Nothing is smaller than nothing.
  return comparison === '<' && bytes === 0 ? undefined : { comparison, bytes };
}

/** The amount in the largest unit that is exact: 1048576 is `1MiB`. */
export function formatAmount(bytes: number): string {
  const units = Object.entries(UNITS).reverse();
  const [unit, size] = units.find(([, each]) => bytes >= each && bytes % each === 0) ?? ['B', 1];
  return `${bytes / size}${unit === 'B' ? 'B' : unit}`;
}

/** True where an amount of bytes is as the comparison says. */
export function sizeCompares(
  bytes: number,
  { comparison, bytes: limit }: { readonly comparison: Comparison; readonly bytes: number },
): boolean {
  switch (comparison) {
    case '<':
      return bytes < limit;
    case '<=':
      return bytes <= limit;
    case '>':
      return bytes > limit;
    case '>=':
      return bytes >= limit;
  }
}
