import { useDndContext } from '@dnd-kit/core';
import { type ReactNode, useMemo } from 'react';
import { type Measure, useNearRows } from './use-near-rows.js';

interface RuleRowsProps {
  readonly names: readonly string[];
  /** What the rows are scrolled in. */
  readonly scroller: HTMLElement | null;
  /** The rule to begin with, where the address names one. */
  readonly sought: string | undefined;
  /** Whether the figures of the rules are there. */
  readonly whole: boolean;
  readonly rowOf: (index: number, measure: Measure | undefined) => ReactNode;
}

/** The rows of the rules that are near what is seen. What is in a row is made once, however far it is scrolled or dragged. */
export function RuleRows({ names, scroller, sought, whole, rowOf }: RuleRowsProps) {
  const { active } = useDndContext();
  const near = useNearRows({
    count: names.length,
    scroller,
    kept: active ? names.indexOf(String(active.id)) : undefined,
    sought: names.indexOf(sought ?? ''),
    whole,
  });
  const { measure } = near;
  const made = useMemo(() => new Map<number, ReactNode>(), [rowOf, measure]);
  for (const index of near.rows) if (!made.has(index)) made.set(index, rowOf(index, measure));
  return (
    <ol ref={near.list} style={{ paddingTop: near.above, paddingBottom: near.below }}>
      {near.rows.map((index) => made.get(index))}
    </ol>
  );
}
