import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { createContext, type ReactNode, useContext } from 'react';
import type { Measure } from './use-near-rows.js';

interface SortableRowProps {
  readonly rule: string;
  /** Its place among all rules, from 0. */
  readonly at: number;
  readonly of: number;
  readonly tone: string;
  /** Whether it may be moved. */
  readonly movable: boolean;
  /** Told of the row's element, so that its height is known. */
  readonly measure: Measure | undefined;
  readonly children: ReactNode;
}

const Handle = createContext<ReactNode>(null);

/**
 * A row that can be dragged by its handle, or moved with the keys: space, arrows, space. What is in it is not drawn
 * again while rows move: that is all there is time for in one frame.
 */
export function SortableRow({ rule, at, of, tone, movable, measure, children }: SortableRowProps) {
  const sortable = useSortable({ id: rule, disabled: !movable });
  const { setNodeRef, setActivatorNodeRef, attributes, listeners, transform, transition, isDragging } = sortable;
  return (
    <li
      ref={(row) => {
        setNodeRef(row);
        measure?.(row);
      }}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={`relative border-t border-line ${isDragging ? 'z-10 bg-sheet shadow-lg' : ''} ${tone}`}
      data-rule={rule}
      data-index={at}
      aria-posinset={at + 1}
      aria-setsize={of}
    >
      <Handle
        value={
          movable && (
            <button
              type="button"
              ref={setActivatorNodeRef}
              {...attributes}
              {...listeners}
              aria-label={`Move ${rule}`}
              className="cursor-grab touch-none px-0.5 text-soft hover:text-ink"
            >
              <span aria-hidden="true">⠿</span>
            </button>
          )
        }
      >
        {children}
      </Handle>
    </li>
  );
}

/** The handle of the row that this is in. */
export const MoveHandle = (): ReactNode => useContext(Handle);
