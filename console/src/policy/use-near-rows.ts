import { defaultRangeExtractor, useVirtualizer } from '@tanstack/react-virtual';
import { type RefObject, useEffect, useLayoutEffect, useRef, useState } from 'react';

/** Up to this many rows are all drawn: the browser can search the page then, and moving rows is quick enough. */
const FEW = 60;
/** Rows that are drawn above and below what is seen. */
const MARGIN = 6;
/** The height of a row that has not been drawn yet. */
const ROW_PIXELS = 96;

interface Sought {
  readonly count: number;
  /** What the rows are scrolled in; null until it is there. */
  readonly scroller: HTMLElement | null;
  /** A row that stays drawn wherever one scrolls, as while it is dragged. */
  readonly kept: number | undefined;
  /** A row to begin with, as one that the address names; -1 for none. */
  readonly sought: number;
  /** Whether rows have all their contents, and so their final heights. */
  readonly whole: boolean;
}

export type Measure = (row: HTMLElement | null) => void;

interface NearRows {
  /** The rows to draw, by their places. */
  readonly rows: readonly number[];
  /** The room of those that are not drawn, in pixels. */
  readonly above: number;
  readonly below: number;
  readonly list: RefObject<HTMLOListElement | null>;
  readonly measure: Measure | undefined;
}

/** The rows of a long run that are near what is seen; of a short one all. */
export function useNearRows({ count, scroller, kept, sought, whole }: Sought): NearRows {
  const list = useRef<HTMLOListElement>(null);
  const [from, setFrom] = useState(0);
  const many = count > FEW;
  useLayoutEffect(() => {
    const inner = list.current;
    if (scroller && inner)
      setFrom(inner.getBoundingClientRect().top - scroller.getBoundingClientRect().top + scroller.scrollTop);
  }, [scroller]);
  const near = useVirtualizer({
    count,
    enabled: many,
    getScrollElement: () => scroller,
    estimateSize: () => ROW_PIXELS,
    overscan: MARGIN,
    scrollMargin: from,
    rangeExtractor: (range) => {
      const rows = defaultRangeExtractor(range);
      return kept === undefined || rows.includes(kept) ? rows : [...rows, kept].sort((a, b) => a - b);
    },
  });
  // Only where one comes from elsewhere: what is chosen on the page is seen already.
  const begin = useRef(sought);
  useEffect(() => {
    if (!scroller || begin.current < 0) return;
    if (many) near.scrollToIndex(begin.current, { align: 'center' });
    else list.current?.children[begin.current]?.scrollIntoView({ block: 'nearest' });
  }, [scroller, many, near, whole]);
  if (!many)
    return { rows: Array.from({ length: count }, (_, at) => at), above: 0, below: 0, list, measure: undefined };
  const items = near.getVirtualItems();
  const drawn = items.reduce((sum, { size }) => sum + size, 0);
  const first = items.find(({ index }) => index !== kept) ?? items[0];
  // The row that is kept takes its room at its place among those that are drawn.
  const before = items.filter(({ index }) => index < (first?.index ?? 0)).reduce((sum, { size }) => sum + size, 0);
  const above = (first?.start ?? from) - from - before;
  return {
    rows: items.map(({ index }) => index),
    above,
    below: Math.max(0, near.getTotalSize() - above - drawn),
    list,
    measure: near.measureElement,
  };
}
