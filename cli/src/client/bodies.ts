import type { Explanation, Verdict } from '@jade-fence/core';

/** The bodies that the service's API sends, as far as the client reads them. */
export interface LogBody {
  readonly name: string;
  readonly format: string;
  readonly requests: number;
  readonly lines: number;
  readonly rejected: number;
  readonly looksWrong: boolean;
  readonly bytes: number;
  readonly ignoredFields: Readonly<Record<string, number>>;
  readonly firstTime: string | null;
  readonly lastTime: string | null;
  readonly sameAs?: readonly string[];
}

export interface RejectedPage {
  readonly rejected: readonly { readonly line: number; readonly code: string; readonly reason: string; readonly text: string }[];
  readonly next: number | null;
}

export interface ReplayBody {
  readonly id: number;
  readonly log: string | null;
  readonly policy: string | null;
  readonly state: 'running' | 'done' | 'failed' | 'cancelled';
  readonly done: number;
  readonly total: number;
  readonly failure: string | null;
  readonly startedAt: string;
}

export interface JudgedBody {
  readonly number: number;
  readonly line: number;
  readonly request: Readonly<Record<string, unknown>>;
  readonly client: string | null;
  readonly country: string | null;
  readonly verdict: Verdict | 'uncovered';
  readonly policy: string | null;
  readonly rule: string | null;
}

export interface RequestsPage {
  readonly requests: readonly JudgedBody[];
  readonly next: number | null;
}

export interface ExplainedBody {
  readonly request: Readonly<Record<string, unknown>>;
  readonly explanation: Explanation | null;
}

export interface ChangesBody {
  readonly dryRun: boolean;
  readonly changes: readonly { readonly kind: string; readonly name: string; readonly change: string }[];
}

export interface WorkspaceBody {
  readonly policies: readonly PolicySummary[];
  readonly lists: readonly ListSummary[];
  readonly countryData: { readonly source: string; readonly date: string; readonly networks: number } | null;
}

export interface PolicySummary {
  readonly policy: string;
  readonly note: string | null;
  readonly stance: string;
  readonly clientFrom: string;
  readonly covers: { readonly hosts: number; readonly clients: number };
  readonly default: { readonly then: Verdict; readonly sentence: string };
  readonly ruleCount: number;
}

export interface PolicyBody extends PolicySummary {
  readonly rules: readonly { readonly rule: string; readonly sentence: string; readonly stance: string; readonly then: Verdict; readonly note: string | null }[];
  readonly text: string;
}

export interface ListSummary {
  readonly list: string;
  readonly of: string;
  readonly entries: number;
  readonly expired: number;
  readonly include: readonly string[];
  readonly usedBy: readonly string[];
}

export interface CountryDataBody {
  readonly source: string;
  readonly date: string;
  readonly networks: number;
  readonly faultCount: number;
  readonly faults: readonly { readonly line: number; readonly reason: string }[];
}

export interface CountryOfBody {
  readonly address: string;
  readonly country: string;
  readonly name: string | null;
  readonly source: string;
  readonly date: string;
}
