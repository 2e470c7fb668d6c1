import type { Report } from '@jade-fence/core/replay';
import type { AuditPage, AuditQuery, AuditVerdictBody } from './audit.js';
import type { CatalogueMerge, CatalogueMergedBody } from './catalogue.js';
import type { ChecksBody, ChecksQuery, Expectation } from './check.js';
import type { ChangesPage, ChangesQuery, ComparisonBody, ComparisonQuery } from './comparison.js';
import type { CountryDataBody, CountryDataQuery, CountryOfBody } from './country.js';
import type { ExplainedGivenBody, ExplainedJudgedBody, ExplanationOrder } from './explanation.js';
import type { FeedBody, FeedOrder, FeedsPage } from './feed.js';
import type { ImportBody, ImportQuery, ImportsPage } from './import.js';
import type {
  EntriesChange,
  EntriesChanged,
  EntriesImported,
  EntriesImportQuery,
  EntriesPage,
  EntriesQuery,
  ListBody,
  ListQuery,
  OverlapBody,
  OverlapQuery,
} from './list.js';
import type { DecisionsPage, DecisionsQuery, LiveBody, PasscodesPage, UsageBody, UsageQuery } from './live.js';
import type {
  LogBody,
  LogsPage,
  MappingBody,
  MappingOrder,
  MappingPreviewBody,
  MappingPreviewOrder,
  MappingsPage,
  RejectedPage,
} from './log.js';
import type { EffectiveBody, EffectiveQuery, LookUpBody, LookUpQuery } from './look-up.js';
import type { NoticeBody } from './notice.js';
import type { ObjectBody, ObjectsPage, ObjectText, UsersBody, VersionsPage } from './object.js';
import type { NamedPageQuery, PageQuery } from './page.js';
import type {
  MeBody,
  NewPerson,
  NewToken,
  PasswordChange,
  PeoplePage,
  PersonBody,
  PersonChange,
  SessionsPage,
  SignIn,
  TokenBody,
  TokensPage,
  TokensQuery,
} from './people.js';
import type { AllowedBody, AllowOrder, PolicyBody } from './policy.js';
import type {
  EvidenceBody,
  EvidenceQuery,
  ExportQuery,
  FallBody,
  FilterQuery,
  RedactQuery,
  ReplayBody,
  ReplayOrder,
  ReplaysPage,
  ReplaysQuery,
  RequestsPage,
  RequestsQuery,
  SumBody,
} from './replay.js';
import type {
  ResolutionFileQuery,
  ResolutionLoadBody,
  ResolutionLoadsPage,
  ResolutionsBody,
  ResolveBody,
  ResolveOrder,
  ResolvesPage,
} from './resolution.js';
import type { ReviewBody } from './review.js';
import type {
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
  Restoring,
  RevisionBody,
  RevisionsPage,
} from './revision.js';
import type { Role } from './role.js';
import type { SettingsBody, SettingsChange } from './setting.js';
import type { AppliedBody, ApplyOrder, ReadingBody, WorkspaceBody, WorkspaceFile } from './workspace.js';

/**
 * Every call of the API, by its method and its path below `API`: what it takes beside the parameters of its path (`query`,
 * a `body` in JSON, a `file`, the `version` of what it changes), and what comes back where all goes well: an `answer` in
 * JSON, a `download`, `events` each of which is such a body, or nothing.
 */
export interface Calls {
  'POST /session': { body: SignIn; answer: MeBody & { readonly expiresAt: string } };
  'DELETE /session': object;
  'GET /me': { answer: MeBody };
  'PUT /me/password': { body: PasswordChange };
  'GET /me/sessions': { query: PageQuery; answer: SessionsPage };
  'DELETE /me/sessions': object;
  'DELETE /me/sessions/:id': object;

  'GET /people': { query: NamedPageQuery; answer: PeoplePage };
  'POST /people': { body: NewPerson; answer: PersonBody };
  'PATCH /people/:name': { body: PersonChange; answer: PersonBody };
  'DELETE /people/:name': object;
  'GET /tokens': { query: TokensQuery; answer: TokensPage };
  'POST /tokens': { body: NewToken; answer: TokenBody };
  'DELETE /tokens/:id': object;
  'GET /settings': { answer: SettingsBody };
  'PATCH /settings': { body: SettingsChange; answer: SettingsBody };
  'GET /settings/alert-secret': { answer: { readonly secret: string } };
  'GET /audit': { query: AuditQuery; answer: AuditPage };
  'GET /audit.csv': { query: AuditQuery; download: true };
  'GET /audit.jsonl': { query: AuditQuery; download: true };
  'GET /audit/verify': { query: { readonly head?: string }; answer: AuditVerdictBody };

  'GET /workspace': { answer: WorkspaceBody };
  'PUT /workspace': { body: ApplyOrder; answer: AppliedBody };
  'POST /workspace/reading': { body: { readonly files: readonly WorkspaceFile[] }; answer: ReadingBody };
  'GET /workspace/schema.json': { download: true };
  'GET /policies/:name': { answer: PolicyBody };
  'POST /policies/:name/allow': { body: AllowOrder; answer: AllowedBody };
  'GET /objects': { query: NamedPageQuery; answer: ObjectsPage };
  'GET /objects/:kind/:name': { answer: ObjectBody };
  'PUT /objects/:kind/:name': { version: true; body: ObjectText; answer: ObjectBody };
  'DELETE /objects/:kind/:name': { version: true };
  'GET /objects/:kind/:name/users': { answer: UsersBody };
  'GET /objects/:kind/:name/versions': { query: PageQuery; answer: VersionsPage };
  'GET /objects/:kind/:name/versions/:number': { answer: ObjectBody };
  'GET /lists/:name': { query: ListQuery; answer: ListBody };
  'GET /lists/:name/entries': { query: EntriesQuery; answer: EntriesPage };
  'PATCH /lists/:name/entries': { body: EntriesChange; answer: EntriesChanged };
  'PUT /lists/:name/entries': { query: EntriesImportQuery; file: true; answer: EntriesImported };
  'GET /lists/:name/overlap': { query: OverlapQuery; answer: OverlapBody };
  'GET /feeds': { query: NamedPageQuery; answer: FeedsPage };
  'GET /feeds/:list': { answer: FeedBody };
  'PUT /feeds/:list': { body: FeedOrder; answer: FeedBody };
  'DELETE /feeds/:list': object;
  'POST /feeds/:list/refresh': { answer: FeedBody };
  'GET /catalogue/category.csv': { download: true };
  'GET /catalogue/category.yaml': { download: true };
  'POST /catalogue/category': { body: CatalogueMerge; answer: CatalogueMergedBody };
  'GET /catalogue/application.csv': { download: true };
  'GET /catalogue/application.yaml': { download: true };
  'POST /catalogue/application': { body: CatalogueMerge; answer: CatalogueMergedBody };
  'GET /country-data': { answer: CountryDataBody | null };
  'PUT /country-data': { query: CountryDataQuery; file: true; answer: CountryDataBody };
  'GET /country-data/:address': { answer: CountryOfBody };
  'GET /resolutions': { answer: ResolutionsBody };
  'GET /resolutions/loads': { query: PageQuery; answer: ResolutionLoadsPage };
  'POST /resolutions/loads': { query: ResolutionFileQuery; file: true; answer: ResolutionLoadBody };
  'GET /resolves': { query: PageQuery; answer: ResolvesPage };
  'POST /resolves': { body: ResolveOrder; answer: ResolveBody };
  'GET /resolves/:id': { answer: ResolveBody };
  'GET /resolves/:id/progress': { events: ResolveBody };
  'POST /resolves/:id/cancel': { answer: ResolveBody };

  'GET /draft': { answer: DraftBody };
  'POST /draft/discard': { body: Discarding; answer: DraftChanged };
  'POST /draft/restore': { body: Restoring; answer: DraftChanged };
  'GET /differences': { query: DifferenceQuery; answer: DifferenceBody };
  'GET /revisions': { query: PageQuery; answer: RevisionsPage };
  'POST /revisions': { body: Publishing; answer: RevisionBody };
  'GET /revisions/:number': { answer: RevisionBody & { readonly contents: readonly ObjectBody[] } };
  'GET /proposals': { query: PageQuery; answer: ProposalsPage };
  'POST /proposals': { body: Proposing; answer: ProposalBody };
  'GET /proposals/:id/differences': { answer: DifferenceBody };
  'POST /proposals/:id/approve': { body: Approval; answer: RevisionBody };
  'POST /proposals/:id/withdraw': { answer: ProposalBody };
  'GET /review': { answer: ReviewBody };
  'GET /checks': { query: ChecksQuery; answer: ChecksBody };
  'POST /replays/:id/requests/:number/check': {
    body: Expectation;
    answer: { readonly check: ObjectBody; readonly probe: string };
  };

  'GET /effective': { query: EffectiveQuery; answer: EffectiveBody };
  'GET /look-up': { query: LookUpQuery; answer: LookUpBody };
  'POST /explanations': { body: ExplanationOrder; answer: ExplainedGivenBody };
  'GET /notices/:name': { answer: NoticeBody };
  'GET /live': { answer: LiveBody };
  'GET /usage': { query: UsageQuery; answer: UsageBody };
  'GET /decisions': { query: DecisionsQuery; answer: DecisionsPage };
  'GET /passcodes': { query: NamedPageQuery; answer: PasscodesPage };
  'PUT /passcodes/:name': { body: { readonly passcode: string } };
  'POST /grants/end': object;

  'GET /logs': { query: NamedPageQuery; answer: LogsPage };
  'POST /logs': { query: ImportQuery; file: true; answer: LogBody | ImportBody };
  'GET /logs/:name': { answer: LogBody };
  'DELETE /logs/:name': object;
  'GET /logs/:name/rejected': { query: PageQuery; answer: RejectedPage };
  'GET /logs/:name/rejected.jsonl': { download: true };
  'GET /imports': { query: PageQuery; answer: ImportsPage };
  'GET /imports/:id': { answer: ImportBody };
  'GET /imports/:id/progress': { events: ImportBody };
  'POST /imports/:id/cancel': { answer: ImportBody };
  'GET /mappings': { query: NamedPageQuery; answer: MappingsPage };
  'GET /mappings/:name': { answer: MappingBody };
  'POST /mappings/preview': { body: MappingPreviewOrder; answer: MappingPreviewBody };
  'PUT /mappings/:name': { body: MappingOrder; answer: MappingBody };
  'DELETE /mappings/:name': object;

  'GET /replays': { query: ReplaysQuery; answer: ReplaysPage };
  'POST /replays': { body: ReplayOrder; answer: ReplayBody };
  'GET /replays/:id': { answer: ReplayBody };
  'DELETE /replays/:id': object;
  'GET /replays/:id/progress': { events: ReplayBody };
  'POST /replays/:id/cancel': { answer: ReplayBody };
  'GET /replays/:id/report': { query: RedactQuery; answer: Report };
  'GET /replays/:id/report.html': { query: RedactQuery; download: true };
  'GET /replays/:id/report.md': { query: RedactQuery; download: true };
  'GET /replays/:id/requests': { query: RequestsQuery; answer: RequestsPage };
  'GET /replays/:id/requests/:number': { query: RedactQuery; answer: ExplainedJudgedBody };
  'GET /replays/:id/export': { query: ExportQuery; download: true };
  'GET /replays/:id/fall': { query: FilterQuery; answer: FallBody };
  'GET /replays/:id/sum': { query: FilterQuery; answer: SumBody };
  'GET /replays/:id/evidence': { query: EvidenceQuery; answer: EvidenceBody };
  'GET /replays/:id/comparison': { query: ComparisonQuery; answer: ComparisonBody };
  'GET /replays/:id/comparison/requests': { query: ChangesQuery; answer: ChangesPage };

  'GET /openapi.json': { download: true };
  'GET /metrics': { download: true };
}

export type CallName = keyof Calls;

/** Who may make a call: people of this role and those that may do more, or anyone without signing in. */
export const MAY_CALL: Readonly<Record<CallName, Role | 'anyone'>> = {
  'POST /session': 'anyone',
  'DELETE /session': 'anyone',
  'GET /me': 'viewer',
  'PUT /me/password': 'viewer',
  'GET /me/sessions': 'viewer',
  'DELETE /me/sessions': 'viewer',
  'DELETE /me/sessions/:id': 'viewer',

  'GET /people': 'administrator',
  'POST /people': 'administrator',
  'PATCH /people/:name': 'administrator',
  'DELETE /people/:name': 'administrator',
  'GET /tokens': 'viewer',
  'POST /tokens': 'viewer',
  'DELETE /tokens/:id': 'viewer',
  'GET /settings': 'viewer',
  'PATCH /settings': 'administrator',
  'GET /settings/alert-secret': 'administrator',
  'GET /audit': 'publisher',
  'GET /audit.csv': 'publisher',
  'GET /audit.jsonl': 'publisher',
  'GET /audit/verify': 'publisher',

  'GET /workspace': 'viewer',
  'PUT /workspace': 'editor',
  'POST /workspace/reading': 'viewer',
  'GET /workspace/schema.json': 'viewer',
  'GET /policies/:name': 'viewer',
  'POST /policies/:name/allow': 'editor',
  'GET /objects': 'viewer',
  'GET /objects/:kind/:name': 'viewer',
  'PUT /objects/:kind/:name': 'editor',
  'DELETE /objects/:kind/:name': 'editor',
  'GET /objects/:kind/:name/users': 'viewer',
  'GET /objects/:kind/:name/versions': 'viewer',
  'GET /objects/:kind/:name/versions/:number': 'viewer',
  'GET /lists/:name': 'viewer',
  'GET /lists/:name/entries': 'viewer',
  'PATCH /lists/:name/entries': 'editor',
  'PUT /lists/:name/entries': 'editor',
  'GET /lists/:name/overlap': 'viewer',
  'GET /feeds': 'viewer',
  'GET /feeds/:list': 'viewer',
  'PUT /feeds/:list': 'editor',
  'DELETE /feeds/:list': 'editor',
  'POST /feeds/:list/refresh': 'editor',
  'GET /catalogue/category.csv': 'viewer',
  'GET /catalogue/category.yaml': 'viewer',
  'POST /catalogue/category': 'editor',
  'GET /catalogue/application.csv': 'viewer',
  'GET /catalogue/application.yaml': 'viewer',
  'POST /catalogue/application': 'editor',
  'GET /country-data': 'viewer',
  'PUT /country-data': 'editor',
  'GET /country-data/:address': 'viewer',
  'GET /resolutions': 'viewer',
  'GET /resolutions/loads': 'viewer',
  // In force at once, for what is published too.
  'POST /resolutions/loads': 'administrator',
  'GET /resolves': 'viewer',
  'POST /resolves': 'publisher',
  'GET /resolves/:id': 'viewer',
  'GET /resolves/:id/progress': 'viewer',
  'POST /resolves/:id/cancel': 'publisher',

  'GET /draft': 'viewer',
  'POST /draft/discard': 'editor',
  'POST /draft/restore': 'editor',
  'GET /differences': 'viewer',
  'GET /revisions': 'viewer',
  'POST /revisions': 'publisher',
  'GET /revisions/:number': 'viewer',
  'GET /proposals': 'viewer',
  'POST /proposals': 'editor',
  'GET /proposals/:id/differences': 'viewer',
  'POST /proposals/:id/approve': 'publisher',
  'POST /proposals/:id/withdraw': 'editor',
  'GET /review': 'viewer',
  'GET /checks': 'viewer',
  'POST /replays/:id/requests/:number/check': 'editor',

  'GET /effective': 'viewer',
  'GET /look-up': 'viewer',
  'POST /explanations': 'viewer',
  'GET /notices/:name': 'viewer',
  'GET /live': 'viewer',
  'GET /usage': 'viewer',
  'GET /decisions': 'viewer',
  'GET /passcodes': 'viewer',
  'PUT /passcodes/:name': 'publisher',
  'POST /grants/end': 'administrator',

  'GET /logs': 'viewer',
  'POST /logs': 'editor',
  'GET /logs/:name': 'viewer',
  'DELETE /logs/:name': 'editor',
  'GET /logs/:name/rejected': 'viewer',
  'GET /logs/:name/rejected.jsonl': 'viewer',
  'GET /imports': 'viewer',
  'GET /imports/:id': 'viewer',
  'GET /imports/:id/progress': 'viewer',
  'POST /imports/:id/cancel': 'editor',
  'GET /mappings': 'viewer',
  'GET /mappings/:name': 'viewer',
  'POST /mappings/preview': 'viewer',
  'PUT /mappings/:name': 'editor',
  'DELETE /mappings/:name': 'editor',

  'GET /replays': 'viewer',
  'POST /replays': 'editor',
  'GET /replays/:id': 'viewer',
  'DELETE /replays/:id': 'editor',
  'GET /replays/:id/progress': 'viewer',
  'POST /replays/:id/cancel': 'editor',
  'GET /replays/:id/report': 'viewer',
  'GET /replays/:id/report.html': 'viewer',
  'GET /replays/:id/report.md': 'viewer',
  'GET /replays/:id/requests': 'viewer',
  'GET /replays/:id/requests/:number': 'viewer',
  'GET /replays/:id/export': 'viewer',
  'GET /replays/:id/fall': 'viewer',
  'GET /replays/:id/sum': 'viewer',
  'GET /replays/:id/evidence': 'viewer',
  'GET /replays/:id/comparison': 'viewer',
  'GET /replays/:id/comparison/requests': 'viewer',

  'GET /openapi.json': 'viewer',
  'GET /metrics': 'viewer',
};
