import type { Request } from '@jade-fence/core';
import type { Knex } from 'knex';
import { Problem } from '../http/problem.js';
import type { SignInThrottle } from '../people/throttle.js';
import { clientName, ruleName } from './answer.js';
import type { Grants } from './grants.js';
import type { InForce } from './live-rules.js';
import { isPasscode } from './passcodes.js';

const CHALLENGE_LASTS_MS = 3_600_000;

/** What a client gives to be let through. */
export interface Given {
  readonly yes?: unknown;
  readonly passcode?: unknown;
  readonly number?: unknown;
}

export interface GrantParts {
  readonly knex: Knex;
  readonly grants: Grants;
  readonly throttle: SignInThrottle;
}

/** Grants a client what the rule that decides its request asks, where it has met that. */
export async function grantFor(
  { knex, grants, throttle }: GrantParts,
  inForce: InForce,
  request: Request,
  given: Given,
): Promise<{ readonly grant: string; readonly until: string }> {
  const now = Date.now();
  const decision = inForce.live.judge(request, now);
  const [rule, client] = [ruleName(decision), clientName(inForce, decision, request)];
  const lasts = async (): Promise<number> => {
    switch (decision.action?.type) {
      case 'confirm':
        if (given.yes !== true) throw notMet('a yes');
        return decision.action.lasts;
      case 'unlock':
        await throttle.take(`passcode ${decision.action.passcode}`, client);
        if (!(await isPasscode(knex, decision.action.passcode, String(given.passcode ?? ''))))
          throw notMet('the passcode');
        await throttle.wentWell(`passcode ${decision.action.passcode}`, client);
        return decision.action.lasts;
      case 'challenge':
        if (!grants.isSolved(rule, client, String(given.number ?? ''), now))
          throw notMet('a number that solves the challenge');
        return CHALLENGE_LASTS_MS;
      default:
        throw new Problem(409, 'nothing-asked', 'Nothing is asked of this client that it could give.');
    }
  };
  const until = now + (await lasts());
  return { grant: grants.make({ rule, client, until }), until: new Date(until).toISOString() };
}

const notMet = (what: string): Problem => new Problem(403, 'not-met', `The rule asks for ${what}, and this is none.`);
