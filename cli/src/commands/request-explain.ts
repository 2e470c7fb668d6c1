import type { ExplainedBody, ExplainedJudgedBody, OfReplay } from '@jade-fence/contract';
import { VERDICTS } from '@jade-fence/core/policy';
import { Option } from 'commander';
import { chosenReplay, type WhichReplay } from '../actions/chosen-replay.js';
import type { Context } from '../context.js';
import { EXIT } from '../exit-code.js';
import { failure } from '../failure.js';
import { noun } from '../nouns.js';
import { formatExplanation } from '../output/explanation.js';
import { formatOf } from '../output/of-replay.js';
import { examples, type Register, STATE_OPTION, wholeNumber } from './command.js';
import { type RedactGiven, withRedact } from './redact-option.js';
import { withReplay } from './replay-option.js';

interface Given extends RedactGiven, WhichReplay {
  readonly client?: string;
  readonly forwardedFor?: string;
  readonly forwarded?: string;
  readonly host?: string;
  readonly path?: string;
  readonly url?: string;
  readonly method?: string;
  readonly port?: number;
  readonly protocol?: string;
  readonly state?: string;
  readonly policy?: string;
  readonly at?: string;
  readonly request?: number;
  readonly expect?: string;
  readonly changes?: boolean;
  readonly user?: string;
  readonly agent?: string;
  readonly destination?: string;
  readonly time?: string;
}

export const registerRequestExplain: Register = (program, act) => {
  withReplay(withRedact(noun(program, 'request').command('explain')))
    .summary('one request: its verdict, the rule, and the reason')
    .description(
      'Explains one request: every rule in order, every condition, with the values that it saw. The request is given by options and judged by the draft, or it is one of a replay.',
    )
    .option('--client <address>', 'the address at the other end of the connection')
    .option('--forwarded-for <list>', 'its X-Forwarded-For header')
    .option('--forwarded <value>', 'its Forwarded header')
    .option('--url <url>', 'where to, in one: scheme, host, port, path')
    .option('--host <host>', 'the host')
    .option('--path <path>', 'the path; without it the request shows none, as a tunnel does')
    .option('--method <method>', 'the method')
    .option('--port <number>', 'the port (default: that of the URL)', wholeNumber(0, 65535))
    .option('--protocol <name>', 'the protocol, such as HTTP/1.1')
    .option('--user <name>', 'the user, or `anonymous`')
    .option('--agent <text>', 'the user agent')
    .option('--destination <address>', 'the address that it goes to')
    .option('--time <time>', 'when, for schedules (default: now)')
    .option('--changes', 'also say what would have to change for each other rule to act')
    .option('--policy <name>', 'judge by this policy (default: the one that covers the request)')
    .option('--state <state>', STATE_OPTION)
    .option('--at <time>', 'judge the expiry of list entries at this time (default: now)')
    .option('--request <number>', 'a request of a replay, by its number', wholeNumber(1, 2 ** 31 - 1))
    .addOption(
      new Option('--expect <verdict>', 'end with 1 where the verdict is another').choices([...VERDICTS, 'uncovered']),
    )
    .addHelpText(
      'after',
      examples(
        'jade-fence request explain --client 198.18.97.3 --url https://tickets.fennelhill.example/whats-on',
        'jade-fence request explain --client 10.10.1.4 --forwarded-for 203.0.113.5 --host staging.fennelhill.example',
        'jade-fence request explain --request 28',
        'jade-fence request explain --client 10.40.3.7 --host odds.meadowbet.example --expect block',
      ),
    )
    .action(
      act(async (context, given: Given) => {
        const explained =
          given.request === undefined
            ? await explainGiven(context, given)
            : await explainLogged(context, given, given.request);
        context.show<ExplainedBody & { readonly of?: OfReplay }>(explained, (answer) => {
          const shown = formatExplanation(answer, context.terminal.paint, given.changes ?? false);
          return answer.of ? `${formatOf(answer.of)}\n\n${shown}` : shown;
        });
        const verdict = explained.explanation?.verdict ?? 'uncovered';
        return given.expect === undefined || given.expect === verdict ? EXIT.done : EXIT.notHeld;
      }),
    );
};

async function explainLogged(
  context: Context,
  { replay: id, log, redact }: Given,
  number: number,
): Promise<ExplainedJudgedBody> {
  const replay = await chosenReplay(context, { replay: id, log });
  return context.client.call('GET /replays/:id/requests/:number', {
    params: { id: replay.id, number },
    query: { redact },
  });
}

async function explainGiven({ client }: Context, given: Given): Promise<ExplainedBody> {
  const { client: peer, forwardedFor, state, policy, at, ...rest } = given;
  const { forwarded, host, path, url, method, port, protocol, user, agent, destination, time } = rest;
  const where = { host, path, url, method, port, protocol, destination };
  const request = { peer, forwarded, 'forwarded-for': forwardedFor, user, agent, time, ...where };
  if (Object.values(request).every((value) => value === undefined)) throw failure(EXIT.usage, 'no-request');
  return client.call('POST /explanations', { body: { request, state, policy, at } });
}
