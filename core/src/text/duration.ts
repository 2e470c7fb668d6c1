const UNITS: readonly (readonly [string, number])[] = [
  ['d', 86_400_000],
  ['h', 3_600_000],
  ['m', 60_000],
  ['s', 1000],
];

/** Milliseconds of a duration such as `30s`, `10m`, `2h` or `1d`; undefined where it is none. */
export function parseDuration(text: string): number | undefined {
  const found = /^(\d{1,9})([smhd])$/.exec(text);
  const unit = UNITS.find(([name]) => name === found?.[2]);
  return found && unit ? Number(found[1]) * unit[1] : undefined;
}

/** The duration in the largest unit that is exact. */
export function formatDuration(milliseconds: number): string {
  const [unit, size] = UNITS.find(([, each]) => milliseconds >= each && milliseconds % each === 0) ?? ['s', 1000];
  return `${milliseconds / size}${unit}`;
}

const WORDS: Record<string, string> = { d: 'day', h: 'hour', m: 'minute', s: 'second' };

/** «10 minutes», «a minute». */
export function durationPhrase(milliseconds: number): string {
  const text = formatDuration(milliseconds);
  const count = text.slice(0, -1);
  const word = WORDS[text.slice(-1)] as string;
  return count === '1' ? `${word === 'hour' ? 'an' : 'a'} ${word}` : `${count} ${word}s`;
}
