import { formatAddress } from '@jade-fence/core/address';
import type { LiveDecision } from '@jade-fence/core/live';
import { type Notice, type NoticeFacts, noticeFacts, noticeProblem } from '@jade-fence/core/notice';
import type { Request } from '@jade-fence/core/request';
import { CHALLENGE_BITS, type Grants } from './grants.js';
import type { InForce } from './in-force.js';

/** A decision as it is sent. */
export interface DecisionBody {
  readonly revision: number;
  readonly verdict: LiveDecision['verdict'];
  readonly effect: LiveDecision['effect'];
  readonly policy: string | null;
  /** The rule that decided; null where it was the default, or no policy covers the request. */
  readonly rule: string | null;
  readonly tags: readonly string[];
  /** What to answer the client, where it is not let through. */
  readonly answer?: AnswerBody;
}

export interface AnswerBody {
  readonly status: number;
  /** The reference that the client is shown, by which the recorded decision is found. */
  readonly reference: string;
  /** Where to send the client. */
  readonly location?: string;
  /** What to show it, as problem details (RFC 9457). */
  readonly notice?: object;
  /** What would let it through: a yes, a passcode, or a number for which `SHA-256(seed:number)` begins with zeros. */
  readonly asks?: { readonly for: 'yes' } | { readonly for: 'passcode' } | AsksNumber;
}

interface AsksNumber {
  readonly for: 'number';
  readonly seed: string;
  readonly zeroBits: number;
}

/** The status of an answer that asks the client for something first. */
const ASKS = 403;

/** A request that was decided. */
export interface DecidedRequest {
  readonly request: Request;
  /** The reference that the client is shown, by which the recorded decision is found; undefined when it is let through. */
  readonly reference: string | undefined;
}

export type StoppedRequest = DecidedRequest & { readonly reference: string };

/** The bodies of decisions to let through: these say nothing of the request itself. */
const letThrough = new WeakMap<LiveDecision, { readonly revision: number; readonly text: string }>();

/** A decision as it is sent, in JSON. */
export function decisionText(
  inForce: InForce,
  decision: LiveDecision,
  { request, reference }: DecidedRequest,
  grants: Grants,
): string {
  const { revision } = inForce;
  if (reference !== undefined)
    return JSON.stringify({
      ...decisionBody(revision, decision),
      answer: answerOf(inForce, decision, { request, reference }, grants),
    });
  let known = letThrough.get(decision);
  if (known?.revision !== revision) {
    known = { revision, text: JSON.stringify(decisionBody(revision, decision)) };
    letThrough.set(decision, known);
  }
  return known.text;
}

function decisionBody(revision: number, { verdict, effect, policy, rule, tags }: LiveDecision): DecisionBody {
  return { revision, verdict, effect, policy: policy?.name ?? null, rule: rule?.name ?? null, tags };
}

/** What the client is to be answered. */
export function answerOf(
  inForce: InForce,
  decision: LiveDecision,
  stopped: StoppedRequest,
  grants: Grants,
): AnswerBody {
  const { action } = decision;
  const { request, reference } = stopped;
  if (action?.type === 'redirect') return { status: action.status, reference, location: action.to };
  const status = action?.type === 'block' ? action.status : ASKS;
  const asks = asksOf(inForce, decision, request, grants);
  const notice = noticeOf(inForce, decision);
  if (!notice) return { status, reference, ...asks };
  const shown = noticeProblem(notice, status, factsOf(inForce, decision, stopped));
  return { status: shown.status, reference, notice: shown, ...asks };
}

function asksOf(inForce: InForce, decision: LiveDecision, request: Request, grants: Grants): Pick<AnswerBody, 'asks'> {
  switch (decision.action?.type) {
    case 'confirm':
      return { asks: { for: 'yes' } };
    case 'unlock':
      return { asks: { for: 'passcode' } };
    case 'challenge': {
      const seed = grants.challenge(ruleName(decision), clientName(inForce, decision, request), Date.now());
      return { asks: { for: 'number', seed, zeroBits: CHALLENGE_BITS } };
    }
    default:
      return {};
  }
}

/** The rule that decided, as `policy/rule`. */
export const ruleName = ({ policy, rule }: LiveDecision): string => `${policy?.name}/${rule?.name ?? 'default'}`;

/** The client as the policy resolves it; empty where it is not known. */
export function clientName({ live }: InForce, { policy }: LiveDecision, request: Request): string {
  const address = policy && live.clientOf(request, policy).address;
  return address ? formatAddress(address) : '';
}

function noticeOf(inForce: InForce, { action }: LiveDecision): Notice | undefined {
  return noticeNamed(inForce, action && 'notice' in action ? action.notice?.name : undefined);
}

/** A notice of the rules in force, by its name. */
export const noticeNamed = ({ live }: InForce, name: string | undefined): Notice | undefined =>
  name === undefined ? undefined : live.prepared.workspace.notices.get(name);

/** What a notice can say of a request that was stopped. */
export function factsOf(
  { live }: InForce,
  { policy, rule }: LiveDecision,
  { request, reference }: StoppedRequest,
): NoticeFacts {
  const { address, country } = policy ? live.clientOf(request, policy) : { address: request.peer, country: undefined };
  return noticeFacts({
    ...{ host: request.host, path: request.path, client: address && formatAddress(address), country },
    ...{ policy: policy?.name, rule: rule?.name, now: Date.now(), reference },
  });
}
