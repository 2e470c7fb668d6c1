import type { Verdict } from '@jade-fence/core/policy';

/** The verdicts in the order in which they are shown. */
export const VERDICTS_SHOWN = [
  'allow',
  'block',
  'redirect',
  'challenge',
  'confirm',
  'unlock',
] as const satisfies readonly Verdict[];
