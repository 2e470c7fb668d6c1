import { Command, CommanderError } from 'commander';
import { registerApplication } from './commands/application.js';
import { registerAudit } from './commands/audit.js';
import { registerCatalogue } from './commands/catalogue.js';
import { registerCheck } from './commands/check.js';
import { registerClient } from './commands/client.js';
import { type Act, type Action, type Register, startHere } from './commands/command.js';
import { registerCountry } from './commands/country.js';
import { registerDatabase } from './commands/database.js';
import { registerDecision } from './commands/decision.js';
import { registerDraft } from './commands/draft.js';
import { registerEntry } from './commands/entry.js';
import { registerFeed } from './commands/feed.js';
import { registerFinding } from './commands/finding.js';
import { registerGrant } from './commands/grant.js';
import { registerImport } from './commands/import.js';
import { registerList } from './commands/list.js';
import { registerLog } from './commands/log.js';
import { registerLogin, SIGNING_IN } from './commands/login.js';
import { registerLookUp } from './commands/look-up.js';
import { registerMapping } from './commands/mapping.js';
import { registerObject } from './commands/object.js';
import { registerPasscode } from './commands/passcode.js';
import { registerPerson } from './commands/person.js';
import { registerPolicy } from './commands/policy.js';
import { registerProfile } from './commands/profile.js';
import { registerProposal } from './commands/proposal.js';
import { registerReplay } from './commands/replay.js';
import { registerReplayCompare } from './commands/replay-compare.js';
import { registerRequestExplain } from './commands/request-explain.js';
import { registerRequestExport } from './commands/request-export.js';
import { registerRequestList } from './commands/request-list.js';
import { registerRequestSum } from './commands/request-sum.js';
import { registerResolution } from './commands/resolution.js';
import { registerResolve } from './commands/resolve.js';
import { registerRevision } from './commands/revision.js';
import { registerRevisionCompare } from './commands/revision-compare.js';
import { registerRuleMove } from './commands/rule-move.js';
import { registerRuleTune } from './commands/rule-tune.js';
import { registerRuleUsage } from './commands/rule-usage.js';
import { registerServiceRun } from './commands/service-run.js';
import { registerServiceShow } from './commands/service-show.js';
import { registerSession } from './commands/session.js';
import { registerSetting } from './commands/setting.js';
import { registerToken } from './commands/token.js';
import { registerWorkspaceApply } from './commands/workspace-apply.js';
import { registerWorkspaceCheck } from './commands/workspace-check.js';
import { registerWorkspaceFolder } from './commands/workspace-folder.js';
import { registerWorkspaceSchema } from './commands/workspace-schema.js';
import { addCompletion, describeCompletion, isCompletion } from './completion.js';
import { createContext, DEFAULT_SERVICE, type GlobalOptions } from './context.js';
import { EXIT, type ExitCode } from './exit-code.js';
import { Failure, failure } from './failure.js';
import { addNouns } from './nouns.js';
import { formatFailure } from './output/failure.js';
import type { Terminal } from './output/terminal.js';
import { version } from './version.js';

/** In the order of the nouns. */
const COMMANDS: readonly Register[] = [
  ...[registerWorkspaceCheck, registerWorkspaceSchema, registerWorkspaceApply, registerWorkspaceFolder],
  ...[
    registerPolicy,
    registerRuleMove,
    registerRuleTune,
    registerRuleUsage,
    registerList,
    registerEntry,
    registerObject,
  ],
  ...[registerCatalogue, registerApplication, registerFeed, registerCountry, registerResolution, registerResolve],
  ...[registerPasscode, registerLog, registerImport, registerMapping, registerReplay, registerReplayCompare],
  ...[
    registerRequestList,
    registerRequestSum,
    registerRequestExport,
    registerRequestExplain,
    registerLookUp,
    registerClient,
  ],
  ...[registerFinding, registerCheck, registerDraft, registerRevision, registerRevisionCompare, registerProposal],
  ...[registerDecision, registerGrant, registerServiceRun, registerServiceShow, registerSetting, registerProfile],
  ...[registerPerson, registerToken, registerSession, registerAudit, registerDatabase, registerLogin],
];

const ENDS =
  'Ends with 0 when done, 1 for invalid input, 2 for a wrong command line, 3 when the service\ncannot be reached or started, 4 when it refuses, 130 when it is interrupted.';

/** Runs the command line and answers what the process is to end with. */
export async function run(args: readonly string[], terminal: Terminal, env: NodeJS.ProcessEnv): Promise<ExitCode> {
  let exitCode: ExitCode = EXIT.done;
  const act: Act =
    <A extends unknown[]>(action: Action<A>) =>
    async (...given: unknown[]) => {
      // The parser hands over the arguments, the command's options, and the command itself.
      const command = given.pop() as Command;
      const context = createContext(command.optsWithGlobals<GlobalOptions>(), terminal, env);
      exitCode = (await action(context, ...(given as A))) ?? EXIT.done;
    };
  const json = args.includes('--json');
  const program = createProgram(act, terminal, json);
  try {
    if (isCompletion(args)) await addCompletion(program, args, (signal) => createContext({}, terminal, env, signal));
    else describeCompletion(program);
    await program.parseAsync([...args], { from: 'user' });
    return exitCode;
  } catch (error) {
    return printError(error, json, terminal, env);
  }
}

/** All commands but `complete`; `act` turns the action of one into what the parser calls. */
export function createProgram(act: Act, terminal: Terminal, json: boolean): Command {
  const program = new Command('jade-fence');
  describe(program, terminal, json);
  addNouns(program);
  for (const register of COMMANDS) register(program, act);
  inheritSettings(program);
  return program;
}

function describe(program: Command, terminal: Terminal, json: boolean): void {
  program
    .description(
      'Write access rules for web and application traffic, replay request logs against them, and see which requests are blocked or allowed, by which rule, and why.',
    )
    .version(version)
    .option('--profile <name>', 'the service that `login` kept under this name; also JADE_FENCE_PROFILE')
    .option('--service <url>', `where the service is; also JADE_FENCE_URL (default: ${DEFAULT_SERVICE})`)
    .option('--key-file <file>', 'the file with the access key; also JADE_FENCE_KEY for the key itself')
    .option('--json', 'answer in JSON, for programs')
    .option('-q, --quiet', 'print no answer; failures are still printed')
    .usage('<noun> <verb> [options]')
    .addHelpCommand(new Command('help').argument('[command]').helpGroup(SIGNING_IN).summary('what a command does'))
    .addHelpText(
      'after',
      `${startHere(
        'jade-fence service run                       # in one terminal; the rest in another',
        'jade-fence workspace apply demo/workspace    # the rules',
        'jade-fence finding list                      # what they cannot do',
        'jade-fence country import demo/country-data.csv',
        'jade-fence replay run --import demo/logs/week.jsonl',
        'jade-fence request list --rule no-harvesters',
        'jade-fence request explain --client 198.18.97.3 --url https://tickets.fennelhill.example/whats-on',
        'jade-fence revision publish -m "First rules"',
      )}\n\n${ENDS}`,
    )
    .showSuggestionAfterError()
    .showHelpAfterError('Try --help.');
  // With --json a usage error is printed like all other errors, once the whole command line is known.
  program.configureOutput({ writeOut: terminal.out, writeErr: json ? () => undefined : terminal.err });
  program.exitOverride();
}

function inheritSettings(command: Command): void {
  for (const child of command.commands) {
    // Nouns have few verbs, and need no command that explains these.
    child.copyInheritedSettings(command).helpCommand(false);
    inheritSettings(child);
  }
}

function printError(error: unknown, json: boolean, terminal: Terminal, env: NodeJS.ProcessEnv): ExitCode {
  if (error instanceof CommanderError && error.exitCode === 0) return EXIT.done;
  // Otherwise the parser has printed it already.
  if (error instanceof CommanderError && !json) return EXIT.usage;
  const failure = error instanceof Failure ? error : failureOf(error, env);
  terminal.err(json ? JSON.stringify(failure.body, null, 2) : formatFailure(failure.body, terminal.paintErr));
  return failure.exitCode;
}

function failureOf(error: unknown, env: NodeJS.ProcessEnv): Failure {
  if (!(error instanceof CommanderError)) return internal(error, env);
  const detail = error.message.replace(/^error: /, '');
  return failure(EXIT.usage, 'usage', { detail });
}

function internal(error: unknown, env: NodeJS.ProcessEnv): Failure {
  const shown =
    error instanceof Error ? (env.JADE_FENCE_DEBUG ? (error.stack ?? error.message) : error.message) : String(error);
  return failure(EXIT.internal, 'internal', { shown });
}
