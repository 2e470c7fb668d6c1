import {
  type Condition,
  type Field,
  fieldName,
  formatTerm,
  type Term,
  type Test,
  valuesOf,
} from '../condition/index.js';
import { parseHost } from '../domain/index.js';
import { conditionsHold, createRouter, type Prepared, pathsOf, type Subject } from '../engine/index.js';
import type { Policy, Rule } from '../policy/index.js';
import { makeRequest, type Request } from '../request/index.js';
import { normalPath } from '../url/index.js';
import { testCovers } from './cover/test.js';
import { type Finding, ruleFinding } from './finding.js';

/** The fields of a request that depend on its target. */
const TARGET_FIELDS: readonly Field[] = [
  ...(['host', 'path', 'url', 'category', 'application', 'scheme', 'port', 'query', 'method'] as const),
];

/** The fields that depend on the client only: a redirected request and the one that follows have the same. */
const CLIENT_FIELDS: readonly Field[] = ['client', 'peer', 'country', 'user', 'group', 'time'];
/** Longer chains of redirects are not followed; no browser does. */
const MOST_HOPS = 20;

/**
 * Finds redirects whose target is stopped, by the same policy or the one that covers the target, or sends back: the client
 * that is sent there is refused, or sent on and on.
 */
export function reviewRedirects(policy: Policy, prepared: Prepared): Finding[] {
  return policy.rules.flatMap((rule) => {
    if (rule.then.type !== 'redirect' || rule.stance === 'off') return [];
    const { to, status } = rule.then;
    const conditions = rule.when.length === 0 ? [[]] : rule.when;
    const stops = conditions.map((known) =>
      stopOf({ policy, to, keepsMethod: keepsMethod(status), from: rule, known, prepared, seen: [] }),
    );
    const [first] = stops;
    // The target must be stopped for everyone, whichever condition sent them.
    if (first === undefined || stops.includes(undefined)) return [];
    const partly = stops.find((stop) => stop?.unless !== undefined)?.unless;
    return [finding(policy, rule, to, { ...first, unless: partly })];
  });
}

/** The reason why a target is stopped, or is sent in a circle. */
interface Stop {
  readonly policy: Policy;
  /** Undefined: the policy's default. */
  readonly rule: Rule | undefined;
  readonly isCircle: boolean;
  /** A rule that may let some clients through before; undefined: there is none. */
  readonly unless: string | undefined;
}

function finding(policy: Policy, rule: Rule, to: string, stop: Stop): Finding {
  const { host = '', path = '/' } = requestFor(to) as Request;
  const isOwn = stop.policy === policy;
  const by = stop.rule === rule ? 'the rule itself' : stop.rule === undefined ? 'the default' : `\`${stop.rule.name}\``;
  const where = isOwn ? by : `${by} of \`${stop.policy.name}\``;
  const when = { host: [host], path: [path] };
  // A rule that is about nothing but its own target would have nothing left to do.
  const isEmptied = isAboutTarget(rule, { host, path });
  const edit = isEmptied
    ? `Say which requests \`${rule.name}\` is for, such as \`scheme: http\`, or send them elsewhere`
    : isOwn
      ? `Add a rule at the top that allows ${host}${path}, or except it: \`unless: {host: [${host}]}\``
      : `Add a rule at the top of \`${stop.policy.name}\` that allows ${host}${path}`;
  const sends = stop.rule?.then.type === 'redirect' && stop.rule !== rule;
  const does = sends ? (stop.isCircle ? 'sends back' : 'sends on to where it is stopped') : 'stops';
  const but = stop.unless === undefined ? '' : `, but for whom \`${stop.unless}\` lets through`;
  return ruleFinding('redirect-stopped', stop.unless === undefined ? 'warning' : 'note', policy.name, rule.name, {
    what: `\`${rule.name}\` sends to ${to}, which ${where} ${does}${but}`,
    reason: stop.isCircle
      ? 'The target comes back to the rule, so the client goes in a circle'
      : 'A page that the refused are sent to must not be refused',
    edit,
    ...(isOwn &&
      !isEmptied && {
        mend: { type: 'allow-first', rule: nameFor(policy, `reach-${host.replaceAll('.', '-')}`), when } as const,
      }),
  });
}

/** Whether all that the rule matches is the target itself. */
function isAboutTarget({ when }: Rule, { host, path }: { readonly host: string; readonly path: string }): boolean {
  const asksOnly = (condition: Condition, field: Field, text: string) =>
    condition.some(
      (test) =>
        test.field === field &&
        valuesOf(test).every((value) => value.type !== 'not' && formatTerm(value as Term) === text),
    );
  return (
    when.length > 0 &&
    when.every(
      (each) =>
        (asksOnly(each, 'host', host) && asksOnly(each, 'path', path)) || asksOnly(each, 'url', `${host}${path}`),
    )
  );
}

/** The name, or one after it that no rule of the policy has. */
function nameFor({ rules }: Policy, name: string): string {
  const taken = new Set(rules.map((rule) => rule.name));
  let free = name;
  for (let number = 2; taken.has(free); number++) free = `${name}-${number}`;
  return free;
}

interface Sent {
  /** The policy whose rule sends to the target. */
  readonly policy: Policy;
  readonly to: string;
  readonly keepsMethod: boolean;
  /** The rule that sends first, and the condition by which it matched: all that is known of the client. */
  readonly from: Rule;
  readonly known: Condition;
  readonly prepared: Prepared;
  /** The targets before this one. */
  readonly seen: readonly string[];
}

/** The rule that certainly stops everyone at the target; undefined when some or all get through. */
function stopOf(sent: Sent): Stop | undefined {
  const { to, from, prepared, seen } = sent;
  const request = requestFor(to, sent.keepsMethod);
  if (request === undefined || seen.length > MOST_HOPS) return undefined;
  const policy = coveringPolicy(sent.policy, request, prepared);
  if (policy === undefined || (policy !== sent.policy && policy.stance !== 'enforce')) return undefined;
  const outcomes = outcomesOf(policy, request, sent);
  const stops = outcomes.map((rule): Stop | undefined => {
    const action = rule?.then ?? policy.default;
    if (action.type === 'allow') return undefined;
    if (action.type !== 'redirect') return { policy, rule, isCircle: false, unless: undefined };
    if (rule === from || action.to === to || seen.includes(action.to))
      return { policy, rule, isCircle: true, unless: undefined };
    const keeps = sent.keepsMethod && keepsMethod(action.status);
    const onward = stopOf({ ...sent, policy, to: action.to, keepsMethod: keeps, seen: [...seen, to] });
    // The first one is reported.
    return onward && { ...onward, policy, rule };
  });
  const last = stops.at(-1);
  if (last === undefined) return undefined;
  const through = outcomes.find((_, at) => stops[at] === undefined);
  const found = stops.filter((stop) => stop !== undefined);
  const unless = through?.name ?? found.find((stop) => stop.unless !== undefined)?.unless;
  return { ...(through === undefined ? (found[0] as Stop) : last), unless };
}

/** Whether a browser keeps the method when it follows the redirect (RFC 9110, section 15.4). */
const keepsMethod = (status: number): boolean => status === 307 || status === 308;

/** The rules that may decide the target, the last of them for sure if none before does; undefined is the default. */
function outcomesOf(policy: Policy, request: Request, { from, known, prepared }: Sent): (Rule | undefined)[] {
  const found: Rule[] = [];
  const place = policy.rules.indexOf(from);
  for (const [index, rule] of policy.rules.entries()) {
    if (rule.stance !== 'enforce' || rule.then.type === 'tag') continue;
    // Had it been for this client, the request would not have come to the rule that sends.
    if (index < place && isOfClient(rule)) continue;
    const holds = ruleHolds(policy, rule, from, known, request, prepared);
    if (holds === 'no') continue;
    found.push(rule);
    if (holds === 'yes' && rule.limit === undefined) return found;
  }
  return [...found, undefined];
}

const isOfClient = ({ when, unless, limit, ifBlind }: Rule): boolean =>
  limit === undefined &&
  ifBlind !== 'match' &&
  [...when, ...unless].flat().every(({ field }) => CLIENT_FIELDS.includes(field));

/** The policy that a target goes to: the one that covers its host, or the same, where that covers clients. */
function coveringPolicy(own: Policy, { host }: Request, prepared: Prepared): Policy | undefined {
  const byHost = host === undefined ? undefined : createRouter(prepared).byHost(host);
  if (byHost) return byHost;
  return own.covers.clients.length > 0 || own.covers.hosts.length === 0 ? own : undefined;
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
      ? of(rule.unless.filter((each) => !each.every((test) => CLIENT_FIELDS.includes(test.field))))
      : of(rule.unless);
  if (when === 'no' || unless === 'yes') return 'no';
  return when === 'maybe' || unless === 'maybe' ? 'maybe' : 'yes';
}

/** Tests of the target are judged on it; the others hold where the redirect's own condition says so. */
function holdsOn(policy: Policy, condition: Condition, known: Condition, request: Request, prepared: Prepared): Holds {
  const found = condition.map((test): Holds => {
    const isKept = test.field === 'method' && request.method === undefined;
    if (TARGET_FIELDS.includes(test.field) && !isKept) {
      const { holds } = conditionsHold([[test]], { subject: bare(request, policy), tags: new Set(), prepared });
      return holds === 'match' ? 'yes' : holds === 'no match' ? 'no' : 'maybe';
    }
    const own = known.find((each) => fieldName(each) === fieldName(test));
    if (own === undefined || !(isKept || CLIENT_FIELDS.includes(test.field))) return 'maybe';
    if (testCovers(test, own, prepared, policy)) return 'yes';
    const none = negated(test);
    return none && testCovers(none, own, prepared, policy) ? 'no' : 'maybe';
  });
  return found.includes('no') ? 'no' : found.includes('maybe') ? 'maybe' : 'yes';
}

/** The test that holds where this one does not; undefined where no test says that. */
function negated(test: Test): Test | undefined {
  const values = valuesOf(test);
  const [first] = values;
  if (values.length === 1 && first?.type === 'not') return { ...test, values: first.values } as Test;
  if (values.some(({ type }) => type === 'not')) return undefined;
  return { ...test, values: [{ type: 'not', values }] } as unknown as Test;
}

const bare = (request: Request, { paths }: Policy): Subject => ({
  request,
  client: { address: undefined, source: 'peer', how: 'no-peer' },
  origin: undefined,
  destinations: undefined,
  destinationCountries: undefined,
  resolves: false,
  ...pathsOf(request, paths),
});

/** The request of a browser that follows a redirect; no method when it keeps the old one. */
function requestFor(to: string, keepsMethod = false): Request | undefined {
  const url = new URL(to);
  const host = parseHost(url.hostname);
  if (host === undefined) return undefined;
  const port = url.port === '' ? undefined : Number(url.port);
  const scheme = url.protocol.slice(0, -1);
  const method = keepsMethod ? undefined : 'GET';
  return makeRequest({ method, scheme, host, port, path: normalPath(url.pathname), query: url.search.slice(1) });
}
