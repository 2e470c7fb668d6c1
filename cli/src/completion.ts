import type { Argument, Command } from 'commander';
import { SIGNING_IN } from './commands/login.js';
import type { Context } from './context.js';
import { Failure } from './failure.js';
import { readProfiles } from './profiles.js';

/** Longer than this nobody waits for a completion. */
const PATIENCE_MS = 1500;

type ContextWith = (signal: AbortSignal) => Context;

/** What is offered for arguments of these names: what the service holds. */
const NAMES: Readonly<Record<string, (context: Context) => Promise<readonly string[]>>> = {
  list: async ({ client }) => (await client.call('GET /workspace')).lists.map((each) => each.list),
  policy: async ({ client }) => (await client.call('GET /workspace')).policies.map((each) => each.policy),
  check: (context) => objectsOf(context, 'check'),
  application: (context) => objectsOf(context, 'application'),
  client: (context) => objectsOf(context, 'probe'),
  rule: async ({ client }) => {
    const { policies } = await client.call('GET /workspace');
    const all = policies.map(({ policy }) => client.call('GET /policies/:name', { params: { name: policy } }));
    return [...new Set((await Promise.all(all)).flatMap(({ rules }) => rules.map(({ rule }) => rule)))];
  },
  log: async ({ client }) => (await client.all('GET /logs')).logs.map(({ name }) => name),
  logs: async ({ client }) => (await client.all('GET /logs')).logs.map(({ name }) => name),
  replay: async ({ client }) => (await client.call('GET /replays')).replays.map(({ id }) => String(id)),
  replays: async ({ client }) => (await client.call('GET /replays')).replays.map(({ id }) => String(id)),
  before: async ({ client }) => (await client.call('GET /replays')).replays.map(({ id }) => String(id)),
  mapping: async ({ client }) => (await client.all('GET /mappings')).mappings.map(({ name }) => name),
  profile: async ({ env }) => [...readProfiles(env).profiles.keys()],
};

const objectsOf = async ({ client }: Context, kind: string): Promise<readonly string[]> =>
  (await client.call('GET /workspace')).objects.filter((each) => each.kind === kind).map(({ name }) => name);

/** Adds what the help says of completion; `addCompletion` has what it does. */
export function describeCompletion(program: Command): void {
  program
    .command('complete')
    .helpGroup(SIGNING_IN)
    .summary('completion for bash, zsh, fish and PowerShell')
    .argument('[shell]', 'print its script, such as for `source <(jade-fence complete bash)`');
}

/** Whether the command line is a shell's question for what could come next. */
export const isCompletion = (args: readonly string[]): boolean => args[0] === 'complete';

/**
 * Answers shells: `complete SHELL` prints a script, `complete -- WORDS` what could come next, names from the service
 * among it. A service that is away or slow only leaves its names out.
 */
export async function addCompletion(program: Command, args: readonly string[], context: ContextWith): Promise<void> {
  const { default: tab } = await import('@bomb.sh/tab/commander');
  if (args[1] === '--') await nameArguments(program, args.slice(2), context);
  tab(program);
}

async function nameArguments(program: Command, words: readonly string[], context: ContextWith): Promise<void> {
  const given = words.filter((word) => !word.startsWith('-'));
  const [noun, verb] = given;
  const command = program.commands.find((each) => each.name() === noun)?.commands.find((each) => each.name() === verb);
  const argument = command && argumentAt(command, given.length - 3);
  // What is called `name` is that of the noun.
  const ask = argument && NAMES[argument.name() === 'name' ? (noun as string) : argument.name()];
  if (!ask) return;
  try {
    const names = await ask(context(AbortSignal.timeout(PATIENCE_MS)));
    if (names.length > 0) Object.assign(argument, { argChoices: names });
  } catch (error) {
    if (!(error instanceof Failure)) throw error;
  }
}

const argumentAt = ({ registeredArguments }: Command, at: number): Argument | undefined =>
  registeredArguments[Math.max(0, at)] ?? registeredArguments.findLast(({ variadic }) => variadic);
