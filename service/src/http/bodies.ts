import type {
  ActionType,
  CheckedGrid,
  ComparisonReport,
  Coverage,
  Decided,
  DescribedObject,
  Difference,
  DocumentKind,
  EffectivePolicy,
  EvidenceDimension,
  EvidenceShare,
  Explanation,
  Finding,
  IssueReport,
  ListSort,
  ListUser,
  LogFilter,
  LogFormat,
  LookedUp,
  NoticeProblem,
  ObjectUser,
  PassedOver,
  PolicyFall,
  RuleReport,
  SideRole,
  Stance,
  Verdict,
} from '@jade-fence/core';
import type { RuleCount } from '../live/recorder.js';
import type { FeedOutcome } from '../model/feed.js';
import type { JobState } from '../model/job.js';
import type { Role } from '../people/role.js';
import type { Readiness } from '../revision/publish.js';

/*
 * The bodies that the API sends: the contract with the client and the console, which import these types and nothing
 * else of the service. Times are RFC 3339 in UTC.
 */

export interface LogBody {
  readonly name: string;
  readonly format: LogFormat;
  readonly requests: number;
  readonly lines: number;
  readonly rejected: number;
  /** Whether most lines were rejected, so that the format looks wrong. */
  readonly looksWrong: boolean;
  readonly bytes: number;
  /** Names of JSON fields that requests do not have, with how often they came. */
  readonly ignoredFields: Readonly<Record<string, number>>;
  /** Values that could not be read, so that their fields are unseen: how many, by field and reason. */
  readonly unreadable: readonly UnreadableBody[];
  /** What of its requests was left out when they were stored, so that rules are blind there. */
  readonly redacted: readonly string[];
  readonly firstTime: string | null;
  readonly lastTime: string | null;
  readonly importedAt: string;
  /** Other logs with the same content; told of one log only. */
  readonly sameAs?: readonly string[];
}

export interface UnreadableBody {
  /** In our short names; `header.NAME` for a header. */
  readonly field: string;
  /** The code of the reason, such as `bad-host`. */
  readonly reason: string;
  readonly count: number;
}

/** A log that is being brought in, or was. */
export interface ImportBody {
  readonly id: number;
  /** What the log is called. */
  readonly log: string;
  readonly state: JobState;
  /** Who sent it. */
  readonly actor: string;
  /** The bytes that are here, and whether these are all; before that it cannot be done. */
  readonly received: number;
  readonly held: boolean;
  /** The bytes that are read, and how many there will be; null where the sender has not said. */
  readonly done: number;
  readonly total: number | null;
  /** Bytes a second that are read, and seconds left at that rate; null where nothing is under way. */
  readonly rate: number | null;
  readonly secondsLeft: number | null;
  /** Why it came to no log. */
  readonly failure: ImportFailureBody | null;
  readonly startedAt: string;
  readonly finishedAt: string | null;
}

export interface ImportFailureBody {
  readonly code: string;
  readonly detail: string;
  readonly remedy: string | null;
  readonly issues: readonly { readonly path: string; readonly what: string }[];
}

/** How the columns of logs are taken, kept by name. */
export interface MappingBody {
  readonly name: string;
  /** The column that each field is in. */
  readonly columns: Readonly<Record<string, string>>;
  readonly zone: string | null;
}

export interface RejectedPage {
  readonly rejected: readonly {
    readonly line: number;
    readonly code: string;
    readonly reason: string;
    readonly text: string;
  }[];
  readonly next: number | null;
}

export interface ReplayBody {
  readonly id: number;
  /** The first of its logs, and all of them. */
  readonly log: string | null;
  readonly logs: readonly string[];
  readonly policy: string | null;
  /** The revision that it ran; null: the draft as it was. */
  readonly revision: number | null;
  /** Which requests of the logs it is of; null: all. Times are milliseconds since 1970. */
  readonly only: LogFilter | null;
  /** What it judged by that is not stored in the workspace. */
  readonly instead: readonly { readonly kind: string; readonly name: string }[];
  /** What who reads its report has to know of that, a sentence each. */
  readonly notes: readonly string[];
  /** `effect`: ordered to show the effect of an edit; it is in no list, and is removed after two hours. */
  readonly purpose: 'asked' | 'effect';
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
export type OfReplay = Pick<ReplayBody, 'id' | 'logs' | 'policy' | 'revision' | 'only' | 'instead' | 'outOfDate'>;

/** The fields of a request, by their names in our JSON Lines form. What was not seen is left out. */
export type RequestBody = Readonly<
  Record<string, string | number | readonly string[] | Readonly<Record<string, string | readonly string[]>>>
>;

/** One request of a replay: what it is, and what became of it. */
export interface JudgedBody {
  /** Its place in the replay, from 1. */
  readonly number: number;
  readonly log: string;
  /** The line of the file that it was read from. */
  readonly line: number;
  readonly request: RequestBody;
  readonly client: string | null;
  readonly country: string | null;
  readonly verdict: Verdict | 'uncovered';
  readonly policy: string | null;
  /** The rule that decided; null where it was the default, or no policy covers the request. */
  readonly rule: string | null;
}

export interface RequestsPage {
  readonly of: OfReplay;
  readonly requests: readonly JudgedBody[];
  /** The number to go on after, or null where there are no more. */
  readonly next: number | null;
}

/** Two replays of one log. */
export interface OfBoth {
  readonly before: OfReplay;
  readonly after: OfReplay;
}

export type ComparisonBody = ComparisonReport & {
  readonly before: number;
  readonly after: number;
  readonly of: OfBoth;
};

/** A request whose verdict changed: as it is now, and what had decided before. */
export type ChangedBody = JudgedBody & { readonly before: Decided };

export interface ChangesPage {
  readonly of: OfBoth;
  readonly requests: readonly ChangedBody[];
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

export type ExplainedJudgedBody = JudgedBody & ExplainedBody & { readonly of: OfReplay };

export interface ExplainedBody {
  readonly request: RequestBody;
  /** Null where no policy covers the request. */
  readonly explanation: Explanation | null;
}

/** A request that is given, explained; with what its client would be shown. */
export type ExplainedGivenBody = ExplainedBody & {
  /** Null where it is let through, or nothing is shown but the status. */
  readonly notice: NoticeBody | null;
};

/** A notice as a stopped client sees it. */
export type NoticeBody = NoticeProblem & { readonly notice: string };

export interface ChangesBody {
  readonly dryRun: boolean;
  readonly changes: readonly ChangeBody[];
}

/** What files did; and what was edited here before, and is undone by that. */
export type AppliedBody = ChangesBody & { readonly overwritten: readonly OverwrittenBody[] };

export interface OverwrittenBody {
  readonly kind: string;
  readonly name: string;
  /** Who edited it last, and when. */
  readonly by: string | null;
  readonly at: string;
  /** What is lost, a sentence each. */
  readonly lost: readonly string[];
}

export interface ChangeBody {
  readonly kind: string;
  readonly name: string;
  readonly change: 'added' | 'changed' | 'removed' | 'unchanged';
}

export interface WorkspaceBody {
  readonly policies: readonly PolicySummary[];
  readonly lists: readonly ListSummary[];
  /** Categories, applications, schedules, notices, corrections, probes and checks. */
  readonly objects: readonly DescribedObject[];
  readonly countryData: { readonly source: string; readonly date: string; readonly networks: number } | null;
}

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

/** What files would say in the draft. */
export interface ReadingBody {
  readonly issues: readonly IssueReport[];
  readonly policies: readonly (PolicySummary & { readonly rules: readonly RuleBody[] })[];
  readonly objects: readonly DescribedObject[];
}

/** What a review of the workspace found. */
export interface ReviewBody {
  readonly findings: readonly Finding[];
}

/** One object of the draft. */
export interface ObjectBody extends StoredBody {
  readonly kind: DocumentKind;
  readonly name: string;
  /** The file that it was applied from. */
  readonly file: string;
}

/** A state that an object had. */
export interface VersionBody {
  readonly version: number;
  readonly changedBy: string | null;
  readonly changedAt: string;
  /** The revisions that have it. */
  readonly revisions: readonly number[];
}

/** What two states of the workspace do not have alike. */
export interface DifferenceBody {
  /** `draft`, `revision 3`, or `nothing`. */
  readonly from: string;
  readonly to: string;
  readonly changes: readonly (Difference & {
    /** The lines that differ, as a unified diff; null where too much does, or they were not asked for. */
    readonly text: string | null;
    readonly by: string | null;
    readonly at: string | null;
  })[];
  /** What is different of the country data, in a sentence; null where nothing is. */
  readonly countryData: string | null;
}

/** What one service decided since it started. */
export interface LiveBody {
  /** The revision in force there; null where none is. */
  readonly revision: number | null;
  readonly counts: readonly RuleCount[];
  /** Decisions that were to be recorded, and were too many. */
  readonly unrecorded: number;
}

/** A live decision that was recorded. */
export interface RecordedBody {
  readonly decision: number;
  readonly at: string;
  readonly revision: number;
  readonly policy: string | null;
  readonly rule: string | null;
  readonly verdict: string;
  readonly effect: string;
  readonly record: string;
  /** What the client was told, if it was stopped. */
  readonly reference: string | null;
  readonly request: RequestBody;
  readonly client: string | null;
  readonly country: string | null;
}

export interface DecisionsPage {
  readonly decisions: readonly RecordedBody[];
  readonly next: number | null;
}

/** The draft, and whether it can be published. */
export type DraftBody = Readiness & {
  /** Proposals that wait for somebody to approve them. */
  readonly proposals: readonly ProposalBody[];
};

export interface RevisionBody {
  readonly revision: number;
  readonly message: string;
  readonly author: string;
  readonly approvedBy: string | null;
  readonly publishedAt: string;
  readonly objects: number;
}

export interface ProposalBody {
  readonly proposal: number;
  readonly message: string;
  readonly author: string;
  readonly draft: number;
  /** The objects of the draft that it is of; null: all of it. */
  readonly objects: readonly { readonly kind: string; readonly name: string }[] | null;
  /** `stale`: the draft, or the objects that it is of, were changed since. */
  readonly state: 'open' | 'stale' | 'published' | 'withdrawn';
  readonly proposedAt: string;
}

export interface PersonBody {
  readonly name: string;
  readonly role: Role;
  readonly disabled: boolean;
  /** Whether they may ask about addresses where policies tell these by pseudonyms. */
  readonly seesAddresses: boolean;
  /** Whether they can sign in with a password. */
  readonly password: boolean;
  readonly createdAt: string;
}

export interface TokenBody {
  readonly token: number;
  /** `gateway`: it asks for live decisions and may do nothing else; it belongs to nobody and has no role. */
  readonly kind: 'person' | 'gateway';
  readonly name: string;
  readonly person: string | null;
  readonly role: Role | null;
  readonly expiresAt: string | null;
  readonly usedAt: string | null;
  readonly createdAt: string;
  /** The key itself; told once, when it is made. */
  readonly secret?: string;
}

export interface SessionsBody {
  readonly sessions: readonly SessionBody[];
}

/** A browser that has signed in. */
export interface SessionBody {
  readonly session: number;
  /** The address that it signed in from, and the browser's name. */
  readonly from: string;
  readonly agent: string;
  readonly openedAt: string;
  readonly usedAt: string;
  readonly expiresAt: string;
}

/** What looking at the whole chain of the audit found. */
export interface AuditVerdictBody {
  readonly entries: number;
  /** The hash of the newest entry; kept elsewhere, it tells later whether the past was changed. */
  readonly head: string;
  /** The first entry that does not follow from the one before; null where all do. */
  readonly brokenAt: number | null;
  /** Whether entries are missing at the end. */
  readonly isCut: boolean;
  /** Whether the head that was asked about is among the entries; null where none was. */
  readonly hasHead: boolean | null;
}

export interface AuditBody {
  readonly id: number;
  readonly at: string;
  readonly actor: string | null;
  readonly action: string;
  readonly kind: string | null;
  readonly name: string | null;
  readonly detail: Readonly<Record<string, unknown>>;
}

export interface AuditPage {
  readonly entries: readonly AuditBody[];
  readonly next: number | null;
}

/** What checks gave, of one state of the workspace. */
export interface ChecksBody {
  readonly state: string;
  readonly checks: readonly CheckedGrid[];
  readonly failing: number;
}

/** What is known of a value, and of which country data. */
export type LookUpBody = LookedUp & {
  readonly countryData: { readonly source: string; readonly date: string } | null;
};

/** What the policies can do to one client. */
export interface EffectiveBody {
  readonly client: string | null;
  readonly probe: string | null;
  readonly country: string | null;
  readonly policies: readonly EffectivePolicy[];
}

/** Who names an object. */
export interface UsersBody {
  readonly users: readonly ObjectUser[];
}

/** What an object's document says, and since when. */
export interface StoredBody {
  readonly text: string;
  readonly version: number;
  readonly changedBy: string | null;
  readonly changedAt: string;
}

export interface ListSummary {
  readonly list: string;
  readonly of: ListSort;
  readonly entries: number;
  readonly expired: number;
  readonly include: readonly string[];
  /** The policies that use it, directly or through a list that includes it. */
  readonly usedBy: readonly string[];
}

/** One entry of a list. */
export interface EntryBody {
  /** Its place in the list, from 1. */
  readonly number: number;
  readonly entry: string;
  readonly note: string | null;
  readonly until: string | null;
  readonly expired: boolean;
}

export interface EntriesPage {
  readonly entries: readonly EntryBody[];
  readonly next: number | null;
}

/** What became of entries that were to be added and removed. */
export interface EntriesChanged {
  readonly list: string;
  readonly version: number;
  readonly entries: number;
  /** Those that were there already, and those to remove that were not. */
  readonly present: readonly string[];
  readonly missing: readonly string[];
}

/** A list that was brought from a file. */
export interface EntriesImported {
  readonly list: string;
  readonly version: number;
  readonly entries: number;
  /** Lines that do not hold, and were left out. */
  readonly left: readonly { readonly line: number; readonly what: string }[];
  readonly leftCount: number;
}

export type ListBody = ListSummary &
  StoredBody & {
    /** The rules that use it, and the policies that cover by it or trust it. */
    readonly users: readonly ListUser[];
    /** How many single addresses it covers, as a whole number in text; null for other lists. */
    readonly addresses: string | null;
  };

export interface CountryDataBody {
  readonly source: string;
  readonly date: string;
  readonly networks: number;
  readonly coverage: Coverage | null;
  readonly faultCount: number;
  readonly faults: readonly { readonly line: number; readonly code: string; readonly reason: string }[];
  readonly loadedAt: string;
}

export interface CountryOfBody {
  readonly address: string;
  readonly country: string;
  readonly name: string | null;
  /** Whether a correction says so, the country data, or neither holds the address. */
  readonly by: 'correction' | 'data' | 'neither';
  /** The network that holds the address. */
  readonly network: string | null;
  /** The country data in force; null where none is. */
  readonly source: string | null;
  readonly date: string | null;
}

/** Where a list is fetched from. Times are RFC 3339. */
export interface FeedBody {
  readonly list: string;
  readonly of: ListSort;
  readonly source: string;
  /** Seconds. */
  readonly every: number;
  readonly allowPrivate: boolean;
  readonly publish: boolean;
  readonly madeBy: string;
  readonly nextAt: string;
  /** When it was fetched last and held; null: never yet. */
  readonly goodAt: string | null;
  readonly last: FeedOutcome | null;
}

/** What came of merging sources into the catalogue. */
export interface CatalogueMergedBody extends ChangesBody {
  /** How many rows were taken, or were there already. */
  readonly taken: number;
  /** The first rows that were not, since a source before says something else. */
  readonly passedOver: readonly PassedOver[];
  readonly passedOverCount: number;
}
