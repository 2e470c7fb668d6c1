import type { ActionType, Stance, Verdict } from '@jade-fence/core/policy';
import type { StoredBody } from './object.js';

export interface PolicySummary {
  readonly policy: string;
  readonly note: string | null;
  readonly stance: Stance;
  readonly clientFrom: 'peer' | 'forwarded' | 'header';
  readonly covers: { readonly hosts: number; readonly clients: number };
  readonly default: { readonly then: Verdict; readonly sentence: string };
  readonly ruleCount: number;
}

export interface PolicyBody extends PolicySummary, StoredBody {
  readonly rules: readonly RuleBody[];
}

export interface RuleBody {
  readonly rule: string;
  readonly note: string | null;
  readonly sentence: string;
  readonly stance: Stance;
  readonly then: ActionType;
}

/** A rule that was added to allow an application. */
export interface AllowedBody {
  readonly policy: string;
  readonly rule: string;
  readonly application: string;
  /** What it needs, directly or through others, and is allowed with it. */
  readonly needs: readonly string[];
  readonly version: number;
}

/** An application that is to be allowed, and where among the rules. */
export interface AllowOrder {
  readonly application: string;
  /** The rule to put it above; without it, the last. */
  readonly above?: string;
  readonly rule?: string;
}
