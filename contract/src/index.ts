/*
 * What travels between the service and those who call it. Times are RFC 3339 in UTC.
 */

export type { AuditBody, AuditPage, AuditQuery, AuditVerdictBody } from './audit.js';
export {
  type AnswerOf,
  API,
  type CallsWith,
  type Carried,
  type Carrying,
  type EventOf,
  type Expected,
  type Message,
  messageOf,
  type ParamsOf,
  pathOf,
} from './call.js';
export { type CallName, type Calls, MAY_CALL } from './calls.js';
export type { CatalogueMerge, CatalogueMergedBody } from './catalogue.js';
export type { ChecksBody, ChecksQuery, Expectation } from './check.js';
export type { ChangedBody, ChangesPage, ChangesQuery, ComparisonBody, ComparisonQuery, OfBoth } from './comparison.js';
export type { CountryDataBody, CountryDataQuery, CountryOfBody } from './country.js';
export type {
  ExplainedBody,
  ExplainedGivenBody,
  ExplainedJudgedBody,
  ExplanationOrder,
} from './explanation.js';
export type { FeedBody, FeedOrder, FeedOutcome, FeedsPage } from './feed.js';
export type { ImportBody, ImportFailureBody, ImportQuery, ImportsPage } from './import.js';
export { hasEnded, JOB_STATES, type JobState } from './job.js';
export type {
  EntriesChange,
  EntriesChanged,
  EntriesImported,
  EntriesImportQuery,
  EntriesPage,
  EntriesQuery,
  EntryBody,
  ListBody,
  ListQuery,
  ListSummary,
  OverlapBody,
  OverlapQuery,
} from './list.js';
export type {
  DecisionsPage,
  DecisionsQuery,
  LiveBody,
  PasscodesPage,
  RecordedBody,
  RuleCount,
  RuleUsage,
  UsageBody,
  UsageQuery,
} from './live.js';
export type {
  LogBody,
  LogsPage,
  MappingBody,
  MappingOrder,
  MappingPreviewBody,
  MappingPreviewOrder,
  MappingsPage,
  RejectedPage,
  UnreadableBody,
} from './log.js';
export type { EffectiveBody, EffectiveQuery, LookUpBody, LookUpQuery, RemedyBody } from './look-up.js';
export type { NoticeBody } from './notice.js';
export type {
  ObjectBody,
  ObjectsPage,
  ObjectText,
  StoredBody,
  UsersBody,
  VersionBody,
  VersionsPage,
} from './object.js';
export type { NamedPageQuery, PageQuery } from './page.js';
export type {
  MeBody,
  NewPerson,
  NewToken,
  PasswordChange,
  PeoplePage,
  PersonBody,
  PersonChange,
  SessionBody,
  SessionsPage,
  SignIn,
  TokenBody,
  TokensPage,
  TokensQuery,
} from './people.js';
export type { AllowedBody, AllowOrder, PolicyBody, PolicySummary, RuleBody } from './policy.js';
export { PROBLEMS, type ProblemCode, REASONS, type Reason } from './problem.js';
export { PURPOSES, type Purpose } from './purpose.js';
export {
  type EvidenceBody,
  type EvidenceQuery,
  EXPORT_FORMS,
  type ExportForm,
  type ExportQuery,
  type FallBody,
  type FilterQuery,
  type LogFilterQuery,
  type OfReplay,
  type RedactQuery,
  type ReplayBody,
  type ReplayOrder,
  type ReplaysPage,
  type ReplaysQuery,
  type RequestsPage,
  type RequestsQuery,
  type SumBody,
} from './replay.js';
export type { JudgedBody, RequestBody } from './request.js';
export type {
  ResolutionFileQuery,
  ResolutionLoadBody,
  ResolutionLoadsPage,
  ResolutionsBody,
  ResolveBody,
  ResolveCountsBody,
  ResolveOrder,
  ResolvesPage,
} from './resolution.js';
export type { ReviewBody } from './review.js';
export type {
  Approval,
  DifferenceBody,
  DifferenceQuery,
  Discarding,
  DraftBody,
  DraftChanged,
  ProposalBody,
  ProposalsPage,
  Proposing,
  Publishing,
  Readiness,
  Restoring,
  RevisionBody,
  RevisionsPage,
} from './revision.js';
export { lesserRole, mayAct, ROLES, type Role } from './role.js';
export type { SettingsBody, SettingsChange } from './setting.js';
export type { StateQuery } from './state.js';
export { type PagedCall, whole } from './whole.js';
export type {
  AppliedBody,
  ApplyOrder,
  ChangeBody,
  ChangesBody,
  LastChange,
  OverwrittenBody,
  ReadingBody,
  WorkspaceBody,
  WorkspaceFile,
} from './workspace.js';
