import { PROBLEMS, type ProblemCode, type Reason } from '@jade-fence/contract';
import type { IssueReport } from '@jade-fence/core/issue';
import type { LineFaultCode } from '@jade-fence/core/log';
import { MESSAGES, type Message, type MessageName } from './messages.js';

/** A refusal that the caller can understand and mend. */
export class Refusal extends Error {
  readonly reason: Reason;
  /** Stable, for programs. */
  readonly code: ProblemCode | LineFaultCode;
  readonly detail: string;
  readonly remedy: string | undefined;
  readonly issues: readonly (IssueReport | InputIssue)[] | undefined;
  /** The number of seconds after which it can be tried again; undefined when unknown. */
  readonly retryAfter: number | undefined;

  /** @param code one of the contract's, or what `core` calls a fault of a value: that is `invalid` */
  constructor(code: ProblemCode | LineFaultCode, detail: string, more: RefusalMore = {}) {
    super(detail);
    this.reason = code in PROBLEMS ? PROBLEMS[code as ProblemCode] : 'invalid';
    this.code = code;
    this.detail = detail;
    this.remedy = more.remedy;
    this.issues = more.issues;
    this.retryAfter = more.retryAfter;
  }
}

/** The values of a message's text; left out where it has none. */
type ValuesOf<Name extends MessageName> = Parameters<(typeof MESSAGES)[Name]>;
type Rest<Name extends MessageName> =
  ValuesOf<Name> extends [infer Values]
    ? [values: Values, more?: Omit<RefusalMore, 'remedy'>]
    : [values?: Readonly<Record<string, never>>, more?: Omit<RefusalMore, 'remedy'>];

/** The refusal with the message of that name, its text made of the values. */
export function refusal<Name extends MessageName>(name: Name, ...[values, more]: Rest<Name>): Refusal {
  const message = MESSAGES[name] as (values: unknown) => Message;
  const { detail, remedy } = message(values);
  const [code] = name.split('/') as [ProblemCode];
  return new Refusal(code, detail, { remedy, ...more });
}

export interface RefusalMore {
  readonly remedy?: string | undefined;
  readonly issues?: readonly (IssueReport | InputIssue)[] | undefined;
  readonly retryAfter?: number | undefined;
}

/** What a refusal says, as plain data that can be stored. */
export type RefusalFacts = Pick<Refusal, 'reason' | 'code' | 'detail'> & Omit<RefusalMore, 'retryAfter'>;

/** What is wrong with one value of a body or query. */
export interface InputIssue {
  readonly path: string;
  readonly what: string;
}

/** What a refusal says, without what it does not have. */
export function refusalFacts({ reason, code, detail, remedy, issues }: Refusal): RefusalFacts {
  return { reason, code, detail, ...(remedy && { remedy }), ...(issues && { issues }) };
}
