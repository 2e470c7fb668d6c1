import type { LiveDecision } from '@jade-fence/core/live';
import { type NoticeFacts, noticeHtml, noticeProblem } from '@jade-fence/core/notice';
import type { FinalAction } from '@jade-fence/core/policy';
import type { Request } from '@jade-fence/core/request';
import { escapeHtml } from '@jade-fence/core/text';
import {
  type AnswerBody,
  answerOf,
  clientName,
  factsOf,
  noticeNamed,
  ruleName,
  type StoppedRequest,
} from '../../live/answer.js';
import { CHALLENGE_BITS, type Grants } from '../../live/grants.js';
import type { InForce } from '../../live/in-force.js';

/** For so long the address of a notice holds. */
const HOLDS_MS = 10 * 60_000;
/** Longer targets are not gone back to, since the address would not fit into a header. */
const LONGEST_BACK = 1500;

/** What a stopped client sees. Its sealed address holds all of it, so that nothing else needs to be kept. */
export interface Stopped {
  readonly status: number;
  readonly location: string | undefined;
  /** The rule that stopped it, as `policy/rule`, and its notice. */
  readonly rule: string;
  readonly notice: string | undefined;
  readonly facts: NoticeFacts;
  readonly client: string;
  /** Where to go back to once what is asked is given. */
  readonly back: string;
  readonly secure: boolean;
}

/** What stopped a request, ready to be shown. */
export function stoppedBy(
  inForce: InForce,
  decision: LiveDecision,
  given: StoppedRequest,
  grants: Grants,
): { readonly stopped: Stopped; readonly answer: AnswerBody } {
  const answer = answerOf(inForce, decision, given, grants);
  const { action } = decision;
  const { request } = given;
  const stopped: Stopped = {
    status: answer.status,
    location: answer.location,
    rule: ruleName(decision),
    notice: action && 'notice' in action ? action.notice?.name : undefined,
    facts: factsOf(inForce, decision, given),
    client: clientName(inForce, decision, request),
    back: backTo(request),
    secure: request.scheme === 'https',
  };
  return { stopped, answer };
}

/** The path and query of the request, where a browser takes them for a place on the same site. */
function backTo({ path = '/', query = '' }: Request): string {
  const encoded = encodeURI(path).replace(/%25(2F|5C|25|3F|23)/gi, '%$1');
  const target = query === '' ? encoded : `${encoded}?${query}`;
  return /^\/(?![/\\])[\x21-\x7e]*$/.test(target) && target.length <= LONGEST_BACK ? target : '/';
}

/** A text that holds what a stopped client is shown, signed, for ten minutes. */
export const sealStopped = (grants: Grants, stopped: Stopped): string =>
  grants.seal('notice', { ...stopped, until: Date.now() + HOLDS_MS });

/** What the sealed text says; undefined where it is none of ours, or is over. */
export function openStopped(grants: Grants, sealed: string): Stopped | undefined {
  const found = grants.open('notice', sealed) as (Stopped & { readonly until: number }) | undefined;
  return found !== undefined && found.until > Date.now() ? found : undefined;
}

/** What the rule that stopped it does, as it is in force now. */
export function actionOf({ live }: InForce, { rule }: Stopped): FinalAction | undefined {
  const [policyName = '', name] = rule.split('/');
  const policy = live.prepared.workspace.policies.get(policyName);
  const then = name === 'default' ? policy?.default : policy?.rules.find((each) => each.name === name)?.then;
  return then?.type === 'tag' ? undefined : then;
}

/** A stopped request as problem details. */
export function stoppedProblem(inForce: InForce, { notice, status, facts }: Stopped): object | undefined {
  const found = noticeNamed(inForce, notice);
  return found && noticeProblem(found, status, facts);
}

const PLAIN = { type: 'notice', name: '', file: '', note: undefined, status: undefined, contact: undefined } as const;
const TITLES: Readonly<Record<string, string>> = {
  confirm: 'Do you want to go on?',
  unlock: 'This page requires a passcode',
  challenge: 'One moment',
};

/** The page of a stopped request, with the form for a yes, a passcode or a number; `wrong`: the last one was wrong. */
export function stoppedPage(
  inForce: InForce,
  stopped: Stopped,
  { grants, sealed, wrong }: { readonly grants: Grants; readonly sealed: string; readonly wrong: boolean },
): { readonly html: string; readonly scriptNonce: string | undefined } {
  const action = actionOf(inForce, stopped);
  const title = TITLES[action?.type ?? ''] ?? 'This page is not open to you';
  const notice = noticeNamed(inForce, stopped.notice) ?? { ...PLAIN, title, text: 'The rules of this site say so.' };
  const page = noticeHtml(notice, stopped.facts);
  const form = formFor(action, stopped, grants, sealed, wrong);
  const html = form === undefined ? page : page.replace('</main>', () => `${form.html}</main>`);
  return { html, scriptNonce: form?.nonce };
}

interface Form {
  readonly html: string;
  readonly nonce?: string;
}

function formFor(
  action: FinalAction | undefined,
  { rule, client }: Stopped,
  grants: Grants,
  sealed: string,
  wrong: boolean,
): Form | undefined {
  const form = (inner: string) =>
    `<form method="post" action="/.jade-fence/notice/${encodeURIComponent(sealed)}">${inner}</form>`;
  switch (action?.type) {
    case 'confirm':
      return { html: form('<button name="yes" value="true">Go on</button>') };
    case 'unlock': {
      const shown = wrong ? '<p role="alert">That is not the passcode.</p>' : '';
      const field = '<label>Passcode <input name="passcode" type="password" autocomplete="off" required></label>';
      return { html: form(`${shown}${field} <button>Go on</button>`) };
    }
    case 'challenge': {
      const seed = escapeHtml(grants.challenge(rule, client, Date.now()));
      const nonce = seed.slice(0, 22);
      const solver = `<script nonce="${nonce}" data-seed="${seed}" data-bits="${CHALLENGE_BITS}">${SOLVER}</script>`;
      return {
        html: `${form('<input type="hidden" name="number"><noscript>This needs a browser that runs scripts.</noscript>')}${solver}`,
        nonce,
      };
    }
    default:
      return undefined;
  }
}

/** Looks for the number that the challenge requires, and sends it. */
const SOLVER = `const{seed,bits}=document.currentScript.dataset;const form=document.querySelector('form');(async()=>{for(let number=0;;number++){const hash=await crypto.subtle.digest('SHA-256',new TextEncoder().encode(seed+':'+number));if(new DataView(hash).getUint32(0)>>>(32-Number(bits))!==0)continue;form.elements.number.value=number;form.submit();return}})();`;
