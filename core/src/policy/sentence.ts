import { conditionSentence, exceptionSentence, formatAmount, inWords } from '../condition/index.js';
import type { Limit } from '../limit/index.js';
import { durationPhrase } from '../text/index.js';
import type { Action } from './action.js';
import type { Policy, Rule, Stance } from './policy.js';

/** The rule in one sentence of plain language. */
export function ruleSentence(rule: Rule): string {
  const whom = rule.when.length === 0 ? 'every request' : conditionSentence(rule.when);
  const exception = rule.unless.length === 0 ? '' : `, unless ${exceptionSentence(rule.unless)}`;
  const limit = rule.limit === undefined ? '' : `, ${limitPhrase(rule.limit)}`;
  const hold =
    rule.limit === undefined || rule.limit.hold === 0 ? '' : `; for ${durationPhrase(rule.limit.hold)} after`;
  const blind = rule.ifBlind === 'match' ? ', also where this cannot be seen' : '';
  const { verb, object, behind } = actionWords(rule.then);
  return [
    ...[`${lead(rule.stance, verb)} ${whom}${object}`, exception, limit, blind, behind],
    ...[RECORD_REMARKS[rule.record], hold, rule.stance === 'off' ? ' (switched off)' : '', '.'],
  ].join('');
}

/** The action for requests that no rule decides, in one sentence. */
export function defaultSentence(policy: Policy): string {
  const { verb, object, behind } = actionWords(policy.default);
  return `${capital(verb)} every request that no rule decides${object}${behind}.`;
}

/** The words of an action before the requests that it is done to, right after them, and at the end. */
interface ActionWords {
  readonly verb: string;
  readonly object: string;
  readonly behind: string;
}

function actionWords(action: Action): ActionWords {
  const words = (verb: string, behind: string, object = ''): ActionWords => ({ verb, object, behind });
  switch (action.type) {
    case 'allow':
      return words('allow', '');
    case 'block': {
      const status = action.status === 403 ? '' : `, with status ${action.status}`;
      return words('block', `${status}${noticePhrase(action)}`);
    }
    case 'redirect':
      return words('redirect', `, to ${action.to}`);
    case 'challenge':
      return words('challenge', noticePhrase(action));
    case 'confirm':
      return words(
        'ask clients to confirm',
        `, which holds for ${durationPhrase(action.lasts)}${noticePhrase(action)}`,
      );
    case 'unlock':
      return words(
        `require passcode \`${action.passcode}\` for`,
        `, which holds for ${durationPhrase(action.lasts)}${noticePhrase(action)}`,
      );
    case 'tag': {
      const tags = action.tags.map((tag) => `\`${tag}\``);
      return words('tag', '', ` as ${inWords(tags, 'and')}`);
    }
  }
}

const noticePhrase = (action: Action): string =>
  'notice' in action && action.notice ? `, and show notice \`${action.notice.name}\`` : '';

/** The action in a word or few: `block`, `tag as curator`. */
export function actionPhrase(action: Action): string {
  return action.type === 'tag' ? `tag as ${action.tags.join(' and ')}` : action.type;
}

/** «Would» says that a rule does not act. */
const lead = (stance: Stance, verb: string): string => (stance === 'enforce' ? capital(verb) : `Would ${verb}`);

const RECORD_REMARKS: Record<Rule['record'], string> = {
  quiet: ', without a record',
  log: '',
  alert: ', with an alert',
};

/** «after more than 20 requests per minute from the same client and method». */
function limitPhrase({ moreThan, counts, within, per }: Limit): string {
  const amount =
    counts === 'bytes'
      ? `more than ${formatAmount(moreThan)} answered`
      : `more than ${moreThan.toLocaleString('en')} ${moreThan === 1 ? 'request' : 'requests'}`;
  const key = per.length === 0 ? ' in all' : ` ${counts === 'bytes' ? 'to' : 'from'} the same ${keyWords(per)}`;
  return `after ${amount} ${spanWords(within)}${key}`;
}

/** «per minute», «within 30 seconds». */
function spanWords(within: number): string {
  const [, unit] = /^an? (.*)$/.exec(durationPhrase(within)) ?? [];
  return unit === undefined ? `within ${durationPhrase(within)}` : `per ${unit}`;
}

const keyWords = (per: Limit['per']): string =>
  inWords(
    per.map(({ field, name, prefix }) =>
      prefix === undefined
        ? name === undefined
          ? field
          : `${field} \`${name}\``
        : `/${prefix} network of the ${field}`,
    ),
    'and',
  );

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
