import type { Announcements, ScreenReaderInstructions, UniqueIdentifier } from '@dnd-kit/core';

interface Accessibility {
  readonly announcements: Announcements;
  readonly screenReaderInstructions: ScreenReaderInstructions;
}

/** What is said to those who hear the rules rather than see them, while a rule is moved. */
export function accessibility(rules: readonly string[]): Accessibility {
  const at = (id: UniqueIdentifier) => `place ${rules.indexOf(String(id)) + 1} of ${rules.length}`;
  return {
    screenReaderInstructions: {
      draggable: 'To move this rule, press space, then the arrow keys, and space again. Escape leaves it where it was.',
    },
    announcements: {
      onDragStart: ({ active }) => `${active.id} is taken up from ${at(active.id)}.`,
      onDragOver: ({ active, over }) => (over ? `${active.id} is held over ${at(over.id)}.` : undefined),
      onDragEnd: ({ active, over }) => `${active.id} is put down at ${at((over ?? active).id)}.`,
      onDragCancel: ({ active }) => `${active.id} stays at ${at(active.id)}.`,
    },
  };
}
