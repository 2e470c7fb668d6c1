import { type Command } from 'commander';
import { gathered } from './command.js';

/** What is told by pseudonyms, beside what policies ask for. */
export interface RedactGiven {
  readonly redact: readonly string[];
}

/** Gives a command the option that says what to tell by pseudonyms. */
export const withRedact = (command: Command): Command =>
  command.option(
    '--redact <what>',
    'tell this by pseudonyms: client, client/24, user, header, header.NAME, query, query.NAME; as often as needed',
    gathered,
    [],
  );
