import { conditionSentence, exceptionSentence, formatAmount, inWords } from '../condition/index.js';
import { formatKeyPart, type Limit } from '../limit/index.js';
import { tellDuration } from '../text/index.js';
import type { Action } from './action.js';
import type { Policy, Rule, Stance } from './policy.js';

/** What the rule does, in one sentence of plain language. */
export function ruleSentence(rule: Rule): string {
  const whom = rule.when.length === 0 ? 'every request' : conditionSentence(rule.when);
  const exception = rule.unless.length === 0 ? '' : `, unless ${exceptionSentence(rule.unless)}`;
  const limit = rule.limit === undefined ? '' : `, ${limitPhrase(rule.limit)}`;
  const blind = rule.ifBlind === 'match' ? ', and those for which this cannot be seen' : '';
  const { verb, behind } = actionWords(rule.then);
  return `${lead(rule.stance, verb)} ${whom}${exception}${limit}${blind}${behind}${STANCE_REMARKS[rule.stance]}${RECORD_REMARKS[rule.record]}.`;
}

/** What becomes of requests that no rule decides. */
export function defaultSentence(policy: Policy): string {
  const { verb, behind } = actionWords(policy.default);
  return `${capital(verb)} every request that no rule above has decided${behind}.`;
}

/** «block», «redirect … to https://…»: what an action does, around what it does it to. */
function actionWords(action: Action): { readonly verb: string; readonly behind: string } {
  switch (action.type) {
    case 'allow':
      return { verb: 'allow', behind: '' };
    case 'block': {
      const status = action.status === 403 ? '' : `, with status ${action.status}`;
      return { verb: 'block', behind: `${status}${noticePhrase(action)}` };
    }
    case 'redirect':
      return { verb: 'redirect', behind: `, to ${action.to}` };
    case 'challenge':
      return { verb: 'challenge', behind: noticePhrase(action) };
    case 'confirm':
      return { verb: 'ask to confirm', behind: `; a yes lasts ${tellDuration(action.lasts)}${noticePhrase(action)}` };
    case 'unlock':
      return {
        verb: `ask for the passcode \`${action.passcode}\` on`,
        behind: `; it lasts ${tellDuration(action.lasts)}${noticePhrase(action)}`,
      };
    case 'tag':
      return {
        verb: `tag as ${inWords(
          action.tags.map((tag) => `\`${tag}\``),
          'and',
        )}`,
        behind: '',
      };
  }
}

const noticePhrase = (action: Action): string =>
  'notice' in action && action.notice ? `, and show \`${action.notice.name}\`` : '';

/** The action in a word or few: `block`, `tag as curator`. */
export function actionPhrase(action: Action): string {
  return action.type === 'tag' ? `tag as ${action.tags.join(' and ')}` : action.type;
}

function lead(stance: Stance, verb: string): string {
  return stance === 'enforce' ? capital(verb) : `Would ${verb}`;
}

const STANCE_REMARKS: Record<Stance, string> = { enforce: '', observe: ' (only observed)', off: ' (switched off)' };
const RECORD_REMARKS: Record<Rule['record'], string> = {
  quiet: ', without a record',
  log: '',
  alert: ', with an alert',
};

/** «once there are more than 20 within a minute for the same client and method, and for 10 minutes after». */
function limitPhrase({ moreThan, counts, within, per, hold }: Limit): string {
  const amount =
    counts === 'bytes'
      ? `more than ${formatAmount(moreThan)} were answered`
      : `there are more than ${moreThan.toLocaleString('en')}`;
  const key = per.length === 0 ? ' in all' : ` for the same ${inWords(per.map(formatKeyPart), 'and')}`;
  const after = hold === 0 ? '' : `, and for ${tellDuration(hold)} after`;
  return `once ${amount} within ${tellDuration(within)}${key}${after}`;
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
