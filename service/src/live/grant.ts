import type { FinalAction } from '@jade-fence/core/policy';
import type { Knex } from 'knex';
import type { Logger } from 'pino';
import { note } from '../audit/audit.js';
import { Refusal, refusal } from '../fault/refusal.js';
import type { SignInThrottle } from '../people/throttle.js';
import type { Grants } from './grants.js';
import { isPasscode } from './passcodes.js';

const CHALLENGE_LASTS_MS = 3_600_000;

/** What a client gives to be let through. */
export interface Given {
  readonly yes?: unknown;
  readonly passcode?: unknown;
  readonly number?: unknown;
}

/** What is asked of a client: the rule that asks, as `policy/rule`, and what it would do. */
export interface Asking {
  readonly rule: string;
  readonly client: string;
  readonly action: FinalAction | undefined;
}

export interface GrantParts {
  readonly knex: Knex;
  readonly grants: Grants;
  readonly throttle: SignInThrottle;
  readonly logger: Logger;
}

/** Grants a client what a rule asks, where it has met that. */
export async function grantFor(
  parts: GrantParts,
  { rule, client, action }: Asking,
  given: Given,
): Promise<{ readonly grant: string; readonly until: number }> {
  const { grants } = parts;
  const now = Date.now();
  switch (action?.type) {
    case 'confirm':
      if (given.yes !== true) throw notMet('a yes');
      return granted(grants, { rule, client, until: now + action.lasts });
    case 'unlock':
      await requirePasscode(parts, { rule, client }, action.passcode, given.passcode);
      return granted(grants, { rule, client, until: now + action.lasts, passcode: action.passcode });
    case 'challenge':
      if (!grants.isSolved(rule, client, String(given.number ?? ''), now))
        throw notMet('a number that solves the challenge');
      return granted(grants, { rule, client, until: now + CHALLENGE_LASTS_MS });
    default:
      throw refusal('nothing-asked');
  }
}

async function requirePasscode(
  { knex, throttle, logger }: GrantParts,
  { rule, client }: Pick<Asking, 'rule' | 'client'>,
  name: string,
  given: unknown,
): Promise<void> {
  await throttle.take(`passcode ${name}`, client);
  const isRight = await isPasscode(knex, name, String(given ?? ''));
  const action = isRight ? 'passcode-given' : 'passcode-wrong';
  await note(knex, [{ actor: null, action, kind: 'passcode', name, detail: { rule } }]).catch((error) =>
    logger.warn({ err: error }, 'a passcode was given, and could not be audited'),
  );
  if (!isRight) throw notMet('the passcode');
  await throttle.wentWell(`passcode ${name}`, client);
}

const granted = (grants: Grants, made: Parameters<Grants['make']>[0]) => ({
  grant: grants.make(made),
  until: made.until,
});

const notMet = (what: string): Refusal => refusal('not-met', { what });
