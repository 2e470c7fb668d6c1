import type { Verdict } from '@jade-fence/core/policy';
import type {
  Breakdown,
  EvidenceDimension,
  EvidenceShare,
  LogFilter,
  PolicyFall,
  RuleReport,
  SideRole,
} from '@jade-fence/core/replay';
import type { JobState } from './job.js';
import type { PageQuery } from './page.js';
import type { Purpose } from './purpose.js';
import type { JudgedBody } from './request.js';
import type { StateQuery } from './state.js';
import type { WorkspaceFile } from './workspace.js';

export interface ReplayBody {
  readonly id: number;
  /** The first of its logs, and all of them. */
  readonly log: string | null;
  readonly logs: readonly string[];
  readonly policy: string | null;
  /** The revision that it ran; null: the draft as it was. */
  readonly revision: number | null;
  /** The state of the resolutions that it used; null: there were none. */
  readonly resolutions: number | null;
  /** Which requests of the logs it is of; null: all. Times are milliseconds since 1970. */
  readonly only: LogFilter | null;
  /** What it judged by that is not stored in the workspace. */
  readonly instead: readonly { readonly kind: string; readonly name: string }[];
  /** What who reads its report has to know of that, a sentence each. */
  readonly notes: readonly string[];
  /** `effect`: ordered to show the effect of an edit; it is in no list, and is removed after two hours. */
  readonly purpose: Purpose;
  readonly orderedBy: string | null;
  /** Whether it ran the draft, and the draft is another now. */
  readonly outOfDate: boolean;
  readonly state: JobState;
  readonly done: number;
  readonly total: number;
  /** Requests a second, and seconds left at that rate; null where nothing is under way. */
  readonly rate: number | null;
  readonly secondsLeft: number | null;
  readonly failure: string | null;
  /** The instant at which the expiry of list entries was judged. */
  readonly judgedAt: string;
  readonly startedAt: string;
  readonly finishedAt: string | null;
}

/** Which replay an answer is of, of which logs and by which state of the workspace. */
export type OfReplay = Pick<
  ReplayBody,
  'id' | 'logs' | 'policy' | 'revision' | 'resolutions' | 'only' | 'instead' | 'outOfDate'
>;

export interface RequestsPage {
  readonly of: OfReplay;
  readonly requests: readonly JudgedBody[];
  /** The number to go on after, or null where there are no more. */
  readonly next: number | null;
}

/** How some of the requests of a replay fall through its rules. */
export interface FallBody {
  readonly replay: number;
  readonly of: OfReplay;
  readonly requests: number;
  readonly uncovered: number;
  readonly policies: readonly PolicyFall[];
}

/** What the requests of one rule are. */
export interface EvidenceBody {
  readonly replay: number;
  readonly of: OfReplay;
  readonly policy: string;
  readonly rule: RuleReport;
  /** What the rule did with the requests. */
  readonly role: 'decided' | SideRole;
  readonly requests: number;
  readonly shares: Readonly<Record<EvidenceDimension, EvidenceShare>>;
  /** Some of the requests, which differ from each other. */
  readonly samples: readonly JudgedBody[];
}

/** What the requests are that a filter selects. */
export interface SumBody {
  readonly replay: number;
  readonly of: OfReplay;
  readonly requests: number;
  /** Whether there are more, which are not counted. */
  readonly isPart: boolean;
  readonly shares: Readonly<Record<EvidenceDimension, EvidenceShare>>;
  /** By the hour (UTC) and the verdict. */
  readonly hours: Breakdown;
  /** Some of the requests, which differ from each other. */
  readonly samples: readonly JudgedBody[];
}

/** What to show as pseudonyms, beside what policies redact. */
export interface RedactQuery {
  readonly redact?: readonly string[];
}

/** Which of the replays, the newest first. */
export interface ReplaysQuery extends PageQuery {
  readonly log?: string;
  readonly state?: JobState;
  /** Those that you ordered yourself. */
  readonly mine?: boolean;
}

export interface ReplaysPage {
  readonly replays: readonly ReplayBody[];
  readonly next: number | null;
}

/** Which requests, by what the log says of them. Times are RFC 3339. */
export interface LogFilterQuery {
  /** An address, a network or a range. */
  readonly destination?: string;
  readonly host?: string;
  readonly path?: string;
  readonly method?: string;
  readonly status?: string;
  readonly category?: string;
  readonly application?: string;
  readonly from?: string;
  readonly to?: string;
}

/** Which requests of a replay. */
export interface FilterQuery extends LogFilterQuery, RedactQuery {
  readonly verdict?: Verdict | 'uncovered';
  readonly policy?: string;
  readonly rule?: string;
  readonly role?: 'decided' | SideRole;
  readonly country?: string;
  readonly destinationCountry?: string;
  readonly client?: string;
}

export interface RequestsQuery extends FilterQuery, PageQuery {}

export const EXPORT_FORMS = ['jsonl', 'csv', 'parquet'] as const;
export type ExportForm = (typeof EXPORT_FORMS)[number];

export interface ExportQuery extends FilterQuery {
  readonly form: ExportForm;
}

/** One rule of a replay. */
export interface EvidenceQuery extends RedactQuery {
  readonly policy?: string;
  readonly rule: string;
  readonly role?: 'decided' | SideRole;
}

/** What is to be replayed, and by what to judge. */
export interface ReplayOrder extends StateQuery {
  readonly purpose?: Purpose;
  /** One log; or several by `logs`, which are taken for one. */
  readonly log?: string;
  readonly logs?: readonly string[];
  readonly only?: LogFilterQuery;
  readonly policy?: string;
  /** The instant at which the expiry of list entries is judged; without it, now. */
  readonly at?: string;
  /** Files to judge by in place of the workspace's own documents of the same names. */
  readonly files?: readonly WorkspaceFile[];
}
