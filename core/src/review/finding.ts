import type { Mend } from '../policy/index.js';

/** Something about the rules themselves that their writer should look at, before any traffic. */
export interface Finding {
  readonly code: FindingCode;
  /** `warning`: it most likely is not what was meant. `note`: it may well be. */
  readonly severity: 'warning' | 'note';
  /** The policy and rule that it concerns; null where it is none. */
  readonly policy: string | null;
  readonly rule: string | null;
  /** The other object concerned, such as a list; null for none. */
  readonly object: { readonly kind: string; readonly name: string } | null;
  readonly what: string;
  readonly reason: string;
  /** The smallest edit that mends it. */
  readonly edit: string;
  /** The same for programs, where it is one that they can make. */
  readonly mend?: Mend;
}

export const FINDING_CODES = [
  ...(['unreachable', 'partly-unreachable', 'contradicting', 'broad-not-last', 'missing-needs'] as const),
  ...([
    'unseen-when-encrypted',
    'no-country-data',
    'old-country-data',
    'destination-not-resolved',
    'no-resolutions',
    'chosen-destination',
    'unknown-tag',
    'unused',
  ] as const),
  ...(['expired-entries', 'redirect-stopped', 'empty-list', 'everything-list', 'public-trust'] as const),
  ...([
    'long-night',
    'case-kept',
    'covers-nothing',
    'bare-list-name',
    'list-like-code',
    'needed-blocked',
    'forgotten-proxy',
  ] as const),
] as const;
export type FindingCode = (typeof FINDING_CODES)[number];

type FindingText = Pick<Finding, 'what' | 'reason' | 'edit' | 'mend'>;

/** A finding about a rule of a policy. */
export function ruleFinding(
  code: FindingCode,
  severity: Finding['severity'],
  policy: string,
  rule: string | null,
  text: FindingText,
): Finding {
  return { code, severity, policy, rule, object: null, ...text };
}

/** A finding about an object beside policies. */
export function objectFinding(
  code: FindingCode,
  severity: Finding['severity'],
  kind: string,
  name: string,
  text: FindingText,
): Finding {
  return { code, severity, policy: null, rule: null, object: { kind, name }, ...text };
}
