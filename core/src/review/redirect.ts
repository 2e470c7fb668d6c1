import { type Condition, type Field, fieldName } from '../condition/index.js';
import { parseHost, patternMatches } from '../domain/index.js';
import { conditionsHold, type Prepared, pathsOf, type Subject } from '../engine/index.js';
import { coveredHosts, type Policy, type Rule } from '../policy/index.js';
import { makeRequest, type Request } from '../request/index.js';
import { normalPath } from '../url/index.js';
import { testCovers } from './cover/test.js';
import { type Finding, ruleFinding } from './finding.js';

/** What of a request hangs on where it goes. */
const TARGET_FIELDS: readonly Field[] = ['host', 'path', 'url', 'category', 'scheme', 'port', 'query'];

/** Finds redirects whose target the same policy stops: the client that is sent there is refused, or sent on and on. */
export function reviewRedirects(policy: Policy, prepared: Prepared): Finding[] {
  return policy.rules.flatMap((rule) => {
    if (rule.then.type !== 'redirect' || rule.stance === 'off') return [];
    const request = requestFor(rule.then.to);
    if (request === undefined || !isCovered(policy, request, prepared)) return [];
    const stopping =
      rule.when.length === 0 ? stops(policy, rule, [], request, prepared) : allStop(policy, rule, request, prepared);
    if (stopping === undefined) return [];
    const by = stopping === 'default' ? 'the default' : stopping === rule.name ? 'the rule itself' : `\`${stopping}\``;
    return [
      ruleFinding('redirect-stopped', 'warning', policy.name, rule.name, {
        what: `\`${rule.name}\` sends to ${rule.then.to}, which ${by} stops`,
        reason:
          stopping === rule.name
            ? 'The target matches the rule again, so the client goes in a circle'
            : 'A page that the refused are sent to must not be refused',
        edit: `Add a rule at the top that allows ${request.host}${request.path}, or except it: \`unless: {host: [${request.host}]}\``,
        mend: {
          type: 'allow-first',
          rule: nameFor(policy, `reach-${request.host?.replaceAll('.', '-')}`),
          when: { host: [request.host ?? ''], path: [request.path ?? '/'] },
        },
      }),
    ];
  });
}

/** The name, or one after it that no rule of the policy has. */
function nameFor({ rules }: Policy, name: string): string {
  const taken = new Set(rules.map((rule) => rule.name));
  let free = name;
  for (let number = 2; taken.has(free); number++) free = `${name}-${number}`;
  return free;
}

/** The rule that stops the target whatever condition the redirect came from. */
function allStop(policy: Policy, rule: Rule, request: Request, prepared: Prepared): string | undefined {
  const found = rule.when.map((condition) => stops(policy, rule, condition, request, prepared));
  return found.every((each) => each !== undefined) ? found[0] : undefined;
}

/** The first rule that decides the target for a client that matched the condition, if it stops it and that is sure. */
function stops(
  policy: Policy,
  from: Rule,
  condition: Condition,
  request: Request,
  prepared: Prepared,
): string | undefined {
  for (const rule of policy.rules) {
    if (rule.stance !== 'enforce' || rule.then.type === 'tag') continue;
    const holds = ruleHolds(policy, rule, from, condition, request, prepared);
    if (holds === 'no') continue;
    if (holds === 'maybe' || rule.limit !== undefined) return undefined;
    return rule.then.type === 'allow' ? undefined : rule.name;
  }
  return policy.default.type === 'allow' ? undefined : 'default';
}

type Holds = 'yes' | 'no' | 'maybe';

function ruleHolds(
  policy: Policy,
  rule: Rule,
  from: Rule,
  condition: Condition,
  request: Request,
  prepared: Prepared,
): Holds {
  const of = (conditions: readonly Condition[]): Holds => {
    const found = conditions.map((each) => holdsOn(policy, each, condition, request, prepared));
    return found.includes('yes') ? 'yes' : found.includes('maybe') ? 'maybe' : 'no';
  };
  const when = rule.when.length === 0 ? 'yes' : of(rule.when);
  const unless =
    rule === from
      ? of(rule.unless.filter((each) => each.some((test) => TARGET_FIELDS.includes(test.field))))
      : of(rule.unless);
  if (when === 'no' || unless === 'yes') return 'no';
  return when === 'maybe' || unless === 'maybe' ? 'maybe' : 'yes';
}

/** Tests of the target are judged on it; the others hold where the redirect's own condition says so. */
function holdsOn(policy: Policy, condition: Condition, known: Condition, request: Request, prepared: Prepared): Holds {
  const found = condition.map((test): Holds => {
    if (TARGET_FIELDS.includes(test.field)) {
      const { holds } = conditionsHold([[test]], { subject: bare(request, policy), tags: new Set(), prepared });
      return holds === 'match' ? 'yes' : holds === 'no match' ? 'no' : 'maybe';
    }
    return known.some((own) => fieldName(own) === fieldName(test) && testCovers(test, own, prepared, policy.paths))
      ? 'yes'
      : 'maybe';
  });
  return found.includes('no') ? 'no' : found.includes('maybe') ? 'maybe' : 'yes';
}

const bare = (request: Request, { paths }: Policy): Subject => ({
  request,
  client: { address: undefined, source: 'peer', how: 'no-peer' },
  origin: undefined,
  ...pathsOf(request, paths),
});

function requestFor(to: string): Request | undefined {
  const url = new URL(to);
  const host = parseHost(url.hostname);
  if (host === undefined) return undefined;
  const port = url.port === '' ? undefined : Number(url.port);
  const scheme = url.protocol.slice(0, -1);
  return makeRequest({ method: 'GET', scheme, host, port, path: normalPath(url.pathname), query: url.search.slice(1) });
}

/** Whether the target goes through this policy at all: an inbound one speaks for its own hosts alone. */
function isCovered(policy: Policy, { host }: Request, { workspace, at }: Prepared): boolean {
  if (policy.covers.clients.length > 0 || policy.covers.hosts.length === 0) return true;
  return coveredHosts(policy, workspace.lists, at).some(({ pattern }) => patternMatches(pattern, host as string));
}
