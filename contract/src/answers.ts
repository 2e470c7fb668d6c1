import type { Overlap, Report } from '@jade-fence/core';
import type { AuditPage, AuditVerdictBody } from './audit.js';
import type { CatalogueMergedBody } from './catalogue.js';
import type { ChecksBody } from './check.js';
import type { ChangesPage, ComparisonBody } from './comparison.js';
import type { CountryDataBody, CountryOfBody } from './country.js';
import type { ExplainedGivenBody, ExplainedJudgedBody, NoticeBody } from './explanation.js';
import type { FeedBody } from './feed.js';
import type { ImportBody } from './import.js';
import type { EntriesChanged, EntriesImported, EntriesPage, ListBody } from './list.js';
import type { DecisionsPage, LiveBody } from './live.js';
import type { LogBody, MappingBody, RejectedPage } from './log.js';
import type { EffectiveBody, LookUpBody } from './look-up.js';
import type { ObjectBody, UsersBody, VersionBody } from './object.js';
import type { MeBody, PersonBody, SessionsBody, TokenBody } from './people.js';
import type { AllowedBody, PolicyBody } from './policy.js';
import type { EvidenceBody, FallBody, ReplayBody, RequestsPage } from './replay.js';
import type { ReviewBody } from './review.js';
import type { DifferenceBody, DraftBody, ProposalBody, RevisionBody } from './revision.js';
import type { SettingsBody } from './setting.js';
import type { AppliedBody, ChangeBody, ReadingBody, WorkspaceBody } from './workspace.js';

/**
 * What each call below `/api` answers in JSON where all goes well, by its method and path. Calls that answer with a file,
 * a stream, or nothing are not among them.
 */
export interface Answers {
  'POST /session': MeBody & { readonly expiresAt: string };
  'GET /me': MeBody;
  'GET /me/sessions': SessionsBody;
  'GET /people': { readonly people: readonly PersonBody[] };
  'POST /people': PersonBody;
  'PATCH /people/:name': PersonBody;
  'GET /tokens': { readonly tokens: readonly TokenBody[] };
  'POST /tokens': TokenBody;
  'GET /settings': SettingsBody;
  'PATCH /settings': SettingsBody;
  'GET /settings/alert-secret': { readonly secret: string };
  'GET /audit': AuditPage;
  'GET /audit/verify': AuditVerdictBody;

  'GET /workspace': WorkspaceBody;
  'PUT /workspace': AppliedBody;
  'POST /workspace/reading': ReadingBody;
  'GET /policies/:name': PolicyBody;
  'POST /policies/:name/allow': AllowedBody;
  'GET /objects': { readonly objects: readonly ObjectBody[] };
  'GET /objects/:kind/:name': ObjectBody;
  'PUT /objects/:kind/:name': ObjectBody;
  'GET /objects/:kind/:name/users': UsersBody;
  'GET /objects/:kind/:name/versions': { readonly versions: readonly VersionBody[] };
  'GET /objects/:kind/:name/versions/:number': ObjectBody;
  'GET /lists/:name': ListBody;
  'GET /lists/:name/entries': EntriesPage;
  'PATCH /lists/:name/entries': EntriesChanged;
  'PUT /lists/:name/entries': EntriesImported;
  'GET /lists/:name/overlap': Overlap & { readonly list: string; readonly with: string | null };
  'GET /feeds': { readonly feeds: readonly FeedBody[]; readonly folder: string };
  'GET /feeds/:list': FeedBody;
  'PUT /feeds/:list': FeedBody;
  'POST /feeds/:list/refresh': FeedBody;
  'POST /catalogue/category': CatalogueMergedBody;
  'POST /catalogue/application': CatalogueMergedBody;
  'GET /country-data': CountryDataBody | null;
  'PUT /country-data': CountryDataBody;
  'GET /country-data/:address': CountryOfBody;

  'GET /draft': DraftBody;
  'POST /draft/discard': { readonly changes: readonly ChangeBody[] };
  'POST /draft/restore': { readonly changes: readonly ChangeBody[] };
  'GET /differences': DifferenceBody;
  'GET /revisions': { readonly revisions: readonly RevisionBody[] };
  'GET /revisions/:number': RevisionBody & { readonly contents: readonly ObjectBody[] };
  'POST /revisions': RevisionBody;
  'GET /proposals': { readonly proposals: readonly ProposalBody[] };
  'POST /proposals': ProposalBody;
  'GET /proposals/:id/differences': DifferenceBody;
  'POST /proposals/:id/approve': RevisionBody;
  'POST /proposals/:id/withdraw': ProposalBody;
  'GET /review': ReviewBody;
  'GET /checks': ChecksBody;
  'POST /replays/:id/requests/:number/check': { readonly check: ObjectBody; readonly probe: string };

  'GET /effective': EffectiveBody;
  'GET /look-up': LookUpBody;
  'POST /explanations': ExplainedGivenBody;
  'GET /notices/:name': NoticeBody;
  'GET /live': LiveBody;
  'GET /decisions': DecisionsPage;
  'GET /passcodes': { readonly passcodes: readonly string[] };

  'GET /logs': { readonly logs: readonly LogBody[] };
  'POST /logs': LogBody | ImportBody;
  'GET /logs/:name': LogBody;
  'GET /logs/:name/rejected': RejectedPage;
  'GET /imports': { readonly imports: readonly ImportBody[] };
  'GET /imports/:id': ImportBody;
  'POST /imports/:id/cancel': ImportBody;
  'GET /mappings': { readonly mappings: readonly MappingBody[] };
  'GET /mappings/:name': MappingBody;
  'PUT /mappings/:name': MappingBody;

  'GET /replays': { readonly replays: readonly ReplayBody[] };
  'POST /replays': ReplayBody;
  'GET /replays/:id': ReplayBody;
  'POST /replays/:id/cancel': ReplayBody;
  'GET /replays/:id/report': Report;
  'GET /replays/:id/requests': RequestsPage;
  'GET /replays/:id/requests/:number': ExplainedJudgedBody;
  'GET /replays/:id/fall': FallBody;
  'GET /replays/:id/evidence': EvidenceBody;
  'GET /replays/:id/comparison': ComparisonBody;
  'GET /replays/:id/comparison/requests': ChangesPage;
}

/** The answer of a call; `unknown` where it answers no JSON of ours. */
export type AnswerOf<M extends string, P extends string> = `${Uppercase<M>} ${P}` extends keyof Answers
  ? Answers[`${Uppercase<M>} ${P}`]
  : unknown;
