import type { Reference } from '../list/index.js';

/** The decisions about a request. */
export const VERDICTS = ['allow', 'block', 'redirect', 'challenge', 'confirm', 'unlock'] as const;
export type Verdict = (typeof VERDICTS)[number];

/** The action of a rule on the requests that it matches. All but `tag` are final when the rule is enforced. */
export type Action = FinalAction | { readonly type: 'tag'; readonly tags: readonly string[] };

export type FinalAction =
  | { readonly type: 'allow' }
  | { readonly type: 'block'; readonly status: number; readonly notice: Reference | undefined }
  | { readonly type: 'redirect'; readonly to: string; readonly status: number }
  | { readonly type: 'challenge'; readonly notice: Reference | undefined }
  | { readonly type: 'confirm'; readonly lasts: number; readonly notice: Reference | undefined }
  | {
      readonly type: 'unlock';
      /** The name of the passcode; the passcode itself is no part of a workspace. */
      readonly passcode: string;
      readonly lasts: number;
      readonly notice: Reference | undefined;
    };

export type ActionType = Action['type'];

/** Verdicts that a client can meet, and is allowed by the same rule from then on. */
export const isWaivable = (verdict: Verdict): boolean =>
  verdict === 'challenge' || verdict === 'confirm' || verdict === 'unlock';

/** The notice that an action names; undefined where it names none. */
export const noticeOf = (action: Action): Reference | undefined => ('notice' in action ? action.notice : undefined);
