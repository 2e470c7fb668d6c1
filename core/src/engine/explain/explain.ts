import { type Address, formatAddress, formatRange } from '../../address/index.js';
import type { Condition } from '../../condition/index.js';
import { countryPhrase, networkTelling, type Origin, originOf } from '../../country/index.js';
import { actionPhrase, type Policy, type Rule, ruleSentence, type Verdict } from '../../policy/index.js';
import { answerFor, answerSentence } from '../../resolution/index.js';
import type { Decision, RuleOutcome } from '../decision.js';
import { type Limits, NO_TRAFFIC } from '../limits.js';
import type { Prepared } from '../prepared.js';
import { evaluate } from '../reference/evaluate.js';
import type { Judged } from '../reference/test.js';
import type { Subject } from '../subject.js';
import { changesFor, changesSentence } from './changes.js';
import type {
  ExplainedAnswer,
  ExplainedClient,
  ExplainedCondition,
  ExplainedCountry,
  ExplainedDestination,
  ExplainedLimit,
  ExplainedRule,
  Explanation,
  Holds,
} from './explanation.js';
import { explainLimit, type Standing } from './standing.js';
import { explainTest } from './test.js';

/**
 * Explains one request under one policy, rule by rule. `limits` says which limits it exceeded; without it, the
 * request is taken by itself and is over none.
 *
 * @param standings the request's count under each limit, by the name of the rule, as far as earlier traffic is known
 */
export function explain(
  policy: Policy,
  subject: Subject,
  prepared: Prepared,
  limits: Limits = NO_TRAFFIC,
  standings: ReadonlyMap<string, Standing> = new Map(),
): Explanation {
  const decision = evaluate(policy, subject, prepared, limits);
  const decidedBy = policy.rules[decision.decidedBy]?.name ?? null;
  const tags = new Set<string>();
  const rules = policy.rules.map((rule, index) => {
    const shown = explainRule(rule, index, decision, { subject, tags, prepared }, standings.get(rule.name));
    const { role } = shown;
    if (rule.then.type === 'tag' && rule.stance === 'enforce' && (role === 'tagged' || role === 'overtaken'))
      for (const tag of rule.then.tags) tags.add(tag);
    return shown;
  });
  return {
    policy: policy.name,
    stance: policy.stance,
    verdict: decision.verdict,
    effect: decision.effect,
    decidedBy,
    tags: decision.tags,
    record: decision.record,
    summary: summarise(decision, rules),
    unjudged: unjudgedSentence(decision, rules),
    client: explainClient(subject),
    country: explainCountry(subject, prepared),
    destinations: explainDestinations(subject, prepared),
    resolved: explainAnswer(policy, subject, prepared),
    rules,
  };
}

const DONE: Record<Verdict, string> = {
  allow: 'Allowed',
  block: 'Blocked',
  redirect: 'Redirected',
  challenge: 'Challenged',
  confirm: 'Asked to confirm',
  unlock: 'Asked for the passcode',
};

function summarise(decision: Decision, rules: readonly ExplainedRule[]): string {
  const rule = rules[decision.decidedBy];
  const by = rule ? `by rule ${rule.rule}` : `by the default of ${decision.policy.name}`;
  const why = rule ? whyOf(rule) : ', since no rule matched';
  const met = decision.met ? ' The client has met what the rule asks of it.' : '';
  const effect =
    decision.effect === decision.verdict ? '' : ` The policy does not enforce, so the request is let through.`;
  return `${DONE[decision.verdict]} ${by}${why}.${met}${effect}`;
}

/** The rules that might have decided, had the request shown the fields that they test. */
function unjudgedSentence({ decidedBy }: Decision, rules: readonly ExplainedRule[]): string | null {
  const blind = rules.slice(0, decidedBy).filter(({ role, stance }) => role === 'blind' && stance === 'enforce');
  if (blind.length === 0) return null;
  return `Could not be judged: ${blind.map(({ rule, unseen }) => `${rule}, for want of its ${unseen.join(' and ')}`).join('; ')}.`;
}

/** Because of what the rule matched. */
function whyOf(rule: ExplainedRule): string {
  if (rule.unseen.length > 0)
    return `, which takes what it cannot judge: the request does not show its ${rule.unseen.join(' and ')}`;
  const matching = rule.when.find((condition) => condition.holds === 'match');
  const reasons = [
    ...(matching?.tests ?? []).map((test) => `${test.field} ${test.because}`),
    ...(rule.limit?.text ? [rule.limit.text] : []),
  ];
  return reasons.length === 0 ? ', which matches every request' : `, because ${reasons.join(' and ')}`;
}

function explainRule(
  rule: Rule,
  index: number,
  decision: Decision,
  judged: Judged,
  standing: Standing | undefined,
): ExplainedRule {
  const outcome = decision.outcomes[index] as RuleOutcome;
  const conditions = (all: readonly Condition[]) => all.map((each) => explainCondition(each, judged));
  const when = conditions(rule.when);
  const unless = conditions(rule.unless);
  const limit = rule.limit === undefined ? null : explainLimit(rule.limit, judged.subject, standing);
  const changes = changesFor({ rule, index, when, unless }, decision);
  const decidedBy = decision.policy.rules[decision.decidedBy]?.name ?? null;
  return {
    rule: rule.name,
    sentence: ruleSentence(rule),
    stance: rule.stance,
    then: rule.then.type,
    role: outcome.role,
    text:
      outcome.role === 'passed'
        ? passedSentence(when, unless, limit)
        : outcomeSentence(rule, outcome, decidedBy, limit),
    limit,
    unseen: outcome.unseen,
    when,
    unless,
    changes,
    toAct: changesSentence(changes),
  };
}

function explainCondition(condition: Condition, judged: Judged): ExplainedCondition {
  const tests = condition.map((test) => explainTest(test, judged));
  const some = (holds: Holds) => tests.some((test) => test.holds === holds);
  return { holds: some('no match') ? 'no match' : some('unseen') ? 'unseen' : 'match', tests };
}

function outcomeSentence(
  rule: Rule,
  { role, unseen }: RuleOutcome,
  decidedBy: string | null,
  limit: ExplainedLimit | null,
): string {
  const hidden = unseen.length > 0 ? `the request does not show its ${unseen.join(' and ')}` : undefined;
  const counted = limit?.text && limit.sum !== null ? ` (${limit.text})` : '';
  const matches = hidden === undefined ? `Matches${counted}` : `Takes what it cannot judge (${hidden})`;
  switch (role) {
    case 'decided':
      return `${matches}, and decides: ${rule.then.type}.`;
    case 'tagged':
      return `${matches}: ${actionPhrase(rule.then)}.`;
    case 'observed':
      return `${matches}, and only observes; it would ${actionPhrase(rule.then)}.`;
    case 'overtaken':
      return `${matches}, but ${decidedBy} above had decided already.`;
    case 'blind':
      return `Could not be judged: ${hidden}.`;
    case 'passed':
      return 'Does not match.';
    case 'off':
      return 'Is switched off.';
  }
}

/** Why a rule does not match: the exception that held, or the first test that did not. */
function passedSentence(
  when: readonly ExplainedCondition[],
  unless: readonly ExplainedCondition[],
  limit: ExplainedLimit | null,
): string {
  const exception = unless.find((condition) => condition.holds === 'match');
  if (exception && when.every((condition) => condition.holds !== 'no match'))
    return `Excepted: ${exception.tests.map((test) => `${test.field} ${test.because}`).join(' and ')}.`;
  const failing = when.flatMap((condition) => condition.tests.filter((test) => test.holds === 'no match').slice(0, 1));
  if (failing.length === 0)
    return `Its conditions hold, and its limit is not exceeded${limit?.text ? `: ${limit.text}` : ''}.`;
  return `Does not match: ${failing.map((test) => `${test.field} ${test.because}`).join(', nor ')}.`;
}

function explainClient({ request, client }: Subject): ExplainedClient {
  const address = client.address === undefined ? null : formatAddress(client.address);
  const peer = request.peer === undefined ? null : formatAddress(request.peer);
  const base = { address, peer, source: client.source, how: client.how };
  switch (client.how) {
    case 'peer':
      return { ...base, text: `${address} is the peer of the connection` };
    case 'header':
      return {
        ...base,
        text: `${address} is taken from ${client.source}, which the trusted proxy ${peer} vouches for`,
      };
    case 'untrusted-peer':
      return { ...base, text: `${address} is the peer; it is no trusted proxy, so its forwarding header is ignored` };
    case 'unreadable-hop':
      return {
        ...base,
        text: `a trusted proxy names no readable address in ${client.source}, so the client is not seen`,
      };
    case 'header-not-logged':
      return {
        ...base,
        text: `the peer ${peer} is a trusted proxy, and the request does not say what ${client.source} was`,
      };
    case 'headers-disagree':
      return { ...base, text: `${client.source} name different clients; name the one header that your proxies set` };
    case 'no-peer':
      return { ...base, text: 'the request has no peer address' };
  }
}

function explainCountry({ client, origin }: Subject, prepared: Prepared): ExplainedCountry {
  if (origin === undefined) {
    const shown = prepared.country.data === undefined ? 'no country data is loaded' : 'the client is not known';
    return { country: null, network: null, text: shown };
  }
  return countryOf(client.address, origin, prepared);
}

function explainDestinations({ destinations = [] }: Subject, prepared: Prepared): ExplainedDestination[] {
  return destinations.map((each) => {
    const address = formatAddress(each);
    const origin = originOf(prepared.country, each);
    if (origin === undefined)
      return { address, country: null, network: null, text: `${address}: no country data is loaded` };
    return { address, ...countryOf(each, origin, prepared) };
  });
}

function explainAnswer({ destinations }: Policy, { request }: Subject, prepared: Prepared): ExplainedAnswer | null {
  const { destination, host } = request;
  if (!destinations.resolve || destination !== undefined || host === undefined) return null;
  const answer = answerFor(prepared.resolutions, host);
  return answer ? { host, seen: new Date(answer.seen).toISOString(), text: answerSentence(answer) } : null;
}

function countryOf(address: Address | undefined, origin: Origin, prepared: Prepared): ExplainedCountry {
  const source =
    origin.by === 'neither' || address === undefined ? undefined : networkTelling(prepared.country, address);
  const network = source ? formatRange(source.range) : null;
  const shown = address === undefined ? '' : formatAddress(address);
  return { country: origin.country, network, text: `${shown} is ${whereIs(origin, network)}` };
}

function whereIs({ country, by }: Origin, network: string | null): string {
  if (network === null)
    return country === 'private'
      ? 'in private or other special-purpose space, and in no network of the country data'
      : country === 'unknown'
        ? 'in no network of the country data'
        : `taken for ${countryPhrase(country)}`;
  return `in ${countryPhrase(country)}: ${by === 'correction' ? 'a correction' : 'the country data'} says so of ${network}`;
}
