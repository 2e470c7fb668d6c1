import type { CheckedCell, CheckedGrid } from './run-checks.js';

/** The answers of checks that are not as expected, each by a name by which it is known again in a later run. */
export const failingCells = (checks: readonly CheckedGrid[]): ReadonlyMap<string, CheckedCell> =>
  new Map(
    checks.flatMap(({ check, cells }) =>
      cells
        .filter(({ holds }) => !holds)
        .map((cell): [string, CheckedCell] => [`${check}: ${cell.probe} at ${cell.destination}`, cell]),
    ),
  );

/** What is different of the failing answers of two runs, by their names. */
export interface FailingChange {
  readonly began: readonly string[];
  readonly mended: readonly string[];
}

/** The answers that fail now and did not before, and the other way round. */
export const failingChange = (before: Iterable<string>, now: Iterable<string>): FailingChange => {
  const [old, fresh] = [new Set(before), new Set(now)];
  return {
    began: [...fresh].filter((name) => !old.has(name)),
    mended: [...old].filter((name) => !fresh.has(name)),
  };
};
