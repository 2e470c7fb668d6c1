import { type Command, InvalidArgumentError } from 'commander';
import type { Context } from '../context.js';
import type { ExitCode } from '../exit-code.js';

/** What a command's action does: it works, and answers what the process is to end with (0 where it says nothing). */
export type Action<A extends unknown[]> = (
  context: Context,
  ...given: A
) => Promise<ExitCode | undefined> | ExitCode | undefined;

/** Adds one command to the program. `act` turns an action into what the parser calls. */
export type Register = (program: Command, act: Act) => void;
export type Act = <A extends unknown[]>(action: Action<A>) => (...given: unknown[]) => Promise<void>;

/** Examples below a command's help. */
export const examples = (...lines: readonly string[]): string => below('Examples', lines);

/** The first steps, below the help of the program. */
export const startHere = (...lines: readonly string[]): string => below('Start here', lines);

function below(title: string, lines: readonly string[]): string {
  return `\n${title}:\n${lines.map((line) => `  ${line}`).join('\n')}`;
}

/** Reads a whole number within bounds. */
export function wholeNumber(least: number, most: number): (text: string) => number {
  return (text) => {
    const value = Number(text);
    if (/^\d+$/.test(text) && value >= least && value <= most) return value;
    throw new InvalidArgumentError(`It is a whole number from ${least} to ${most.toLocaleString('en')}.`);
  };
}

/** Reads a number of bytes such as 500000, 200MiB or 2GiB. */
export function byteCount(text: string): number {
  const found = /^(\d+)(B|KiB|MiB|GiB)?$/.exec(text);
  if (!found) throw new InvalidArgumentError('It is a number of bytes such as 500000, 200MiB or 2GiB.');
  return Number(found[1]) * { B: 1, KiB: 1024, MiB: 1024 ** 2, GiB: 1024 ** 3 }[(found[2] ?? 'B') as 'B'];
}

/** What `--state` is, wherever it is. */
export const STATE_OPTION =
  'the state of the workspace: `draft`, `published`, or the number of a revision (default: draft)';

/** Reads an argument that may be given several times. */
export const several =
  <T>(read: (text: string) => T) =>
  (text: string, before: readonly T[] = []): T[] => [...before, read(text)];

/** Gathers an option that may be given several times. */
export const gathered = (value: string, before: readonly string[]): string[] => [...before, value];
