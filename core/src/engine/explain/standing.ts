import { formatAmount, inWords } from '../../condition/index.js';
import { formatKeyPart, type Limit, SlidingWindows } from '../../limit/index.js';
import type { Policy, Rule } from '../../policy/index.js';
import { durationPhrase } from '../../text/index.js';
import { keyTexts, type LimitKey, limitKey } from '../limit-key.js';
import type { Limits } from '../limits.js';
import type { Prepared } from '../prepared.js';
import { evaluate } from '../reference/evaluate.js';
import type { Subject } from '../subject.js';
import type { ExplainedLimit } from './explanation.js';

/** The requests counted under one key, the explained one last. */
export type Counted = Extract<LimitKey, { readonly key: string }>;

/** The count of a request and of the traffic before it under one limit; milliseconds since 1970. */
export interface Standing {
  /** Requests, or bytes, within the span, this request included. */
  readonly sum: number;
  readonly isOver: boolean;
  /** Until when the key stays over; null where it does not. */
  readonly heldUntil: number | null;
}

/** The key of a request under a rule's limit; undefined when it does not reach the rule, or match it. */
export function countedUnder(
  rule: Rule,
  {
    policy,
    subject,
    prepared,
    limits,
  }: {
    readonly policy: Policy;
    readonly subject: Subject;
    readonly prepared: Prepared;
    readonly limits: Limits;
  },
): Counted | undefined {
  let found: Counted | undefined;
  const noting: Limits = {
    over: (asked, limit, of) => {
      const key = limitKey(limit, of);
      if (asked.name === rule.name && 'key' in key) found = key;
      return limits.over(asked, limit, of);
    },
  };
  evaluate(policy, subject, prepared, noting);
  return found;
}

/** The state of a key at the last of its counted requests, in event time. Requests older than span and hold may be left out. */
export function standingOf(limit: Limit, counted: readonly Counted[]): Standing {
  const windows = new SlidingWindows(limit);
  for (const { key, time, amount } of counted) windows.add(key, time, amount);
  const { key, time } = counted.at(-1) as Counted;
  const window = windows.window(key, time);
  const sum = window.sumAt(time, limit.within);
  const isHeld = time < window.heldUntil;
  return { sum, isOver: sum > limit.moreThan || isHeld, heldUntil: isHeld ? window.heldUntil : null };
}

/**
 * A rule's limit, and the request's count under it.
 *
 * @param standing undefined where the traffic before the request is not known
 */
export function explainLimit(limit: Limit, subject: Subject, standing: Standing | undefined): ExplainedLimit {
  const found = limitKey(limit, subject);
  const per = limit.per.map(formatKeyPart);
  const key = 'key' in found ? keyTexts(limit.per, found.key) : null;
  const { moreThan, counts, within, hold } = limit;
  const heldUntil = standing?.heldUntil ?? null;
  return {
    ...{ per, key, moreThan, counts, within: within / 1000, hold: hold / 1000 },
    sum: standing?.sum ?? null,
    heldUntil: heldUntil === null ? null : new Date(heldUntil).toISOString(),
    text: standingPhrase(limit, key, standing),
  };
}

function standingPhrase(limit: Limit, key: readonly string[] | null, standing: Standing | undefined): string | null {
  if (key === null) return null;
  const { moreThan, counts, within, per } = limit;
  const most = counts === 'bytes' ? formatAmount(moreThan) : moreThan.toLocaleString('en');
  const span = `within ${durationPhrase(within)}`;
  const parts = per.map((part, at) => `${formatKeyPart(part)} ${key[at]}`);
  const whose = parts.length === 0 ? 'in all' : `of ${inWords(parts, 'and')}`;
  if (standing === undefined) return `the limit is ${most} ${counts} ${whose} ${span}`;
  const { sum, heldUntil } = standing;
  const count =
    counts === 'bytes'
      ? `${sum.toLocaleString('en')} bytes were answered ${whose} ${span}`
      : `it is the ${ordinal(sum)} request ${whose} ${span}`;
  const against = sum > moreThan ? `more than ${most}` : `no more than ${most}`;
  if (heldUntil === null) return `${count}, ${against}`;
  const until = `held until ${new Date(heldUntil).toISOString().slice(0, 19).replace('T', ' ')} UTC`;
  return sum > moreThan
    ? `${count}, ${against}; ${until}`
    : `${count}; the limit of ${most} was exceeded before, and is ${until}`;
}

/** «101st». */
function ordinal(count: number): string {
  const text = count.toLocaleString('en');
  const isTeen = count % 100 >= 11 && count % 100 <= 13;
  const end = isTeen ? 'th' : (['th', 'st', 'nd', 'rd'][count % 10] ?? 'th');
  return `${text}${end}`;
}
