import type { KeyboardEvent } from 'react';

const REACHED = 'a[href], button:not(:disabled)';

/**
 * Goes by the arrow keys from a link or button of a table's row to the one below or above it, and by Home and End to the first
 * and last row. What uses these keys itself, such as fields and lists, keeps them.
 */
export function goByRows(event: KeyboardEvent<HTMLElement>): void {
  const at = (event.target as HTMLElement).closest<HTMLElement>(REACHED);
  const row = at?.closest('tr');
  if (!at || !row || at.hasAttribute('aria-haspopup') || event.ctrlKey || event.metaKey || event.altKey) return;
  const rows = [...(row.parentElement?.children ?? [])].filter((each) => each.querySelector(REACHED) !== null);
  const place = rows.indexOf(row);
  const places: Readonly<Record<string, number>> = {
    ArrowDown: place + 1,
    ArrowUp: place - 1,
    Home: 0,
    End: rows.length - 1,
  };
  const next = rows[places[event.key] ?? -1];
  if (!next) return;
  event.preventDefault();
  const column = [...row.children].findIndex((cell) => cell.contains(at));
  const below = next.children[column]?.querySelector<HTMLElement>(REACHED) ?? next.querySelector<HTMLElement>(REACHED);
  below?.focus();
}
