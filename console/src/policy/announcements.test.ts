import { expect, it } from 'vitest';
import { accessibility } from './announcements.js';

/** The announcements to a screen reader while a rule is moved. */
it('says where a rule is, over which it is held, and where it comes to', () => {
  const { announcements, screenReaderInstructions } = accessibility(['staging', 'harvesters', 'countries']);
  const active = { id: 'staging' } as never;
  const over = { id: 'countries' } as never;
  expect(announcements.onDragStart({ active })).toBe('staging is taken up from place 1 of 3.');
  expect(announcements.onDragOver({ active, over })).toBe('staging is held over place 3 of 3.');
  expect(announcements.onDragOver({ active, over: null })).toBeUndefined();
  expect(announcements.onDragEnd({ active, over })).toBe('staging is put down at place 3 of 3.');
  expect(announcements.onDragEnd({ active, over: null })).toBe('staging is put down at place 1 of 3.');
  expect(announcements.onDragCancel({ active, over: null })).toBe('staging stays at place 1 of 3.');
  expect(screenReaderInstructions.draggable).toContain('arrow keys');
});
