import { afterEach, expect, it } from 'vitest';
import { chooseTimeZone, clock, timeZone } from './clock.js';

afterEach(() => void chooseTimeZone('UTC'));

it.each([
  ['UTC', '2026-11-09T07:31:05Z', '2026-11-09 07:31:05'],
  ['UTC', '2026-11-09T00:00:00.000Z', '2026-11-09 00:00:00'],
  ['Europe/Lisbon', '2026-07-09T23:31:05Z', '2026-07-10 00:31:05'],
  ['Asia/Kolkata', '2026-11-09T07:31:05.999Z', '2026-11-09 13:01:05'],
  ['America/Sao_Paulo', '2026-01-01T01:00:00Z', '2025-12-31 22:00:00'],
])('is shown in %s', (zone, time, shown) => {
  expect(chooseTimeZone(zone)).toBe(true);
  expect(clock(time)).toBe(shown);
});

it('stays where one is that is none', () => {
  chooseTimeZone('Europe/Lisbon');
  expect(chooseTimeZone('Fennel/Hill')).toBe(false);
  expect(chooseTimeZone('')).toBe(false);
  expect(timeZone()).toBe('Europe/Lisbon');
});
