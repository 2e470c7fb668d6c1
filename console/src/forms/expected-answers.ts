import { VERDICTS_SHOWN } from '../marks/verdicts.js';

/** The answers that a cell goes through, one press each; none first. */
export const ANSWERS = ['', ...VERDICTS_SHOWN, 'uncovered'] as const;

/** An answer that a cell can have, but none. */
export type Answer = Exclude<(typeof ANSWERS)[number], ''>;

export const isAnswer = (word: string): word is Answer => word !== '' && (ANSWERS as readonly string[]).includes(word);

/** What a check expects of one probe at one destination. */
export interface Expected {
  readonly verdict: string;
  readonly rule: string | undefined;
}

/** The grid of a check: its destinations, and the answers that each probe expects. */
export interface AnswerGrid {
  readonly destinations: readonly (readonly [name: string, written: string])[];
  readonly rows: readonly (readonly [probe: string, cells: ReadonlyMap<string, Expected>])[];
}

const isMap = (value: unknown): value is Readonly<Record<string, unknown>> =>
  value !== null && typeof value === 'object' && !Array.isArray(value);

/** Reads the grid of a check; undefined where it is written as no grid. */
export function readGrid(destinations: unknown, expect: unknown): AnswerGrid | undefined {
  const [columns, rows] = [destinations ?? {}, expect ?? {}];
  if (!isMap(columns) || !isMap(rows)) return undefined;
  if (!Object.values(rows).every((row) => row === null || isMap(row))) return undefined;
  return {
    destinations: Object.entries(columns).map(([name, value]) => [name, shownDestination(value)] as const),
    rows: Object.entries(rows).map(
      ([probe, row]) =>
        [probe, new Map(Object.entries(row ?? {}).map(([name, cell]) => [name, expectedOf(cell)]))] as const,
    ),
  };
}

const expectedOf = (cell: unknown): Expected =>
  isMap(cell)
    ? { verdict: String(cell.verdict ?? ''), rule: cell.rule === undefined ? undefined : String(cell.rule) }
    : { verdict: String(cell ?? ''), rule: undefined };

function shownDestination(value: unknown): string {
  if (!isMap(value)) return String(value ?? '');
  if (value.tunnel !== undefined) return String(value.tunnel);
  return value.method === undefined ? String(value.url ?? '') : `${value.method} ${value.url}`;
}

/** What is written for a destination as it is typed: `https://…`, `POST https://…`, or `host:port` for a tunnel. */
export function writtenDestination(typed: string): unknown {
  const text = typed.trim();
  const [, method, url] = /^([A-Za-z]+)\s+(\S+)$/.exec(text) ?? [];
  if (method !== undefined) return { method: method.toUpperCase(), url };
  return /^[^/\s]+:\d+$/.test(text) ? { tunnel: text } : text;
}

/** The answer after this one, or before it. */
export function nextAnswer(verdict: string, step: 1 | -1): string {
  const at = (ANSWERS as readonly string[]).indexOf(verdict);
  return ANSWERS[(Math.max(at, 0) + step + ANSWERS.length) % ANSWERS.length] as string;
}

/** The answer that a key chooses: by its first letter, after the one that is there; undefined for other keys. */
export function answerByKey(verdict: string, key: string): string | undefined {
  if (key === 'Delete' || key === 'Backspace') return '';
  if (!/^[a-z]$/i.test(key)) return undefined;
  const at = (ANSWERS as readonly string[]).indexOf(verdict);
  const behind = [...ANSWERS.slice(at + 1), ...ANSWERS.slice(0, at + 1)];
  return behind.find((each) => each.startsWith(key.toLowerCase()));
}
