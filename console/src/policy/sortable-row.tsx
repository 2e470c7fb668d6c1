import { useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import type { ReactNode } from 'react';

interface SortableRowProps {
  readonly rule: string;
  readonly tone: string;
  /** Whether it may be moved. */
  readonly movable: boolean;
  readonly children: (handle: ReactNode) => ReactNode;
}

/** A row that can be dragged by its handle, or moved with the keys: space, arrows, space. */
export function SortableRow({ rule, tone, movable, children }: SortableRowProps) {
  const sortable = useSortable({ id: rule, disabled: !movable });
  const { setNodeRef, setActivatorNodeRef, attributes, listeners, transform, transition, isDragging } = sortable;
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={`relative border-t border-line [contain-intrinsic-size:auto_96px] [content-visibility:auto] ${isDragging ? 'z-10 bg-sheet shadow-lg' : ''} ${tone}`}
      data-rule={rule}
    >
      {children(
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
        ),
      )}
    </li>
  );
}
