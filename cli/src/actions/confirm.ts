import { createInterface } from 'node:readline/promises';
import type { Command } from 'commander';
import type { Context } from '../context.js';
import { EXIT } from '../exit-code.js';
import { failure } from '../failure.js';
import { safe } from '../output/safe.js';

interface Asked {
  /** What comes of it and cannot be had back, a sentence each. */
  readonly consequence: readonly string[];
  readonly question: string;
}

/** Tells the consequence and asks, where somebody sits at a terminal; false elsewhere, and for any answer but yes. */
export async function confirmed({ terminal, json }: Context, { consequence, question }: Asked): Promise<boolean> {
  if (json || !process.stdin.isTTY) return false;
  for (const line of consequence) terminal.err(safe(line));
  const lines = createInterface({ input: process.stdin, output: process.stderr });
  try {
    return /^y(?:es)?$/i.test((await lines.question(`${question} (yes/no) `)).trim());
  } finally {
    lines.close();
  }
}

export interface YesGiven {
  readonly yes?: boolean;
}

/** Gives a command the option that says it is to be done without being asked about. */
export const withYes = (command: Command): Command => command.option('-y, --yes', 'do it without asking');

/** Goes on only where whoever gave the command means it: said so beforehand, or says so when asked. */
export async function requireConfirmed(context: Context, yes: boolean | undefined, asked: Asked): Promise<void> {
  if (yes === true || (await confirmed(context, asked))) return;
  throw failure(EXIT.refused, 'not-confirmed', { consequence: asked.consequence.join(' ') });
}
