import { createWriteStream } from 'node:fs';
import { finished } from 'node:stream/promises';
import { Command, InvalidArgumentError, Option } from 'commander';
import { LINE_FORMATS, type LineFormatName } from './formats.js';
import { TRAFFIC_DEFAULTS } from './traffic.js';
import { writeTraffic } from './write.js';

const MOST_REQUESTS = 10_000_000;

function wholeNumber(most: number): (text: string) => number {
  return (text) => {
    const value = Number(text.replaceAll('_', '').replaceAll(',', ''));
    if (Number.isInteger(value) && value >= 1 && value <= most) return value;
    throw new InvalidArgumentError(`It is a whole number from 1 to ${most.toLocaleString('en')}.`);
  };
}

interface Given {
  readonly requests: number;
  readonly seed: number;
  readonly days: number;
  readonly format: LineFormatName;
  readonly out?: string;
}

const program = new Command('demo:log')
  .description('Makes a request log of Fennel Hill Botanic Garden from a seed: the same options, the same bytes.')
  .option(
    '-n, --requests <count>',
    'how many requests, 1 to 10,000,000',
    wholeNumber(MOST_REQUESTS),
    TRAFFIC_DEFAULTS.requests,
  )
  .option('--seed <number>', 'the seed', wholeNumber(2 ** 31 - 1), TRAFFIC_DEFAULTS.seed)
  .option('--days <count>', 'over how many days, from Monday 2026-11-09 on', wholeNumber(366), TRAFFIC_DEFAULTS.days)
  .addOption(
    new Option('--format <format>', 'how lines are written').choices(Object.keys(LINE_FORMATS)).default('json-lines'),
  )
  .option('-o, --out <file>', 'where to; standard output where it is not given')
  .action(async ({ out, format, ...options }: Given) => {
    const to = out === undefined ? process.stdout : createWriteStream(out);
    await writeTraffic({ ...TRAFFIC_DEFAULTS, ...options }, LINE_FORMATS[format], to);
    if (out !== undefined) await finished(to.end());
  });

await program.parseAsync();
