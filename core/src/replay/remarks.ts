import type { ClientHow } from '../request/index.js';
import type { PolicyReport, Remark, RuleReport, UnresolvedHosts } from './report.js';
import type { ClientDoubts, ForwarderCount } from './tally/forwarders.js';

type Figures = Omit<PolicyReport, 'remarks'>;

/** Remarks for the writer of a policy, from the figures of its rules, rule by rule. */
export function remarksOf(policy: Figures): Remark[] {
  return policy.rules
    .filter((rule) => rule.stance !== 'off')
    .flatMap((rule) => [...effectOf(rule, policy), ...blindness(rule)]);
}

/** Fewer requests than this may be chance, or somebody who tries. */
const LEAST_CARRYING = 5;
const MOST_NAMED = 5;

/** Reasons to doubt that a policy judged the right clients. */
export function clientRemarks(from: PolicyReport['clientFrom'], { forwarders, unseen }: ClientDoubts): Remark[] {
  return [
    ...forwarders
      .filter(({ carrying }) => carrying >= LEAST_CARRYING)
      .slice(0, MOST_NAMED)
      .map((each) => forgottenProxy(from, each)),
    ...Object.entries(unseen).map(
      ([how, count]): Remark => ({
        rule: null,
        code: 'client-unseen',
        text: `The client of ${count === 1 ? 'one request' : `${count.toLocaleString('en')} requests`} is not seen, and so neither is its country: ${WHY_UNSEEN[how as ClientHow] ?? 'the log does not have it'}.`,
      }),
    ),
  ];
}

/** What is missing to know where requests went. */
export function destinationRemarks({ requests, hosts, most }: UnresolvedHosts): Remark[] {
  const [first] = most;
  if (first === undefined) return [];
  const others = hosts === 1 ? '' : ` and ${counted(hosts - 1, 'other host')}`;
  const text = `Of ${counted(requests, 'request')} it is not known where they went: no address of \`${first.host}\`${others} is known. Resolve them with \`jade-fence resolve run --log LOG\`, or load resolutions from a file.`;
  return [{ rule: null, code: 'unresolved', text }];
}

const counted = (count: number, noun: string): string =>
  count === 1 ? `one ${noun}` : `${count.toLocaleString('en')} ${noun}s`;

function forgottenProxy(from: PolicyReport['clientFrom'], { address, header, carrying }: ForwarderCount): Remark {
  const remedy =
    from === 'peer' ? `write \`client: {from: forwarded, trust: [${address}]}\`` : `add \`${address}\` to \`trust\``;
  const taken = from === 'peer' ? 'takes the peer for the client' : 'does not trust it';
  return {
    rule: null,
    code: 'forgotten-proxy',
    text: `All ${carrying.toLocaleString('en')} requests from \`${address}\` name several clients in \`${header}\`, and the policy ${taken}: they are judged as if \`${address}\` had made them. If it is your own proxy, ${remedy}.`,
    address,
  };
}

const WHY_UNSEEN: Readonly<Partial<Record<ClientHow, string>>> = {
  'header-not-logged': 'the peer is a trusted proxy, and the log does not have the header that names the client',
  'unreadable-hop': 'a trusted proxy names no address that can be read',
  'headers-disagree': '`forwarded` and `x-forwarded-for` name different clients; name the header that your proxies set',
};

function effectOf(rule: RuleReport, policy: Figures): Remark[] {
  if (rule.decided > 0 || rule.observed > 0 || rule.tagged > 0) return [];
  if (rule.overtaken > 0 && rule.limit === null)
    return [{ rule: rule.rule, code: 'always-overtaken', text: overtakenSentence(rule, policy) }];
  if (rule.blind > 0 || policy.requests === 0) return [];
  const shown = rule.limit === null ? 'matched no request of this log' : 'was never exceeded in this log';
  return [{ rule: rule.rule, code: 'no-match', text: `\`${rule.rule}\` ${shown}.` }];
}

function overtakenSentence(rule: RuleReport, { rules }: Figures): string {
  const by = rule.overtakenBy.map((each) => `\`${each.rule}\``);
  const shown = `\`${rule.rule}\` decided nothing: ${requests(rule.overtaken)} it, and ${by.slice(0, 3).join(', ')} above had decided`;
  const contrary = rules.find(
    (each) => each.then !== rule.then && rule.overtakenBy.some(({ rule: name }) => name === each.rule),
  );
  const remedy = contrary
    ? `To let it act, move it above \`${contrary.rule}\`.`
    : 'They decide the same, so nothing is lost.';
  return `${shown}. ${remedy}`;
}

function blindness(rule: RuleReport): Remark[] {
  if (rule.blind === 0) return [];
  const fields = rule.unseen.map(({ field }) => field).join(' and ');
  const count = rule.blind === 1 ? 'one request, which does' : `${rule.blind.toLocaleString('en')} requests, which do`;
  return [
    {
      rule: rule.rule,
      code: 'blind',
      text: `\`${rule.rule}\` could not be judged on ${count} not show the ${fields}.`,
    },
  ];
}

const requests = (count: number): string =>
  count === 1 ? 'one request matches' : `${count.toLocaleString('en')} requests match`;
