import { afterEach, expect, it, vi } from 'vitest';
import { remembered } from './remembered.js';

afterEach(() => vi.unstubAllGlobals());

const refused = () => {
  throw new DOMException('The operation is insecure.', 'SecurityError');
};

it('keeps in the browser what it keeps', () => {
  const kept = new Map([['zone', 'UTC']]);
  vi.stubGlobal('localStorage', {
    getItem: (name: string) => kept.get(name) ?? null,
    setItem: (name: string, value: string) => kept.set(name, value),
  });
  expect([remembered.getItem('zone'), remembered.getItem('theme')]).toEqual(['UTC', null]);
  remembered.setItem('theme', 'dark');
  expect([kept.get('theme'), remembered.getItem('theme')]).toEqual(['dark', 'dark']);
});

it.each([
  ['there is no storage', undefined],
  ['the browser blocks it', { getItem: refused, setItem: refused }],
  ['it is full', { getItem: () => null, setItem: refused }],
])('lasts as long as the page where %s', (_, storage) => {
  vi.stubGlobal('localStorage', storage);
  expect(remembered.getItem('pane')).toBeNull();
  remembered.setItem('pane', '40');
  expect(remembered.getItem('pane')).toBe('40');
  remembered.setItem('pane', '');
  expect(remembered.getItem('pane')).toBe('');
  vi.stubGlobal('localStorage', { getItem: () => null, setItem: () => undefined });
  // Where the browser keeps things again, what the page remembers does not come before that.
  remembered.setItem('pane', '60');
  expect(remembered.getItem('pane')).toBeNull();
});
