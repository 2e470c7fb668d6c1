/*
 * What travels between the service and those who call it. Times are RFC 3339 in UTC.
 */

export type { AnswerOf, Answers } from './answers.js';
export type { AuditBody, AuditPage, AuditVerdictBody } from './audit.js';
export type { CatalogueMergedBody } from './catalogue.js';
export type { ChecksBody } from './check.js';
export type { ChangedBody, ChangesPage, ComparisonBody, OfBoth } from './comparison.js';
export type { CountryDataBody, CountryOfBody } from './country.js';
export type { ExplainedBody, ExplainedGivenBody, ExplainedJudgedBody, NoticeBody } from './explanation.js';
export type { FeedBody, FeedOutcome } from './feed.js';
export type { ImportBody, ImportFailureBody } from './import.js';
export { hasEnded, JOB_STATES, type JobState } from './job.js';
export type { EntriesChanged, EntriesImported, EntriesPage, EntryBody, ListBody, ListSummary } from './list.js';
export type { DecisionsPage, LiveBody, RecordedBody, RuleCount } from './live.js';
export type { LogBody, MappingBody, RejectedPage, UnreadableBody } from './log.js';
export type { EffectiveBody, LookUpBody } from './look-up.js';
export type { ObjectBody, StoredBody, UsersBody, VersionBody } from './object.js';
export type { MeBody, PersonBody, SessionBody, SessionsBody, TokenBody } from './people.js';
export type { AllowedBody, PolicyBody, PolicySummary, RuleBody } from './policy.js';
export { PURPOSES, type Purpose } from './purpose.js';
export type { EvidenceBody, FallBody, OfReplay, ReplayBody, RequestsPage } from './replay.js';
export type { JudgedBody, RequestBody } from './request.js';
export type { ReviewBody } from './review.js';
export type { DifferenceBody, DraftBody, ProposalBody, Readiness, RevisionBody } from './revision.js';
export { lesserRole, mayAct, ROLES, type Role } from './role.js';
export type { SettingsBody } from './setting.js';
export type { AppliedBody, ChangeBody, ChangesBody, OverwrittenBody, ReadingBody, WorkspaceBody } from './workspace.js';
