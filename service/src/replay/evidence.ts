import type { EvidenceBody, JudgedBody, SumBody } from '@jade-fence/contract';
import {
  Evidence,
  namedSlots,
  type Report,
  type RequestFilter,
  type RuleReport,
  type SideRole,
  VerdictHours,
} from '@jade-fence/core/replay';
import type { Knex } from 'knex';
import { notFound } from '../fault/not-found.js';
import { refusal } from '../fault/refusal.js';
import type { Replay } from '../model/replay.js';
import type { PreparedStates } from '../workspace/prepared.js';
import { matchingRequests, requireDone } from './requests.js';

export interface EvidenceOrder {
  readonly policy: string | undefined;
  readonly rule: string;
  /** Undefined: the requests that show most of the rule. */
  readonly role: 'decided' | SideRole | undefined;
}

const ALL = { after: 0, limit: Number.POSITIVE_INFINITY };

/** What the requests of one rule are, so that it can be tuned before it acts. */
export async function evidenceOf(
  knex: Knex,
  states: PreparedStates,
  replay: Replay,
  order: EvidenceOrder,
): Promise<Omit<EvidenceBody, 'of'>> {
  requireDone(replay);
  const policy = policyOf(replay, order);
  const report = (JSON.parse(replay.report ?? '{}') as Report).policies.find((each) => each.policy === policy);
  const rule = report?.rules.find((each) => each.rule === order.rule);
  if (rule === undefined) throw new Error(`replay ${replay.id} has no figures of ${policy}/${order.rule}`);
  const role = order.role ?? mainRole(rule);
  const evidence = gathered();
  const filter = { policy, rule: order.rule, role };
  for await (const some of matchingRequests(knex, states, replay, filter, ALL))
    for (const request of some) evidence.add(request);
  return {
    replay: replay.id,
    policy,
    rule,
    role,
    requests: evidence.requests,
    shares: evidence.shares(),
    samples: evidence.samples(),
  };
}

/** More requests than this are not looked at one by one for a sum. */
const MOST_SUMMED = 1_000_000;

/** What the requests are that a filter selects: by whom, to where, what became of them; the first million of them. */
export async function sumOf(
  knex: Knex,
  states: PreparedStates,
  replay: Replay,
  filter: RequestFilter,
): Promise<Omit<SumBody, 'of'>> {
  const evidence = gathered();
  const hours = new VerdictHours();
  let isPart = false;
  // One more than are summed is looked for: only it says that there are more.
  for await (const some of matchingRequests(knex, states, replay, filter, { after: 0, limit: MOST_SUMMED + 1 }))
    for (const request of some) {
      isPart = evidence.requests === MOST_SUMMED;
      if (isPart) break;
      evidence.add(request);
      hours.add(request.request.time, request.verdict);
    }
  return {
    replay: replay.id,
    requests: evidence.requests,
    isPart,
    shares: evidence.shares(),
    hours: hours.breakdown(),
    samples: evidence.samples(),
  };
}

const gathered = (): Evidence<JudgedBody> =>
  new Evidence<JudgedBody>(({ client, country, destinationCountry, policy, rule, request }) => ({
    client,
    country,
    'destination-country': destinationCountry,
    host: textOf(request.host),
    path: textOf(request.path),
    method: textOf(request.method),
    agent: textOf(request.agent),
    status: typeof request.status === 'number' ? String(request.status) : null,
    rule: policy === null ? 'uncovered' : `${policy} / ${rule ?? 'default'}`,
  }));

const textOf = (value: unknown): string | null => (typeof value === 'string' ? value : null);

/** What a rule does most that its writer can tune it by: what it acted on, else what keeps it from acting. */
function mainRole({ then, stance, decided, observed, overtaken, blind, limit }: RuleReport): 'decided' | SideRole {
  if (then === 'tag') return 'tagged';
  // For a limit that nobody exceeds the curve is enough.
  if (limit) return stance === 'observe' ? 'observed' : 'decided';
  if (stance === 'observe' && observed > 0) return 'observed';
  if (decided > 0) return 'decided';
  if (overtaken > 0) return 'overtaken';
  return blind > 0 ? 'blind' : stance === 'observe' ? 'observed' : 'decided';
}

/** The policy that the rule is of; rules of several policies may have the same name. */
function policyOf({ slots }: Replay, { policy, rule }: EvidenceOrder): string {
  const found = namedSlots(slots, { policy, rule }).flatMap((slot) => slots[slot] ?? []);
  const policies = found.filter((slot) => slot.rule !== null).map((slot) => slot.policy);
  const [only, ...others] = policies;
  if (only === undefined) {
    const known = [...new Set(slots.flatMap((slot) => slot.rule ?? []))];
    throw notFound('rule', rule, known, `The replay ran: ${known.join(', ')}.`);
  }
  if (others.length === 0) return only;
  throw refusal('ambiguous-rule', { rule, policies: policies.join(', ') });
}
