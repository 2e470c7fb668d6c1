import type { Command } from 'commander';
import { Option } from 'commander';
import { wholeNumber } from './command.js';

export const replayNumber = wholeNumber(1, 2 ** 31 - 1);

const ofLog = () => new Option('--log <name>', 'the newest replay of this log');

/** Gives a command the options that say which replay it is about. */
export const withReplay = (command: Command): Command =>
  command
    .addOption(
      new Option('--replay <number>', 'the replay (default: the newest that you ran)')
        .argParser(replayNumber)
        .conflicts('log'),
    )
    .addOption(ofLog());

/** The same where the number is an argument. */
export const withLogOfReplay = (command: Command): Command => command.addOption(ofLog());
