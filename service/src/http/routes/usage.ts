import type { RuleUsage, UsageBody } from '@jade-fence/contract';
import type { Policy } from '@jade-fence/core/policy';
import type { Knex } from 'knex';
import { notFound } from '../../fault/not-found.js';
import { countedSince, type Used, usageKey, usageOf } from '../../live/usage.js';
import type { PreparedStates } from '../../workspace/prepared.js';
import { ANY_INSTANT, currentState } from '../../workspace/state.js';
import type { Api } from '../api.js';
import { UsageQuery } from '../input/decision-input.js';

/** How the rules of the draft were used by live decisions, over days. */
export function usageRoutes(api: Api, knex: Knex, states: PreparedStates): void {
  api.add(
    'GET /usage',
    {
      does: 'How often live decisions were made by each rule of the draft in the last days, and when each did something last.',
      query: UsageQuery,
    },
    async ({ query: { policy, days } }, response) => {
      const { policies } = (await states.get(await currentState(knex, ANY_INSTANT))).workspace;
      if (policy !== undefined && !policies.has(policy))
        throw notFound('policy', policy, [...policies.keys()], 'Apply a workspace with that policy first.');
      const used = await usageOf(knex, days, policy);
      const shown = [...policies.values()].filter(({ name }) => policy === undefined || name === policy);
      response.json({
        days,
        countedSince: (await countedSince(knex)) ?? null,
        rules: shown.flatMap((each) => usageOfPolicy(each, used)),
      } satisfies UsageBody);
    },
  );
}

function usageOfPolicy({ name, rules, default: last }: Policy, used: ReadonlyMap<string, Used>): RuleUsage[] {
  const each = [
    ...rules.map(({ name: rule, stance, then }) => ({ rule, stance, then: then.type })),
    { rule: 'default', stance: 'enforce' as const, then: last.type },
  ];
  return each.map((rule) => {
    const [decided, observed] = (['decided', 'observed'] as const).map((role) =>
      used.get(usageKey(name, rule.rule, role)),
    );
    return {
      policy: name,
      ...rule,
      decided: decided?.count ?? 0,
      observed: observed?.count ?? 0,
      lastDecided: decided?.last.toISOString() ?? null,
      lastObserved: observed?.last.toISOString() ?? null,
    };
  });
}
