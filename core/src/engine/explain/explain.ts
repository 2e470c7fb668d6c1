import { formatAddress, formatRange } from '../../address/index.js';
import { type Condition, type Policy, type Rule, ruleSentence, tellCountry } from '../../policy/index.js';
import type { Decision, RuleOutcome } from '../decision.js';
import type { Prepared } from '../prepared.js';
import { evaluate } from '../reference/evaluate.js';
import type { Subject } from '../subject.js';
import type {
  ExplainedClient,
  ExplainedCondition,
  ExplainedCountry,
  ExplainedRule,
  Explanation,
  Holds,
} from './explanation.js';
import { explainTest } from './test.js';

/** Tells the whole story of one request under one policy. */
export function explain(policy: Policy, subject: Subject, prepared: Prepared): Explanation {
  const decision = evaluate(policy, subject, prepared);
  const decidedBy = policy.rules[decision.decidedBy]?.name ?? null;
  const rules = policy.rules.map((rule, index) =>
    explainRule(rule, decision.outcomes[index] as RuleOutcome, decidedBy, subject, prepared),
  );
  return {
    policy: policy.name,
    stance: policy.stance,
    verdict: decision.verdict,
    effect: decision.effect,
    decidedBy,
    summary: summarise(decision, rules),
    client: explainClient(subject),
    country: explainCountry(subject, prepared),
    rules,
  };
}

function summarise(decision: Decision, rules: readonly ExplainedRule[]): string {
  const done = decision.verdict === 'block' ? 'Blocked' : 'Allowed';
  const rule = rules[decision.decidedBy];
  const by = rule ? `by rule ${rule.rule}` : `by the default of ${decision.policy.name}`;
  const why = rule ? whyOf(rule) : ', since no rule matched';
  const effect =
    decision.effect === decision.verdict ? '' : ` The policy does not enforce, so the request is let through.`;
  return `${done} ${by}${why}.${effect}`;
}

/** Because of what the rule matched. */
function whyOf(rule: ExplainedRule): string {
  if (rule.unseen.length > 0)
    return `, which takes what it cannot judge: the request does not show its ${rule.unseen.join(' and ')}`;
  const matching = rule.when.find((condition) => condition.holds === 'match');
  if (matching === undefined) return ', which matches every request';
  return `, because ${matching.tests.map((test) => `${test.field} ${test.because}`).join(' and ')}`;
}

function explainRule(
  rule: Rule,
  outcome: RuleOutcome,
  decidedBy: string | null,
  subject: Subject,
  prepared: Prepared,
): ExplainedRule {
  const conditions = (all: readonly Condition[]) => all.map((each) => explainCondition(each, subject, prepared));
  const when = conditions(rule.when);
  const unless = conditions(rule.unless);
  return {
    rule: rule.name,
    sentence: ruleSentence(rule),
    stance: rule.stance,
    then: rule.then,
    role: outcome.role,
    told: outcome.role === 'passed' ? tellPassed(when, unless) : tellOutcome(rule, outcome, decidedBy),
    unseen: outcome.unseen,
    when,
    unless,
  };
}

function explainCondition(condition: Condition, subject: Subject, prepared: Prepared): ExplainedCondition {
  const tests = condition.map((test) => explainTest(test, subject, prepared));
  const some = (holds: Holds) => tests.some((test) => test.holds === holds);
  return { holds: some('no match') ? 'no match' : some('unseen') ? 'unseen' : 'match', tests };
}

function tellOutcome(rule: Rule, { role, unseen }: RuleOutcome, decidedBy: string | null): string {
  const hidden = unseen.length > 0 ? `the request does not show its ${unseen.join(' and ')}` : undefined;
  const matches = hidden === undefined ? 'Matches' : `Takes what it cannot judge (${hidden})`;
  switch (role) {
    case 'decided':
      return `${matches}, and decides: ${rule.then}.`;
    case 'observed':
      return `${matches}, and only observes; it would ${rule.then}.`;
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
function tellPassed(when: readonly ExplainedCondition[], unless: readonly ExplainedCondition[]): string {
  const exception = unless.find((condition) => condition.holds === 'match');
  if (exception && when.every((condition) => condition.holds !== 'no match'))
    return `Excepted: ${exception.tests.map((test) => `${test.field} ${test.because}`).join(' and ')}.`;
  const failing = when.flatMap((condition) => condition.tests.filter((test) => test.holds === 'no match').slice(0, 1));
  return `Does not match: ${failing.map((test) => `${test.field} ${test.because}`).join(', nor ')}.`;
}

function explainClient({ request, client }: Subject): ExplainedClient {
  const address = client.address === undefined ? null : formatAddress(client.address);
  const peer = request.peer === undefined ? null : formatAddress(request.peer);
  const base = { address, peer, source: client.source, how: client.how };
  switch (client.how) {
    case 'peer':
      return { ...base, told: `${address} is the peer of the connection` };
    case 'header':
      return {
        ...base,
        told: `${address} is taken from ${client.source}, which the trusted proxy ${peer} vouches for`,
      };
    case 'untrusted-peer':
      return { ...base, told: `${address} is the peer; it is no trusted proxy, so its forwarding header is ignored` };
    case 'malformed-hop':
      return { ...base, told: `${address} is the last hop of ${client.source} that can be read` };
    case 'headers-disagree':
      return { ...base, told: `${client.source} tell different clients; name the one header that your proxies set` };
    case 'no-peer':
      return { ...base, told: 'the request does not tell where it came from' };
  }
}

function explainCountry({ client, origin }: Subject, prepared: Prepared): ExplainedCountry {
  if (origin === undefined) {
    const told = prepared.countryData === undefined ? 'no country data is loaded' : 'the client is not known';
    return { country: null, network: null, told };
  }
  const address = client.address === undefined ? '' : formatAddress(client.address);
  const network = origin.network ? formatRange(origin.network.range) : null;
  const told = network
    ? `${address} is in ${tellCountry(origin.country)}: the country data says so of ${network}`
    : origin.country === 'private'
      ? `${address} is in private or other special-purpose space, and in no network of the country data`
      : `${address} is in no network of the country data`;
  return { country: origin.country, network, told };
}
