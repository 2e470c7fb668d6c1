import type { ComparisonBody } from '@jade-fence/contract';

type Change = ComparisonBody['changes'][number];

/** Requests that went from one verdict to another, as a band: where it begins at the left and at the right, and how high it is. */
export interface Band extends Change {
  readonly left: number;
  readonly right: number;
  readonly height: number;
}

/** Between the verdicts of a side. */
const GAP = 10;
/** The least height, so that one request is seen beside a million. */
const LEAST = 2;

/** Bands in proportion to their requests, put below each other on both sides in the order of the verdicts, within a height. */
export function bandsOf(changes: readonly Change[], order: readonly Change['was'][], height: number): Band[] {
  const whole = changes.reduce((sum, { requests }) => sum + requests, 0);
  const sides = Math.max(new Set(changes.map(({ was }) => was)).size, new Set(changes.map(({ is }) => is)).size);
  const room = height - (sides - 1) * GAP - changes.length * LEAST;
  const heightOf = ({ requests }: Change) => LEAST + (whole === 0 ? 0 : (requests / whole) * room);
  const sorted = (first: 'was' | 'is', second: 'was' | 'is') =>
    [...changes].sort(
      (a, b) =>
        order.indexOf(a[first]) - order.indexOf(b[first]) || order.indexOf(a[second]) - order.indexOf(b[second]),
    );
  const tops = (side: 'was' | 'is', all: readonly Change[]) => {
    let at = 0;
    return new Map(
      all.map((change, index) => {
        if (index > 0 && all[index - 1]?.[side] !== change[side]) at += GAP;
        const top = at;
        at += heightOf(change);
        return [change, top] as const;
      }),
    );
  };
  const [left, right] = [tops('was', sorted('was', 'is')), tops('is', sorted('is', 'was'))];
  return changes.map((change) => ({
    ...change,
    left: left.get(change) ?? 0,
    right: right.get(change) ?? 0,
    height: heightOf(change),
  }));
}
