import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Writable } from 'node:stream';
import type { Command } from 'commander';
import { expect, it } from 'vitest';
import { describeCompletion } from './completion.js';
import { createTerminal } from './output/terminal.js';
import { createProgram } from './program.js';

const ROOT = new URL('../..', import.meta.url).pathname;
const FOLDERS = [
  'docs',
  'demo',
  'scripts',
  'tests',
  ...['bench', 'cli', 'console', 'contract', 'core', 'service'].map((part) => `${part}/src`),
];

function textFiles(): string[] {
  const below = (folder: string) =>
    readdirSync(join(ROOT, folder), { recursive: true, encoding: 'utf8' }).map((file) => `${folder}/${file}`);
  return ['README.md', ...FOLDERS.flatMap(below)].filter((file) => /\.(?:md|mjs|tsx?)$/.test(file));
}

const stream = new Writable({ write: (_chunk, _encoding, done) => done() });
const program = createProgram(
  () => async () => undefined,
  createTerminal({ stdout: stream, stderr: stream }, {}),
  false,
);
describeCompletion(program);

it('names in messages, pages and documents only commands and options that there are', () => {
  const named = textFiles().flatMap((file) =>
    [...readFileSync(join(ROOT, file), 'utf8').matchAll(NAMED)].map(([text]) => ({ file, text })),
  );
  expect(named.length).toBeGreaterThan(200);
  expect(named.map(({ file, text }) => ({ file, text, fault: faultOf(text) })).filter(({ fault }) => fault)).toEqual(
    [],
  );
});

it('names in documents no command without the name of the program that there is not', () => {
  const spans = textFiles()
    .filter((file) => file.endsWith('.md'))
    .flatMap((file) => spansOf(readFileSync(join(ROOT, file), 'utf8')).map((text) => ({ file, text })))
    .filter(({ text }) => isCommand(text));
  expect(spans.length).toBeGreaterThan(100);
  expect(
    spans.map(({ file, text }) => ({ file, text, fault: faultOf(`${PROGRAM} ${text}`) })).filter(({ fault }) => fault),
  ).toEqual([]);
});

it('says of every command what its JSON is', () => {
  const said = spansOf(readFileSync(join(ROOT, 'docs/json.md'), 'utf8'));
  const verbs = program.commands.flatMap((noun) => noun.commands.map((verb) => `${noun.name()} ${verb.name()}`));
  expect(verbs.filter((verb) => !said.some((each) => each === verb || each.startsWith(`${verb} `)))).toEqual([]);
});

it('finds a command, a verb and an option that there is not', () => {
  expect(faultOf(`${PROGRAM} fences`)).toBe('no command `fences`');
  expect(faultOf(`${PROGRAM} list lists`)).toBe('no command `list lists`');
  expect(faultOf(`${PROGRAM} setting list --own-domain`)).toBe('no option --own-domain');
  expect(faultOf(`${PROGRAM} setting set --own-domain garden.example --json`)).toBeUndefined();
});

/** Code within a paragraph, which may go over the end of a line. */
const spansOf = (document: string): string[] =>
  [...document.replace(/^```.*?^```/gms, '').matchAll(/(?<!`)`([^`]+)`/g)].map(([, text]) =>
    (text as string).replace(/\s+/g, ' '),
  );

/** Whether code is a command: by an option, a word in capitals for what is to be given, or a noun and little behind it. */
const isCommand = (text: string): boolean =>
  /^[a-z][a-z-]+ /.test(text) &&
  !/^(?:jade-fence|npm|npx|node) /.test(text) &&
  (/ --[a-z]| [A-Z]{3,}\b/.test(text) ||
    (text.split(' ').length <= 3 && program.commands.some((each) => text.startsWith(`${each.name()} `))));

const PROGRAM = 'jade-fence';
/** The name of the program, and what is behind it: words, or texts in quotes. */
const NAMED = /jade-fence(?: +(?:"[^"\n]*"|'[^'\n]*'|[^\s`'"\\;|>#)]+))+/g;

function faultOf(text: string): string | undefined {
  const [, ...words] = text.replace(/"[^"]*"|'[^']*'/g, 'TEXT').split(/ +/);
  let command: Command = program;
  for (const word of words) {
    if (/^--?[a-z]/.test(word)) {
      if (!optionsOf(command).has(word)) return `no option ${word}`;
    } else if (command.commands.length > 0) {
      const next = command.commands.find((each) => each.name() === word);
      if (next === undefined && /^[a-z-]+$/.test(word))
        return `no command \`${command === program ? '' : `${command.name()} `}${word}\``;
      if (next === undefined) return undefined;
      command = next;
    }
  }
  return undefined;
}

const optionsOf = (command: Command): ReadonlySet<string> =>
  new Set(
    [command, program].flatMap(({ options }) => options.flatMap(({ short, long }) => [short ?? '', long ?? ''])),
  ).add('--help');
