import { type Command } from 'commander';
import { gathered } from './command.js';

/** What to show as pseudonyms, beside what policies redact. */
export interface RedactGiven {
  readonly redact: readonly string[];
}

/** Gives a command the option of what to show as pseudonyms. */
export const withRedact = (command: Command): Command =>
  command.option(
    '--redact <what>',
    'show this as pseudonyms: client, client/24, user, header, header.NAME, query, query.NAME; as often as needed',
    gathered,
    [],
  );
